/**
 * Keeps an engine running. A spare engine is loaded in advance, so that a dead one is replaced at once. The ledger of what sounds is kept here, where
 * it survives the engine: the next engine gets it, and releases everything first.
 */
import type { ChildProcess } from 'node:child_process';
import { createInterface } from 'node:readline';
import type { Readable } from 'node:stream';
import { openLog } from './logs.js';
import { createPatience, type Watched } from './patience.js';
import { endProgram, startProgram, type Kept, type Listening, type Program } from './program.js';

/** After each round of this length it is asked whether the engine hangs. */
const ROUND_MS = 2000;
/** An engine that ends sooner than this has failed at once. The next one starts after a delay, which grows with each failure. */
const SHORT_MS = 2000;
const LONGEST_WAIT_MS = 2000;
/** The file descriptor of the pipe of the ledger. Node uses 3 itself. */
const LEDGER_FD = 4;

/** The garbage collector stops the engine often and for a short time, and not seldom for 20 ms: memory for new objects is small, in MB. */
const SHORT_COLLECTIONS = '--max-semi-space-size=4';

/** An entry of the ledger as the engine wrote it: the line, the key, and the bytes that release it. */
type Entry = [lineId: string, key: string, releases?: string[]];

/**
 * @param died called with the reason when the engine has died
 * @param roundMs how often it is asked whether it hangs (scripts/patience)
 */
export function keepEngine(program: Program, died: (how: string) => void, roundMs = ROUND_MS): Kept {
  const log = openLog(program.log);
  const ledger = new Map<string, Entry>();
  let active: ChildProcess | null = null;
  let spare: ChildProcess | null = null;
  let stopping = false;
  let failures = 0;
  const patience = createPatience();
  const watched = new WeakMap<ChildProcess, Watched>();
  let heard!: (how: Listening) => void;
  const listening = new Promise<Listening>((done) => (heard = done));

  function load(): ChildProcess {
    const env = { ...program.env, TAWNY_LEDGER_FD: String(LEDGER_FD) };
    const child = startProgram({ ...program, env, options: [SHORT_COLLECTIONS] }, ['pipe']);
    log.take(child);
    const one = patience.watch();
    watched.set(child, one);
    child.on('message', () => one.heard());
    return child;
  }

  /** Reads the ledger from the engine. @returns a promise that resolves when everything was read */
  function follow(child: ChildProcess): Promise<void> {
    const lines = createInterface({ input: child.stdio[LEDGER_FD] as Readable });
    lines.on('line', (line) => {
      const entry = JSON.parse(line) as Entry;
      const name = `${entry[0]} ${entry[1]}`;
      if (entry[2]) ledger.set(name, entry);
      else ledger.delete(name);
    });
    return new Promise((done) => lines.on('close', done));
  }

  /** Kills an engine that hangs. */
  function watch(child: ChildProcess): () => void {
    const timer = setInterval(() => {
      if (watched.get(child)!.round()) child.kill('SIGKILL');
    }, roundMs);
    return () => clearInterval(timer);
  }

  function begin(): void {
    const child = spare ?? load();
    spare = null;
    active = child;
    const beganAt = performance.now();
    const known = follow(child);
    const unwatch = watch(child);
    child.on('message', (message: { t?: string }) => {
      if (message.t !== 'listening') return;
      heard({ port: 0, passphrases: {} });
      // Loading the spare engine must not delay the first one.
      if (!stopping && !spare) loadSpare();
    });
    child.once('exit', (code, signal) => {
      unwatch();
      active = null;
      if (stopping) return;
      died(signal ?? `code ${code}`);
      const short = performance.now() - beganAt < SHORT_MS;
      failures = short ? failures + 1 : 0;
      const wait = failures < 2 ? 0 : Math.min(LONGEST_WAIT_MS, 100 * 2 ** failures);
      void known.then(() => setTimeout(() => !stopping && begin(), wait));
    });
    child.send({ t: 'begin', owed: [...ledger.values()] });
  }

  function loadSpare(): void {
    const child = load();
    spare = child;
    child.once('exit', () => {
      if (spare === child) spare = null;
    });
  }

  begin();
  return {
    pid: () => active?.pid ?? null,
    listening,
    async stop() {
      stopping = true;
      await Promise.all([active, spare].flatMap((child) => (child ? [endProgram(child)] : [])));
      await log.close();
    },
  };
}
