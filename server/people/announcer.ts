/**
 * Announces the page on the network, so that a phone can find it by name. It is off until somebody switches it on. A separate thread listens to the
 * network, so that nothing that arrives there can delay or stop the server.
 */
import { isIPv4 } from 'node:net';
import { hostname } from 'node:os';
import { Worker } from 'node:worker_threads';

/** What the thread is given when it starts. */
export interface AnnounceTask {
  name: string;
  port: number;
  tls: boolean;
  /** IPv4. */
  addresses: string[];
}

export interface Announcer {
  set(wanted: boolean): void;
  /** The announced name, and what is wrong with the announcement, in words; null while nothing is announced. */
  announced(): { name: string; trouble: string | null } | null;
  /** Says on the network that it is gone. */
  close(): Promise<void>;
}

/** How often it checks whether the addresses have changed. */
const LOOK_MS = 2000;
/** The longest wait before a thread that died is started again. */
const LONGEST_WAIT_MS = 60_000;
/** The memory that the thread may use, in MB. */
const ROOM_MB = 64;
/** A thread that has not said goodbye by then is ended. */
const LONGEST_CLOSE_MS = 1000;

const wordsOf = (code: string, name: string): string =>
  code === 'taken'
    ? `Another machine is called “${name}” already.`
    : `The page can’t be announced (${code}): UDP port 5353 may be in use, or this network may not carry multicast. Its addresses work as before.`;

/** @param urls where the page is open. @param thread the program of the thread */
export function createAnnouncer(
  urls: () => { url: string; here: boolean }[],
  thread = new URL('./announcer-thread.js', import.meta.url),
): Announcer {
  const name = `Tawny Signal on ${hostname().split('.')[0]}`;
  let wanted = false;
  let worker: Worker | null = null;
  let announcing = '';
  /** How many times in a row the thread has died, and when it is started again; null while it runs. */
  let deaths = 0;
  let againAt: number | null = null;
  let trouble: string | null = null;

  /** What would be announced now; null for nothing. */
  function task(): AnnounceTask | null {
    const open = urls()
      .filter(({ here }) => !here)
      .map(({ url }) => new URL(url))
      .filter((url) => isIPv4(url.hostname));
    const [first] = open;
    if (!wanted || !first) return null;
    const tls = first.protocol === 'https:';
    const addresses = open.map((url) => url.hostname);
    return { name, port: Number(first.port || (tls ? 443 : 80)), tls, addresses };
  }

  function end(): Promise<void> {
    const ending = worker;
    worker = null;
    trouble = null;
    if (!ending) return Promise.resolve();
    return new Promise((done) => {
      const late = setTimeout(() => void ending.terminate(), LONGEST_CLOSE_MS);
      ending.once('exit', () => {
        clearTimeout(late);
        done();
      });
      ending.postMessage('close');
    });
  }

  function look(): void {
    const next = task();
    const key = JSON.stringify(next);
    const isDue = againAt !== null && performance.now() >= againAt;
    if (key === announcing && !isDue) return;
    if (key !== announcing) deaths = 0;
    announcing = key;
    againAt = null;
    void end();
    if (!next) return;
    const started = new Worker(thread, {
      workerData: next,
      resourceLimits: { maxOldGenerationSizeMb: ROOM_MB },
    });
    worker = started;
    const isMine = (): boolean => worker === started;
    started.on('message', (code: string) => isMine() && (trouble = wordsOf(code, name)));
    started.on('error', (error: NodeJS.ErrnoException) => {
      if (isMine()) trouble = wordsOf(error.code ?? error.message, name);
    });
    const startedAt = performance.now();
    started.on('exit', () => {
      if (!isMine()) return;
      worker = null;
      const now = performance.now();
      if (now - startedAt > LONGEST_WAIT_MS) deaths = 0;
      againAt = now + Math.min(LONGEST_WAIT_MS, LOOK_MS * 2 ** deaths++);
    });
  }

  const looking = setInterval(look, LOOK_MS).unref();
  return {
    set(next) {
      wanted = next;
      look();
    },
    announced: () => (announcing === '' || announcing === 'null' ? null : { name, trouble }),
    close() {
      clearInterval(looking);
      return end();
    },
  };
}
