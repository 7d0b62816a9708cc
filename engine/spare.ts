/**
 * What a spare engine gets ready before it is needed: the show as it lies in the folder, read and compiled. An engine that dies is then replaced by one
 * that need not read and compile thousands of mappings first.
 */
import { readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { createEngine, type Engine, type EngineInput } from '@tawny-signal/core/engine';
import type { Show } from '@tawny-signal/core/show';
import { compileAhead } from './compile-ahead.js';
import { readShow, SHOW_FILE, type KnownShow } from './kept-state.js';

/** How often it looks whether the file has changed. */
const LOOK_MS = 1000;
/** The file must have been left alone for so long: while somebody edits, the show is not compiled again and again. */
const QUIET_MS = 2000;

export interface Spare {
  /** The core engine, which has compiled what could be. */
  engine: Engine;
  /** The show that was read, with the text that it was read from; null for none. */
  known: KnownShow | null;
}

function compile(engine: Engine, show: Show): () => void {
  const lineIndex = new Map(show.lines.map(({ id }, at) => [id, at]));
  const give = (input: EngineInput): void => void engine.take(input, performance.now());
  return compileAhead(show, lineIndex, give, () => undefined);
}

/** @param folder where the keeper writes. @returns ends the getting ready, and gives what is there */
export function getReady(folder: string): () => Spare {
  const path = join(folder, SHOW_FILE);
  let engine = createEngine();
  let known: KnownShow | null = null;
  let readAt = 0;
  let stopCompiling = (): void => undefined;

  function changedAt(): number {
    try {
      return statSync(path).mtimeMs;
    } catch {
      return 0;
    }
  }

  function look(): void {
    const at = changedAt();
    if (at === readAt || Date.now() - at < QUIET_MS) return;
    const text = readFileSync(path, 'utf8');
    readAt = at;
    const show = readShow(text);
    known = show && { text, show };
    const fresh = (engine = createEngine());
    stopCompiling();
    if (show) stopCompiling = compile(fresh, show.placed.show);
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
    const ready = { engine, known };
    known = null; // it is no longer needed once the engine has begun
    return ready;
  };
}
