/**
 * What a spare engine gets ready before it is needed: the show as it lies in the folder, read and compiled. An engine that dies is then replaced by one
 * that need not read and compile thousands of mappings first.
 */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { createEngine, type Engine } from '@tawny-signal/core/engine';
import { emptyShow, type Show } from '@tawny-signal/core/show';
import { inSlices } from './compile-ahead.js';
import { createSenders, fewSendersOf, type Senders } from './senders.js';
import { fileKey, readShow, SHOW_FILE, type KnownShow } from './kept-state.js';

/** How often it looks whether the file has changed. */
const LOOK_MS = 1000;
/** The file must have been left alone for so long: while somebody edits, the show is not compiled again and again. */
const QUIET_MS = 2000;
const WARM_UPS = 2;

export interface Ready {
  /** The core engine, which has compiled what could be. */
  engine: Engine;
  /** The numbers of everything that sends in the show that was read. */
  senders: Senders;
}

export const nothingReady = (): Ready => ({ engine: createEngine(), senders: createSenders() });

export interface Spare extends Ready {
  /** The show that was read, and from which file; null for none. */
  known: KnownShow | null;
}

const lineIndexOf = ({ lines }: Show): Map<string, number> => new Map(lines.map(({ id }, at) => [id, at]));

/** Loads a show and takes it away again, in an engine that is thrown away: code that has run before runs several times as fast when it is needed. */
function* warmUp(show: Show): Generator<void> {
  const engine = createEngine();
  const lineIndex = lineIndexOf(show);
  const senders = createSenders();
  for (let round = 0; round < WARM_UPS; round++) {
    yield* engine.prepare(show, lineIndex);
    engine.take({ t: 'show', show, lineIndex }, performance.now());
    yield;
    engine.take({ t: 'show', show: emptyShow('Nothing'), lineIndex }, performance.now());
    for (const rows of fewSendersOf(show)) yield void senders.number(rows);
  }
}

/** @param folder where the keeper writes. @returns ends the getting ready, and gives what is there */
export function getReady(folder: string): () => Spare {
  const path = join(folder, SHOW_FILE);
  let ready = nothingReady();
  let known: KnownShow | null = null;
  /** The file that was read, and the one that was seen last, with when that was. */
  let read: string | null = null;
  let seen: { file: string | null; at: number } = { file: null, at: 0 };
  let stopCompiling = (): void => undefined;
  let isWarm = false;

  function look(): void {
    const file = fileKey(path);
    // One that lies there from the start is read at once.
    if (file !== seen.file) seen = { file, at: seen.file === null ? -Infinity : performance.now() };
    if (file === null || file === read || performance.now() - seen.at < QUIET_MS) return;
    const show = readShow(readFileSync(path, 'utf8'));
    // It may have been replaced while it was read: then the next look finds the other one.
    if (fileKey(path) !== file) return;
    read = file;
    known = show && { file, show };
    stopCompiling();
    ready = nothingReady();
    if (show) stopCompiling = inSlices(works(ready, show.placed.show), () => undefined);
  }

  function* works({ engine, senders }: Ready, show: Show): Generator<void> {
    yield* engine.prepare(show, lineIndexOf(show));
    for (const rows of fewSendersOf(show)) yield void senders.number(rows);
    if (!isWarm) yield* warmUp(show);
    isWarm = true;
  }

  const timer = setInterval(() => {
    try {
      look();
    } catch {
      known = null; // the file is being replaced: the next look finds it
    }
  }, LOOK_MS).unref();
  return () => {
    clearInterval(timer);
    stopCompiling();
    const spare = { ...ready, known };
    known = null; // it is no longer needed once the engine has begun
    return spare;
  };
}
