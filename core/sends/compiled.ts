/**
 * A send made ready: the signals are the same objects every time, and `fill` puts the shaped value into them. Also what the kinds of
 * sends share in making them.
 */
import { hsbToRgb, type Rgb } from '../mapping/colour.js';
import type { Heard } from '../mapping/heard.js';
import type { BankAct } from '../show/bank.js';
import type { Colour } from '../show/shape.js';
import type { ChannelSignal, Signal } from '../signal.js';

/** What leaves for a value: the signals, what releases them, or nothing. */
export type Filled = 'signals' | 'releases' | 'nothing';

/** What a send does to the show itself, instead of sending signals. */
export type ShowAct =
  | { do: 'bank'; bankId: string; act: BankAct }
  | { do: 'tap' }
  | { do: 'panic' }
  /** core/sends/call says what each act is. */
  | { do: 'moment'; momentId: string | null; act: 'call' | 'run' | 'stop' };

export interface CompiledSend {
  /** What leaves together, in this order. */
  signals: Signal[];
  /** Puts the shaped value into `signals`, and from what was heard what follows it. */
  fill(shaped: number, heard: Heard): Filled;
  /** Where what it sends sounds or is held until it is released: the signals that release it. Else empty. */
  releases: readonly Signal[];
  /** What leaves so long after the signals. */
  later: readonly { afterMs: number; signals: readonly Signal[] }[];
  act: ShowAct | null;
}

/** What a send is compiled for. */
export interface SendPlace {
  /** How far what was heard is above the lowest number of what the mapping hears: sends that follow go as far on. */
  step: number;
  colour: Colour | null;
}

export const rounded = (value: number, high: number): number =>
  Math.max(0, Math.min(high, Math.round(value)));

const BLACK: Rgb = { red: 0, green: 0, blue: 0 };

/** The colour that a shape makes of its value. */
export function rgbOf(colour: Colour | null, shaped: number): Rgb {
  if (!colour) return BLACK;
  const { of, hue, saturation, brightness } = colour;
  return hsbToRgb(
    of === 'hue' ? shaped : hue,
    of === 'saturation' ? shaped : saturation,
    of === 'brightness' ? shaped : brightness,
  );
}

const NONE: readonly never[] = [];

/** A send that never sounds, of its signals. @param fill fills them; returns whether they leave */
export const plain = (signals: Signal[], fill: (shaped: number, heard: Heard) => boolean): CompiledSend => ({
  signals,
  releases: NONE,
  later: NONE,
  act: null,
  fill: (shaped, heard) => (fill(shaped, heard) ? 'signals' : 'nothing'),
});

/** One signal, into which the shaped value is put. */
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

/** Fourteen bits in two controllers, the high seven first. @param before what goes before them */
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

/** Of a place past the last one. */
export const nowhere = (): CompiledSend => plain([], () => false);

/** Done to the show itself, when the value is above 0. */
export const acting = (act: ShowAct | null): CompiledSend => ({ ...plain([], (value) => value > 0), act });
