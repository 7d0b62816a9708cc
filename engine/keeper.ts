/** Passes the state for a restart to a thread that writes it, so that no signal waits for a disk. */
import { Worker } from 'node:worker_threads';
import type { KeptLive } from './kept-state.js';
import type { Keeper } from './outside.js';

export type ToKeeper =
  /** Reads the files. */
  | { t: 'begin' }
  /** The server's message with rows of a show, in JSON. */
  | { t: 'rows'; json: string }
  /** The server's message with a show, in JSON. */
  | { t: 'show'; json: string }
  /** The server's message with an edit, in JSON. */
  | { t: 'ops'; json: string }
  | { t: 'live'; live: KeptLive }
  /** Writes what is still waiting, and ends. */
  | { t: 'close' };

export interface RunningKeeper extends Keeper {
  /** Starts from the current files. */
  begin(): void;
  /** Resolves when everything is written. */
  close(): Promise<void>;
}

/** @param folder of the files. @param failed is told each new reason in words; null when writing works again */
export function startKeeper(folder: string, failed: (why: string | null) => void): RunningKeeper {
  const worker = new Worker(new URL('./keeper-thread.js', import.meta.url), { workerData: folder });
  const say = (message: ToKeeper): void => worker.postMessage(message);
  worker.on('message', failed);
  worker.on('error', (error) => failed(String(error)));
  return {
    begin: () => say({ t: 'begin' }),
    rows: (json) => say({ t: 'rows', json }),
    show: (json) => say({ t: 'show', json }),
    ops: (json) => say({ t: 'ops', json }),
    live: (live) => say({ t: 'live', live }),
    close: () =>
      new Promise((done) => {
        worker.once('exit', () => done());
        say({ t: 'close' });
      }),
  };
}
