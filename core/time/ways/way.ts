/** What one way to carry time consists of: how it is heard, and how it is sent. A way is a file in this folder and a line in each list of core/time/ways.ts. */
import { z } from 'zod';
import { id, lineId } from '../../show/fields.js';
import type { LineKind } from '../../show/line.js';
import type { Signal } from '../../signal.js';
import { FRAME_RATES, type FrameRate } from '../../timecode/frame-rate.js';
import type { Motion } from '../position.js';
import type { Tempo } from '../tempo.js';

const RATE = 'Choose one of the frame rates.';
export const frameRate = z.enum(FRAME_RATES, RATE);

const DAY_MS = 86_400_000;
const OFFSET = 'An offset is at most 24 hours, forward or back.';
/** Added to what is heard or sent, in ms. */
const offsetMs = z.number(OFFSET).min(-DAY_MS, OFFSET).max(DAY_MS, OFFSET).default(0);

/** The fields of every source. */
export const HEARD = {
  id,
  /** The line that is listened to. */
  lineId,
  /** The frame rate that it has; null for the one that it says, or that of the show if it says no more than that. */
  frameRate: frameRate.nullable().default(null),
  offsetMs,
};

/** The fields of every output. */
export const SENT = {
  id,
  lineId,
  offsetMs,
  /** The frame rate that is sent; null for that of the show. */
  frameRate: frameRate.nullable().default(null),
  on: z.boolean().default(true),
};

/** What a message says of the position. A reader may return the same object again. */
export type Said =
  /**
   * It runs. `frame` counts in `rate`, and may have a fraction. `step` is how far the frames of this source are apart, `from` the frame with which this
   * row of frames began.
   */
  | { says: 'runs'; rate: FrameRate; frame: number; step: number; from: number }
  /** It stands at a frame. */
  | { says: 'stands'; rate: FrameRate; frame: number }
  /** It asks our own position to play, stop or go somewhere. */
  | { says: 'asks'; to: 'play' | 'stop' | { rate: FrameRate; frame: number } }
  /** More has to come before anything is known. */
  | { says: 'more' };

/** Reads the messages of one source. */
export interface Reader {
  /** Takes a signal of its line. @param at when it arrived, in monotonic ms. @returns null for a signal that is not for it */
  read(signal: Signal, at: number): Said | null;
  /** The source was silent: what comes next does not go on from what was. */
  reset(): void;
}

/** What a reader asks for. */
export interface ReaderPlace {
  /** The rate that a code means: the source's row says it, or else the show. @param code 0–3 as core/timecode/frame-rate lists it; null if the source says none */
  rateOf(code: number | null): FrameRate;
}

/** What one output sends. Times are monotonic ms. */
export interface Output {
  /** When it has to send next; Infinity while the position stands. */
  dueAt(motion: Motion, now: number): number;
  /** Sends what is due. */
  send(motion: Motion, now: number): void;
  /** The position has jumped, stopped or begun to run. */
  turned(motion: Motion, now: number): void;
}

/** What an output may use. */
export interface OutputPlace {
  /** The frame rate that is sent. */
  rate: FrameRate;
  tempo(): Tempo;
  /** The beat of the song at a place of the position, in ms. */
  songBeatOf(ms: number): number;
  put(signal: Signal): void;
}

/** The description of a way to carry time. `S` is a row that hears it, `O` a row that sends it. */
export interface TimeWay<S = never, O = never> {
  /** What it is called: `MIDI timecode`. */
  words: string;
  of: 'position' | 'tempo';
  /** The lines that carry it. */
  fits(line: LineKind): boolean;
  /** One of these lines in words: `a MIDI line`. */
  lineWords: string;
  /** True if several rows of this way may be on one line. */
  several?: boolean;
  /** How it is heard for the position. */
  reader?(row: S, place: ReaderPlace): Reader;
  output?(row: O, place: OutputPlace): Output;
  /** What an output sends, briefly. @param rate the frame rate that it is sent in, in words */
  sends?(row: O, rate: string): string;
}

export const isMidi = (line: LineKind): boolean => line.startsWith('midi-');
export const isOsc = (line: LineKind): boolean => line.startsWith('osc-');
