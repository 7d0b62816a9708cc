/**
 * A bare relay, which the engine is compared with. It receives UDP packets and sends them on, in a worker thread, and does nothing else. It is plain
 * JavaScript, so that a worker can run it as it is.
 */
import { createSocket } from 'node:dgram';
import { parentPort, workerData } from 'node:worker_threads';

const out = createSocket('udp4');
const into = createSocket('udp4');
out.connect(workerData.target, '127.0.0.1', () => {
  into.on('message', (bytes) => out.send(bytes));
  into.bind({ port: 0, address: '127.0.0.1' }, () => parentPort.postMessage(into.address().port));
});
