/**
 * Keeps an engine running. A spare one is loaded beside it, so that what dies is replaced in a moment, and the ledger of what sounds lies here,
 * where the engine's death can't take it: the next one is given it, and releases first.
 */
import type { ChildProcess } from 'node:child_process';
import { createInterface } from 'node:readline';
import type { Readable } from 'node:stream';
import { openLog } from './logs.js';
import { endProgram, startProgram, type Kept, type Program } from './program.js';

/** An engine that says nothing in three rounds of this length is stuck, and is ended. */
const ROUND_MS = 2000;
/** An engine that lives shorter than this fails at once; the next one waits, each time longer, so that failing is not all that is done. */
const SHORT_MS = 2000;
const LONGEST_WAIT_MS = 2000;
/** The ledger's pipe; 3 is Node's own. */
const LEDGER_FD = 4;

/** What releases it, by the line and what is held there: an entry as the engine wrote it. */
type Entry = [lineId: string, key: string, releases?: string[]];

/** @param died called with how it died */
export function keepEngine(program: Program, died: (how: string) => void): Kept {
  const log = openLog(program.log);
  const ledger = new Map<string, Entry>();
  let active: ChildProcess | null = null;
  let spare: ChildProcess | null = null;
  let stopping = false;
  let failures = 0;
  let heard!: (port: number) => void;
  const listening = new Promise<number>((done) => (heard = done));

  function load(): ChildProcess {
    const env = { ...program.env, TAWNY_LEDGER_FD: String(LEDGER_FD) };
    const child = startProgram({ ...program, env }, ['pipe']);
    log.take(child);
    return child;
  }

  /** Follows what the engine holds. @returns resolves once all that it wrote is known */
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

  /** Ends an engine that does not come round any more. A machine that slept is given another round. */
  function watch(child: ChildProcess): () => void {
    let rounds = 0;
    child.on('message', () => (rounds = 0));
    const timer = setInterval(() => {
      if (++rounds > 2) child.kill('SIGKILL');
    }, ROUND_MS);
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
      heard(0);
      // Loading another one must not hold the first one up.
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
