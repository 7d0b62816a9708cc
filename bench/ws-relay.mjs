/**
 * A bare relay, to compare the way of a browser's MIDI with. It takes messages by WebSocket, sends them on by UDP, and does nothing else. It runs in a
 * worker thread.
 * Plain JavaScript, so that it runs as it is in a worker.
 */
import { createSocket } from 'node:dgram';
import { parentPort, workerData } from 'node:worker_threads';
import { WebSocketServer } from 'ws';

const out = createSocket('udp4');
out.connect(workerData.target, '127.0.0.1', () => {
  const server = new WebSocketServer({ port: 0, host: '127.0.0.1' }, () =>
    parentPort.postMessage(server.address().port),
  );
  server.on('connection', (socket) => socket.on('message', (bytes) => out.send(bytes)));
});
