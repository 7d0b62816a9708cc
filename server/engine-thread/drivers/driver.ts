/** What every kind of line is behind: a driver with its socket or port, and what it tells. */
import type { Line, LineKind } from '@tawny-signal/core/show';
import type { Signal } from '@tawny-signal/core/signal';
import type { LineState } from '@tawny-signal/core/live/messages';

/** What a driver tells of its line. Bytes are valid during the call only. */
export interface LineListener {
  heard(signal: Signal, bytes: Uint8Array): void;
  /** Bytes that made no sense, and why. */
  bad(reason: string, bytes: Uint8Array): void;
  /** What the line hears can't hear any more: what it holds must be let go. */
  gone(): void;
  state(state: LineState): void;
}

export interface LineDriver {
  /** @returns the bytes that left, valid until the next send; null if they could not leave. Never throws, never waits. */
  send(signal: Signal): Uint8Array | null;
  close(): void;
}

export type LineOf<K extends LineKind> = Extract<Line, { kind: K }>;

export const OPEN: LineState = { state: 'open', trouble: '' };
export const trouble = (words: string): LineState => ({ state: 'trouble', trouble: words });
export const waiting = (words: string): LineState => ({ state: 'waiting', trouble: words });
