/** What every kind of line is behind: a driver with its socket or port, and what it tells. */
import type { LineState } from '@tawny-signal/core/live/messages';
import type { Signal } from '@tawny-signal/core/signal';

export type { LineOf } from '@tawny-signal/core/show/line';

/** What a driver tells of its line. Bytes and signals are valid during the call only. */
export interface LineListener {
  heard(signal: Signal, bytes: Uint8Array): void;
  /** Bytes that made no sense, and why. */
  bad(reason: string, bytes: Uint8Array): void;
  /** What the line hears can't hear any more: what it holds must be let go. */
  gone(): void;
  /** How the line is. `open` is said again when somebody new is at the other end, who knows nothing of what was sent before. */
  state(state: LineState): void;
  /** Bytes that passed beside those of messages, as the frames of a universe do. */
  carried(way: 'in' | 'out', bytes: number): void;
}

export interface LineDriver {
  /** @returns the bytes that left, valid until the next send; null if they could not leave. Never throws, never waits. */
  send(signal: Signal): Uint8Array | null;
  close(): void;
}

export const OPEN: LineState = { state: 'open', trouble: '' };
/** @param tryInMs when it is tried again, from now */
export const trouble = (words: string, tryInMs?: number): LineState => withTry('trouble', words, tryInMs);
export const waiting = (words: string, tryInMs?: number): LineState => withTry('waiting', words, tryInMs);

function withTry(state: LineState['state'], words: string, tryInMs?: number): LineState {
  return tryInMs === undefined
    ? { state, trouble: words }
    : { state, trouble: words, nextTryAt: Date.now() + tryInMs };
}
