/** Sessions of other machines that are found by name. The network is listened to in a thread of its own, so that nothing that comes from there delays or ends the engine. */
import { Worker } from 'node:worker_threads';
import type { FoundSession } from '@tawny-signal/core/live/line-state';
import { createTimers, waitBefore } from '../retry.js';

/** What a thread is told at its start. */
export interface FinderTask {
  /** The name under which the session is announced. */
  name: string;
  /** The first port of its pair. */
  port: number;
  /** The address that it is bound to. */
  host: string;
  /** The names of sessions that it calls. */
  called: readonly string[];
}

export type FromFinder =
  | { t: 'found'; found: FoundSession[] }
  /** Null: it works again. */
  | { t: 'trouble'; words: string | null };

export interface FinderListener {
  found(found: FoundSession[]): void;
  /** Why nothing is found, or announced, in words; null if all is well. */
  trouble(words: string | null): void;
}

export interface Finder {
  /** Says on the network that the session is gone. */
  close(): Promise<void>;
}

/** Says why names do not work. @param code of the error of the system, or its words */
export const noNames = (host: string, code: string | undefined): string =>
  `Sessions can’t be found by name at ${host} (${code || 'unknown'}): UDP port 5353 may be in use, or this network may not carry multicast. Addresses work as before.`;

/** Room for the thread, in MB. What is announced on a network needs a small part of it. */
const ROOM_MB = 64;
/** A goodbye takes no longer. */
const LONGEST_CLOSE_MS = 1000;

/** @param thread the program of the thread; tests have their own */
export function openFinder(
  task: FinderTask,
  listener: FinderListener,
  thread = new URL('./finder-thread.js', import.meta.url),
): Finder {
  const timers = createTimers();
  let worker: Worker | null = null;
  let closing = false;

  function start(tries: number): void {
    const started = new Worker(thread, {
      workerData: task,
      resourceLimits: { maxOldGenerationSizeMb: ROOM_MB },
    });
    worker = started;
    started.on('message', (message: FromFinder) => {
      if (closing) return;
      if (message.t === 'found') listener.found(message.found);
      else listener.trouble(message.words);
    });
    let why = '';
    started.on('error', (error: NodeJS.ErrnoException) => (why = error.code ?? error.message));
    started.on('exit', () => {
      worker = null;
      if (closing) return;
      listener.trouble(noNames(task.host, why));
      timers.later(waitBefore(tries), () => start(tries + 1));
    });
  }

  start(0);
  return {
    close: () =>
      new Promise((done) => {
        closing = true;
        timers.stop();
        if (!worker) return done();
        const ending = worker;
        const late = setTimeout(() => void ending.terminate(), LONGEST_CLOSE_MS);
        ending.once('exit', () => {
          clearTimeout(late);
          done();
        });
        ending.postMessage('close');
      }),
  };
}
