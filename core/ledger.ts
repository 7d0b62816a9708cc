/**
 * The ledger: everything that sounds or is held on lines because we sent it, with the signals that release it. It lists notes, keys, and what mappings
 * hold. An entry
 * stays until its release was really sent, so that a line that is down is released when it opens again.
 */
import type { HeldNote } from './midi/held.js';
import type { KeySignal, Signal } from './signal.js';

/** An entry of the ledger. */
export interface Held {
  /** The line's id. */
  lineId: string;
  /** Identifies it on its line. */
  key: string;
  releases: readonly Signal[];
}

/** Keeps a copy of the ledger that survives the engine. */
export interface LedgerCopy {
  put(held: Held): void;
  remove(lineId: string, key: string): void;
}

export interface Ledger {
  /** A signal was sent on a line, at a monotonic time in ms. @returns whether the notes that are down there have changed */
  left(lineId: string, signal: Signal, now: number): boolean;
  /** A signal could not be sent on a line. What it would have released is owed. */
  missed(lineId: string, signal: Signal): void;
  /** The output of one input is complete. */
  settle(): void;
  /** A mapping holds something that these signals undo. An empty list says that it holds nothing any more. */
  holds(key: string, releases: readonly { lineId: string; signal: Signal }[]): void;
  /** Adds something that an earlier engine held. It is owed. */
  owe(held: Held): void;
  /** Returns what must be released on a line as soon as it opens. */
  owed(lineId: string): readonly Held[];
  /** Returns all entries of a line. */
  of(lineId: string): readonly Held[];
  /** Returns the notes that are down on a line, the longest held first. */
  notesOf(lineId: string): HeldNote[];
  /** Removes an entry that was released. */
  released(held: Held): void;
}

/** The most entries of a line, more than any person can hold. Further ones are not kept. */
const MOST_ON_A_LINE = 4096;

interface Entry extends Held {
  owed: boolean;
  /** For a note: how it was pressed; null for everything else, and for what an earlier engine held. */
  note: HeldNote | null;
}

const noteKey = (channel: number, number: number): string => `note ${channel} ${number}`;

/** Returns the entry of a note or key that is pressed; null for other signals. */
function pressOf(signal: Signal, since: number): Omit<Entry, 'lineId' | 'owed'> | null {
  if (signal.kind === 'noteOn') {
    const { channel, number, value: velocity } = signal;
    return {
      key: noteKey(channel, number),
      note: { channel, number, velocity, since },
      releases: [{ kind: 'noteOff', channel, number, value: 0 }],
    };
  }
  if (signal.kind === 'key' && signal.down) {
    const up: KeySignal = { kind: 'key', code: signal.code, down: false };
    return { key: `key ${signal.code}`, note: null, releases: [up] };
  }
  return null;
}

function releaseKeyOf(signal: Signal): string | null {
  if (signal.kind === 'noteOff') return noteKey(signal.channel, signal.number);
  if (signal.kind === 'key' && !signal.down) return `key ${signal.code}`;
  return null;
}

export function createLedger(copy: LedgerCopy): Ledger {
  const lines = new Map<string, Map<string, Entry>>();
  /** Lines on which something could not be sent since the last input. */
  const missedOn = new Set<string>();

  function put(entry: Entry): void {
    let line = lines.get(entry.lineId);
    if (!line) lines.set(entry.lineId, (line = new Map()));
    const known = line.get(entry.key);
    // A note that is pressed again and a key that repeats have an entry already.
    if (known && !known.owed) {
      known.note = entry.note;
      return;
    }
    if (!known && line.size >= MOST_ON_A_LINE) return;
    line.set(entry.key, entry);
    copy.put(entry);
  }

  function remove(lineId: string, key: string): boolean {
    const was = lines.get(lineId)?.delete(key) ?? false;
    if (was) copy.remove(lineId, key);
    return was;
  }

  return {
    left(lineId, signal, now) {
      const press = pressOf(signal, now);
      if (press) {
        put({ lineId, ...press, owed: false });
        return press.note !== null;
      }
      const key = releaseKeyOf(signal);
      return key !== null && remove(lineId, key) && signal.kind === 'noteOff';
    },
    missed(lineId, signal) {
      missedOn.add(lineId);
      const key = releaseKeyOf(signal);
      const entry = key === null ? undefined : lines.get(lineId)?.get(key);
      if (entry) entry.owed = true;
    },
    holds(key, releases) {
      for (const [lineId, line] of lines) {
        const known = line.get(key);
        if (known && missedOn.has(lineId)) known.owed = true;
        else if (known) remove(lineId, key);
      }
      const byLine = new Map<string, Signal[]>();
      for (const { lineId, signal } of releases) {
        const known = byLine.get(lineId);
        if (known) known.push(signal);
        else byLine.set(lineId, [signal]);
      }
      for (const [lineId, signals] of byLine)
        put({ lineId, key, releases: signals, owed: false, note: null });
    },
    settle: () => missedOn.clear(),
    owe(held) {
      let line = lines.get(held.lineId);
      if (!line) lines.set(held.lineId, (line = new Map()));
      if (line.size < MOST_ON_A_LINE) line.set(held.key, { ...held, owed: true, note: null });
    },
    owed: (lineId) => [...(lines.get(lineId)?.values() ?? [])].filter((entry) => entry.owed),
    of: (lineId) => [...(lines.get(lineId)?.values() ?? [])],
    notesOf: (lineId) =>
      [...(lines.get(lineId)?.values() ?? [])]
        .flatMap(({ note }) => note ?? [])
        .sort((a, b) => a.since - b.since),
    released: ({ lineId, key }) => void remove(lineId, key),
  };
}
