/** A thread that dies the first time that it runs in a folder, and says at the second that all is well. */
import { existsSync, writeFileSync } from 'node:fs';
import { parentPort, workerData } from 'node:worker_threads';

const mark = workerData.name;
if (existsSync(mark)) {
  parentPort.postMessage({ t: 'trouble', words: null });
  parentPort.postMessage({ t: 'found', found: [{ name: 'Quay', host: '10.0.0.4', port: 5004 }] });
  parentPort.on('message', () => process.exit(0));
} else {
  writeFileSync(mark, '');
  throw Object.assign(new Error('in use'), { code: 'EADDRINUSE' });
}
