/** Writes the show and the live state to files, each whole or not at all, at most a few times a second. */
import { mkdirSync } from 'node:fs';
import { parentPort, workerData } from 'node:worker_threads';
import { applyOps } from '@tawny-signal/core/edits';
import { LIVE_FILE, readKept, SHOW_FILE, writeKept, type KeptLive, type KeptShow } from './kept-state.js';
import { createPieces } from '@tawny-signal/core/link/pieces';
import type { RowsPiece, ToEngine } from '@tawny-signal/core/link/messages';
import type { ToKeeper } from './keeper.js';

if (!parentPort) throw new Error('keeper-thread.ts runs as a worker thread only');
const port = parentPort;
const folder = workerData as string;
mkdirSync(folder, { recursive: true, mode: 0o700 });

/** At most five times a second. */
const EVERY_MS = 200;

const pieces = createPieces();
/** The show that is played, to which edits are applied. */
let show: KeptShow | null = null;
let live: KeptLive | null = null;
let showChanged = false;
let closing = false;
let timer: NodeJS.Timeout | null = null;
let said: string | null = null;

let writtenAt = -Infinity;

function writeAll(): void {
  timer = null;
  writtenAt = performance.now();
  try {
    if (showChanged && show) writeKept(folder, SHOW_FILE, show, true);
    showChanged = false;
    if (live) writeKept(folder, LIVE_FILE, live, closing);
    live = null;
    say(null);
  } catch (error) {
    say(String(error));
    soon();
  }
}

function say(why: string | null): void {
  if (why === said) return;
  said = why;
  port.postMessage(why);
}

function soon(): void {
  timer ??= setTimeout(writeAll, Math.max(0, writtenAt + EVERY_MS - performance.now()));
}

function take(message: ToKeeper): void {
  switch (message.t) {
    case 'begin':
      ({ show } = readKept(folder));
      return;
    case 'rows':
      return pieces.add(JSON.parse(message.json) as RowsPiece);
    case 'show': {
      const told = JSON.parse(message.json) as Extract<ToEngine, { t: 'show' }>;
      const placed = pieces.whole(told);
      // The engine asks for it again.
      if (!placed) return;
      show = { mark: told.mark, placed };
      showChanged = true;
      return soon();
    }
    case 'ops': {
      if (!show) return;
      const { mark, ops } = JSON.parse(message.json) as Extract<ToEngine, { t: 'ops' }>;
      show = { mark, placed: applyOps(show.placed, ops) };
      showChanged = true;
      return soon();
    }
    case 'live':
      ({ live } = message);
      return soon();
    case 'close':
      closing = true;
      if (timer) clearTimeout(timer);
      writeAll();
      port.close();
  }
}

port.on('message', take);
