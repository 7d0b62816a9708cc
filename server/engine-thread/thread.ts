/** Where the engine thread begins. */
import { parentPort } from 'node:worker_threads';
import type { FromThread, ToThread } from './messages.js';
import { createSwitchboard } from './switchboard.js';

if (!parentPort) throw new Error('thread.ts runs as a worker thread only');
const port = parentPort;
const switchboard = createSwitchboard((message, transfer) => port.postMessage(message, transfer ?? []));
port.on('message', (message: ToThread) => switchboard.take(message));
port.postMessage({ t: 'ready' } satisfies FromThread);
