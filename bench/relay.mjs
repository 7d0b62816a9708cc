/**
 * The bare relay to compare the engine with: UDP in, UDP out, in a worker thread, and nothing else. Plain JavaScript, so that a worker can run it.
 */
import { createSocket } from 'node:dgram';
import { parentPort, workerData } from 'node:worker_threads';

const out = createSocket('udp4');
const into = createSocket('udp4');
out.connect(workerData.target, '127.0.0.1', () => {
  into.on('message', (bytes) => out.send(bytes));
  into.bind({ port: 0, address: '127.0.0.1' }, () => parentPort.postMessage(into.address().port));
});
