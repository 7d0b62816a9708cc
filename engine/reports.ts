/** Sends what people look at to the server, about 30 times a second and never before a signal. */
import type { Engine } from '@tawny-signal/core/engine';
import type { Ledger } from '@tawny-signal/core/ledger';
import {
  createBatchWriter,
  NO_INDEX,
  type Direction,
  type LineTotals,
  type MappingFired,
} from '@tawny-signal/core/live/batch';
import type { HeldSeen, LineHeld } from '@tawny-signal/core/live/messages';
import type { HeldNote } from '@tawny-signal/core/midi/held';
import type { Lines, OpenLine } from './lines.js';
import type { Outside } from './outside.js';
import type { Senders } from './senders.js';
import { ORIGIN } from './origin.js';

/** About 30 batches a second, as fast as the eye. */
export const BATCH_MS = 33;
/** The most batches that the server may have in its queue. Further records wait here, and are dropped when the batch is full. */
const BATCHES_AHEAD = 3;

export interface Noted {
  /** The `seq` of the message that caused this; 0 for an input, and for what a person caused. */
  cause: number;
  /** True if it was sent later than its cause. */
  later?: boolean;
  lineIndex: number;
  direction: Direction;
  bytes: Uint8Array;
  /** Id of the mapping, route or moment that sent it. */
  sender?: string;
  reason?: string | undefined;
  /** When it arrived, in monotonic ms; now if left out. */
  at?: number;
}

export interface Reports {
  /** Records a message that passes now. @returns its `seq` */
  note(noted: Noted): number;
  /** Records something that cannot pass a line: it is counted and shown there. */
  bad(line: OpenLine, reason: string, bytes: Uint8Array): void;
  /** Returns the routes that are cut, with the time of each in milliseconds since 1970. */
  cutRoutes(): Record<string, number>;
  statesChanged(): void;
  heldChanged(): void;
  routesChanged(): void;
  /** The server has processed a batch. */
  took(): void;
  /** A new server has connected, with an empty queue. */
  joined(): void;
  /** Makes the next report complete. */
  tellAll(): void;
  stop(): void;
}

const epoch = (at: number): number => ORIGIN + at;

export function createReports(
  engine: Engine,
  lines: () => Lines,
  senders: Senders,
  ledger: Ledger,
  outside: Outside,
): Reports {
  const writer = createBatchWriter();
  let seq = 0;
  let ahead = 0;
  let states = false;
  let held = false;
  let routes = false;

  const seen = (notes: readonly HeldNote[]): HeldSeen[] =>
    notes.map((note) => ({ ...note, since: epoch(note.since) }));

  function heldNow(): Record<string, LineHeld> {
    const all: Record<string, LineHeld> = {};
    for (const line of lines().byIndex) {
      if (!line) continue;
      const notes = { in: seen(line.heldIn.list()), out: seen(ledger.notesOf(line.id)) };
      if (notes.in.length + notes.out.length > 0) all[line.id] = notes;
    }
    return all;
  }

  const cutRoutes = (): Record<string, number> =>
    Object.fromEntries([...engine.cutRoutes()].map(([id, at]) => [id, epoch(at)] as const));

  function tellChanges(): void {
    if (states) outside.tell({ t: 'lineStates', states: lines().states() });
    if (held) outside.tell({ t: 'held', held: heldNow() });
    if (routes) outside.tell({ t: 'cutRoutes', cut: cutRoutes() });
    states = held = routes = false;
  }

  function batch(): void {
    // Without a server, changes wait and records are dropped when the batch is full. The next server is told everything.
    if (!outside.isHeard()) return;
    tellChanges();
    if (ahead >= BATCHES_AHEAD) return;
    const totals: LineTotals[] = [];
    for (const line of lines().byIndex) {
      if (!line?.changed) continue;
      line.changed = false;
      totals.push(line.totals);
    }
    const fired = engine.drainFired().map((mapping): MappingFired => ({
      index: senders.indexOf(mapping.source.id) ?? NO_INDEX,
      count: mapping.tally.fired,
      at: epoch(mapping.tally.lastAt),
      heard: mapping.tally.lastHeard,
      shaped: mapping.tally.lastShaped,
    }));
    const bytes = writer.take(totals, fired);
    if (!bytes) return;
    ahead++;
    outside.batch(bytes);
  }

  const pace = setInterval(batch, BATCH_MS);

  function note({
    cause,
    later = false,
    lineIndex,
    direction,
    bytes,
    sender,
    reason = '',
    at,
  }: Noted): number {
    seq = seq >= 0xffff_fffe ? 1 : seq + 1;
    // A full batch costs next to nothing.
    if (!writer.hasRoom(bytes.length)) {
      writer.drop();
      return seq;
    }
    const senderIndex = sender === undefined ? NO_INDEX : (senders.indexOf(sender) ?? NO_INDEX);
    const when = epoch(at ?? performance.now());
    writer.traffic({ seq, cause, later, at: when, lineIndex, senderIndex, direction, bytes, reason });
    return seq;
  }

  return {
    note,
    bad(line, reason, bytes) {
      line.totals.inBytes += bytes.length;
      line.totals.badCount++;
      line.changed = true;
      line.lastBad = { at: ORIGIN + performance.now(), reason, bytes: [...bytes.subarray(0, 24)] };
      states = true;
      note({ cause: 0, lineIndex: line.index, direction: 'bad', bytes, reason });
    },
    cutRoutes,
    statesChanged() {
      states = true;
    },
    heldChanged() {
      held = true;
    },
    routesChanged() {
      routes = true;
    },
    joined() {
      ahead = 0;
    },
    took() {
      ahead = Math.max(0, ahead - 1);
    },
    tellAll() {
      for (const line of lines().byIndex) if (line) line.changed = true;
      engine.tellAll();
      states = held = routes = true;
    },
    stop() {
      clearInterval(pace);
    },
  };
}
