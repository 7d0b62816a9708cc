/**
 * A line with little traffic, in its own thread: asks the engine and a bare relay again and again, and measures how long each answer takes.
 * Plain JavaScript, so that it runs as it is in a worker.
 */
import { Buffer } from 'node:buffer';
import { createSocket } from 'node:dgram';
import { performance } from 'node:perf_hooks';
import { setInterval, setTimeout } from 'node:timers';
import { parentPort, workerData } from 'node:worker_threads';

/** `ports`: of the engine and of the relay; `answers`: where both answer, the engine with /calm before the address. */
const { ports, answers, everyMs } = workerData;
const far = createSocket('udp4');
const near = createSocket('udp4');
const sentAt = new Map();
const waits = { engine: [], relay: [] };
const came = { engine: false, relay: false };
let said = false;
let count = 0;

far.on('message', (bytes) => {
  const found = /^(\/calm)?\/(\d+)/.exec(bytes.toString('latin1'));
  if (!found) return;
  const by = found[1] ? 'engine' : 'relay';
  if (said) waits[by].push(performance.now() - sentAt.get(found[2]));
  came[by] = true;
  if (said || !came.engine || !came.relay) return;
  said = true;
  parentPort.postMessage('passes');
});

function ask() {
  const name = String(count++);
  const address = `/${name}${'\0'.repeat(4 - ((name.length + 1) % 4))}`;
  const bytes = Buffer.from(`${address},\0\0\0`, 'latin1');
  sentAt.set(name, performance.now());
  near.send(bytes, ports[count % 2], '127.0.0.1');
}

far.bind(answers, '127.0.0.1', () => setInterval(ask, everyMs));
parentPort.on('message', () =>
  setTimeout(() => {
    parentPort.postMessage({ ...waits, asked: count });
    process.exit(0);
  }, 1000),
);
