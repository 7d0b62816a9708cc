/**
 * The copy of the ledger that the launcher keeps, at the other end of a pipe: what is written is the system's at once, so it is known even where
 * the engine ends in the next instant. Each entry is one line: a JSON array of the line's id, the key, and the bytes in hexadecimal that
 * release it; without bytes, what was held is held no more.
 */
import { Socket } from 'node:net';
import { decodeSignals, encodeSignal } from '@tawny-signal/core/bytes';
import type { Held, LedgerCopy } from '@tawny-signal/core/ledger';
import type { Protocol } from '@tawny-signal/core/show/line';

/** An entry as it passes the pipe: the line, the key, and what releases it as bytes in hexadecimal. */
export type LedgerEntry = [lineId: string, key: string, releases?: string[]];

/** The copy, which can also note something that is not held. */
export interface LedgerPipe extends LedgerCopy {
  /** Keeps a text under a line and a key, in place of the one before it. */
  note(lineId: string, key: string, text: string): void;
}

/** A launcher that does not read is not waited for: from here on only the last that is known of each thing is kept for it. */
const BEHIND_BYTES = 1 << 20;

const entryOf = ({ lineId, key, releases }: Held): LedgerEntry => [
  lineId,
  key,
  releases.map((signal) => Buffer.from(encodeSignal(signal)).toString('hex')),
];

/** What was held, from what the launcher kept. @param protocol of its line. @returns null where the bytes make no sense there */
export function heldOf([lineId, key, releases]: LedgerEntry, protocol: Protocol): Held | null {
  const signals = (releases ?? []).flatMap((hex) => decodeSignals(protocol, Buffer.from(hex, 'hex')));
  return signals.length > 0 ? { lineId, key, releases: signals } : null;
}

/** @param fd the pipe that the launcher opened; null where there is none */
export function openLedgerPipe(fd: number | null): LedgerPipe {
  if (fd === null) return { put: () => undefined, remove: () => undefined, note: () => undefined };
  const pipe = new Socket({ fd, readable: false, writable: true });
  // A launcher that is gone ends the engine by its own way.
  pipe.on('error', () => undefined);
  pipe.unref();
  /** What is told once the launcher has read what was written, by the line and the key: no more than can be held. */
  const later = new Map<string, LedgerEntry>();
  const say = (entry: LedgerEntry): void => {
    if (!pipe.writable) return;
    if (later.size > 0 || pipe.writableLength > BEHIND_BYTES) later.set(`${entry[0]} ${entry[1]}`, entry);
    else pipe.write(`${JSON.stringify(entry)}\n`);
  };
  pipe.on('drain', () => {
    const entries = [...later.values()];
    later.clear();
    for (const entry of entries) say(entry);
  });
  return {
    put: (held) => say(entryOf(held)),
    remove: (lineId, key) => say([lineId, key]),
    note: (lineId, key, text) => say([lineId, key, [text]]),
  };
}
