/** What every kind of line is behind: a driver with its socket or port, and what it tells. */
import type { LineState } from '@tawny-signal/core/live/messages';
import type { Work } from '../intake.js';
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
  /** Does what came in, in the line's turn. @param bytes that are kept while it waits. @returns false where it is dropped */
  take(work: Work, bytes: number): boolean;
  /** Calls back once nothing waits any more, where so much waits that a sender that can be held up should be. */
  holdUp(resume: () => void): boolean;
  /** Bytes that passed beside those of messages, as the frames of a universe do. */
  carried(way: 'in' | 'out', bytes: number): void;
}

/** Tells of bytes that made no sense, in the line's turn: they may be a flood. @param bytes that stay as they are */
export function tellBad(
  { take, bad }: Pick<LineListener, 'take' | 'bad'>,
  why: string,
  bytes: Uint8Array,
): void {
  take(() => {
    bad(why, bytes);
    return true;
  }, bytes.length);
}

export interface LineDriver {
  /** @returns the bytes that left, valid until the next send; null if they could not leave. Never throws, never waits. */
  send(signal: Signal): Uint8Array | null;
  /** @returns what is still to be done for it: keys that come up, typed by a tool */
  close(): void | Promise<void>;
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
