/**
 * A compiled send. Its signals are the same objects every time, and `fill` writes the shaped value into them. Also helpers that the kinds of
 * sends share.
 */
import { hsbToRgb, type Rgb } from '../mapping/colour.js';
import type { Heard } from '../mapping/heard.js';
import type { BankAct } from '../show/bank.js';
import type { Colour } from '../show/shape.js';
import type { PositionSendAct } from '../time/position.js';
import type { ChannelSignal, Signal } from '../signal.js';
import type { MotionSendAct } from '../motion/acts.js';

/** What is to be sent: the signals, their releases, or nothing. */
export type Filled = 'signals' | 'releases' | 'nothing';

/** What a send does to the show itself, instead of sending signals. */
export type ShowAct =
  | { do: 'bank'; bankId: string; act: BankAct }
  | { do: 'tap' }
  /** Sets the tempo, in so many beats; 0 for at once. */
  | { do: 'tempo'; bpm: number; beats: number }
  | { do: 'panic' }
  /** core/sends/call says what each act is; `catchUp` catches up to after the moment, or null for before the first. */
  | { do: 'moment'; momentId: string | null; act: 'call' | 'run' | 'stop' | 'catchUp' }
  | { do: 'position'; act: PositionSendAct; timecode: string }
  | MotionAct;

/** Something is done to a motion (core/sends/motion). `value` is the force of a press, 0 if it is let go; or a setting. */
export interface MotionAct {
  do: 'motion';
  motionId: string;
  act: MotionSendAct;
  value: number;
  /** What was heard. */
  number: number;
  channel: number;
  /** The distance of the heard number from the lowest one. */
  step: number;
}

const NONE: readonly never[] = [];

/** A part of what is typed: the keys of one tap go down, or come up. */
export interface TypedPart {
  afterMs: number;
  signals: readonly Signal[];
  /** The number of the tap. The keys of tap 0 go down at once. */
  tap: number;
  up: boolean;
}

/** The taps of one typing whose keys are down, so that they come up even if it is broken off. */
export type TapsDown = Set<number>;

/** Plans each part of what is typed after the first keys. */
export function eachTyped(
  parts: readonly TypedPart[],
  plan: (part: TypedPart, down: TapsDown) => void,
): void {
  if (parts.length === 0) return;
  const down: TapsDown = new Set([0]);
  for (const part of parts) plan(part, down);
}

/** Notes that a part was sent. */
export function noteTyped({ tap, up }: TypedPart, down: TapsDown): void {
  if (up) down.delete(tap);
  else down.add(tap);
}

/** Returns what is still to be sent of a part that was dropped: the keys that are down come up. */
export const restOfTyping = ({ tap, up, signals }: TypedPart, down: TapsDown): readonly Signal[] =>
  up && down.delete(tap) ? signals : NONE;

export interface CompiledSend {
  /** The signals that are sent together, in this order. */
  signals: Signal[];
  /** Writes the shaped value, and the numbers and texts that follow what was heard, into `signals`. */
  fill(shaped: number, heard: Heard): Filled;
  /** The signals that release what it sends, if that sounds or is held; otherwise empty. */
  releases: readonly Signal[];
  /** Keys that are typed some time after the others, in the order of their times. */
  later: readonly TypedPart[];
  act: ShowAct | null;
}

/** What a send is compiled for. */
export interface SendPlace {
  /** The distance of the heard number from the lowest number that the mapping hears. Sends that follow the number move by the same distance. */
  step: number;
  colour: Colour | null;
}

export const rounded = (value: number, high: number): number =>
  Math.max(0, Math.min(high, Math.round(value)));

const BLACK: Rgb = { red: 0, green: 0, blue: 0 };

/** Returns the colour for a shaped value. */
export function rgbOf(colour: Colour | null, shaped: number): Rgb {
  if (!colour) return BLACK;
  const { of, hue, saturation, brightness } = colour;
  return hsbToRgb(
    of === 'hue' ? shaped : hue,
    of === 'saturation' ? shaped : saturation,
    of === 'brightness' ? shaped : brightness,
  );
}

/** Creates a send that never sounds. @param fill writes the value into the signals; returns whether they are sent */
export const plain = (signals: Signal[], fill: (shaped: number, heard: Heard) => boolean): CompiledSend => ({
  signals,
  releases: NONE,
  later: NONE,
  act: null,
  fill: (shaped, heard) => (fill(shaped, heard) ? 'signals' : 'nothing'),
});

/** Creates a send of one signal, into which `put` writes the shaped value. */
export const single = <T extends Signal>(signal: T, put: (signal: T, value: number) => void): CompiledSend =>
  plain([signal], (value) => {
    put(signal, value);
    return true;
  });

export const controller = (channel: number, number: number, value = 0): ChannelSignal => ({
  kind: 'controlChange',
  channel,
  number,
  value,
});

/** Creates a send of a 14-bit value in two controllers, the high seven bits first. @param before signals that are sent before them */
export const double = (
  high: ChannelSignal,
  low: ChannelSignal,
  before: readonly ChannelSignal[] = [],
): CompiledSend =>
  plain([...before, high, low], (value) => {
    const all = rounded(value, 16_383);
    high.value = all >> 7;
    low.value = all & 0x7f;
    return true;
  });

/** Creates a send for a place beyond the last one, which sends nothing. */
export const nowhere = (): CompiledSend => plain([], () => false);

/** Creates a send that does something to the show itself when the value is above 0. */
export const acting = (act: ShowAct | null): CompiledSend => ({ ...plain([], (value) => value > 0), act });
