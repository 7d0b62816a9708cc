/** The interface between lines and their drivers. */
import type { LineState } from '@tawny-signal/core/live/line-state';
import type { Work } from '../intake.js';
import type { Signal } from '@tawny-signal/core/signal';
import { ORIGIN } from '../origin.js';

export type { LineOf } from '@tawny-signal/core/show/line';

/** What a driver reports. Bytes and signals are valid during the call only. */
export interface LineListener {
  /** @param note what is special about it, in words, for the traffic */
  heard(signal: Signal, bytes: Uint8Array, note?: string): void;
  /** Bytes that cannot be understood, with the reason. */
  bad(reason: string, bytes: Uint8Array): void;
  /** The input is gone; release what it holds. */
  gone(): void;
  /** The state of the line. `open` is reported again when a new receiver is connected, which knows nothing of what was sent before. */
  state(state: LineState): void;
  /** What is seen of the line besides its state has changed. It stays with every state until it changes again. */
  seen(seen: Pick<LineState, 'network'>): void;
  /**
   * Processes input in the line's turn.
   * @param bytes of memory that it needs while it waits. @param ageMs how long ago it arrived, if somebody knows better
   * @returns false if it is dropped
   */
  take(work: Work, bytes: number, ageMs?: number): boolean;
  /** Returns whether the sender should be held up, because too much waits. Calls back once nothing waits any more. */
  holdUp(resume: () => void): boolean;
  /** Bytes that passed and are not counted with messages, such as the frames of a universe. */
  carried(way: 'in' | 'out', bytes: number): void;
}

/** Reports bytes that cannot be understood, in the line's turn, since they may be a flood. @param bytes that do not change later */
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
  /** Sends a signal. Never throws and never waits. @returns the bytes that were sent, valid until the next send; null if they could not be sent */
  send(signal: Signal): Uint8Array | null;
  /** Closes the line. May return a promise, for example while keys are released by a tool. */
  close(): void | Promise<void>;
}

export const OPEN: LineState = { state: 'open', trouble: '' };
/** @param tryInMs time until the next try */
export const trouble = (words: string, tryInMs?: number): LineState => withTry('trouble', words, tryInMs);
export const waiting = (words: string, tryInMs?: number): LineState => withTry('waiting', words, tryInMs);

function withTry(state: LineState['state'], words: string, tryInMs?: number): LineState {
  return tryInMs === undefined
    ? { state, trouble: words }
    : { state, trouble: words, nextTryAt: ORIGIN + performance.now() + tryInMs };
}
