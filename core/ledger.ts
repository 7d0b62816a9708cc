/**
 * What sounds or is held on lines now, with the signals that release it: notes, keys, and what mappings hold until their control is let go.
 * A line's entry stays until its release has really left, so that what could not be released is released when the line is there again.
 */
import type { KeySignal, Signal } from './signal.js';

/** An entry of the ledger. */
export interface Held {
  /** The line's id. */
  lineId: string;
  /** Names what is held on its line. */
  key: string;
  releases: readonly Signal[];
}

/** Who keeps a copy of the ledger where the engine's end can't take it. */
export interface LedgerCopy {
  put(held: Held): void;
  remove(lineId: string, key: string): void;
}

export interface Ledger {
  /** A signal has left on a line. */
  left(lineId: string, signal: Signal): void;
  /** A signal could not leave on a line: what it would have released is owed. */
  missed(lineId: string, signal: Signal): void;
  /** All that one input made leave has left, or was missed. */
  settle(): void;
  /** A mapping holds something on lines that these signals take back; an empty list: not any more. */
  holds(key: string, releases: readonly { lineId: string; signal: Signal }[]): void;
  /** Takes over what was held before the engine was started. */
  owe(held: Held): void;
  /** What is to be released on a line as soon as it is open: its control was let go, or nobody knows it any more. */
  owed(lineId: string): readonly Held[];
  /** All that is known of a line. */
  of(lineId: string): readonly Held[];
  /** What was held was released. */
  released(held: Held): void;
}

/** More than this on one line is none that a person holds: what comes after it is not kept. */
const MOST_ON_A_LINE = 4096;

interface Entry extends Held {
  owed: boolean;
}

const noteKey = (channel: number, number: number): string => `note ${channel} ${number}`;

/** Notes and keys are known by what was sent. */
function pressOf(signal: Signal): Omit<Held, 'lineId'> | null {
  if (signal.kind === 'noteOn') {
    const { channel, number } = signal;
    return {
      key: noteKey(channel, number),
      releases: [{ kind: 'noteOff', channel, number, value: 0 }],
    };
  }
  if (signal.kind === 'key' && signal.down) {
    const up: KeySignal = { kind: 'key', code: signal.code, down: false };
    return { key: `key ${signal.code}`, releases: [up] };
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
  /** Lines on which something could not leave since the last input. */
  const missedOn = new Set<string>();

  function put(entry: Entry): void {
    let line = lines.get(entry.lineId);
    if (!line) lines.set(entry.lineId, (line = new Map()));
    const known = line.get(entry.key);
    // A note that is pressed again, or a key that repeats, is held already.
    if (known && !known.owed) return;
    if (!known && line.size >= MOST_ON_A_LINE) return;
    line.set(entry.key, entry);
    copy.put(entry);
  }

  function remove(lineId: string, key: string): void {
    if (lines.get(lineId)?.delete(key)) copy.remove(lineId, key);
  }

  return {
    left(lineId, signal) {
      const press = pressOf(signal);
      if (press) return put({ lineId, ...press, owed: false });
      const key = releaseKeyOf(signal);
      if (key !== null) remove(lineId, key);
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
      for (const [lineId, signals] of byLine) put({ lineId, key, releases: signals, owed: false });
    },
    settle: () => missedOn.clear(),
    owe(held) {
      let line = lines.get(held.lineId);
      if (!line) lines.set(held.lineId, (line = new Map()));
      if (line.size < MOST_ON_A_LINE) line.set(held.key, { ...held, owed: true });
    },
    owed: (lineId) => [...(lines.get(lineId)?.values() ?? [])].filter((entry) => entry.owed),
    of: (lineId) => [...(lines.get(lineId)?.values() ?? [])],
    released: ({ lineId, key }) => remove(lineId, key),
  };
}
