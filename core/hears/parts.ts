/** What hears have in common: which channels, numbers, slots and values they want. */
import { z } from 'zod';
import { channels, numbers, slots, span } from '../show/fields.js';

/** Both ends included, or any. */
export type Wanted = 'any' | [number, number];

/** The members that a hear may have. One that is left out accepts everything. */
export interface HearParts {
  message: string;
  channels?: z.infer<typeof channels>;
  numbers?: Wanted;
  slots?: Wanted;
  values?: Wanted;
}

const VALUE = 'A value from 0 to 16383, a range like 1-127, or any.';
export const values = z.union([z.literal('any'), span(0, 16_383, VALUE)], { message: VALUE });
export { channels, numbers, slots };

const ALL_CHANNELS = Array.from({ length: 16 }, (_, channel) => channel);

/** Numbers 0–127 that a hear of MIDI wants, both ends included. A message without a number has 0. */
export function numbersOf({ numbers: wanted }: HearParts): [number, number] {
  if (wanted === undefined) return [0, 0];
  return wanted === 'any' ? [0, 127] : wanted;
}

/** Slots 1–512 that a hear wants, both ends included. */
export const slotsOf = ({ slots: wanted = 'any' }: HearParts): [number, number] =>
  wanted === 'any' ? [1, 512] : wanted;

/** The lowest number that a hear accepts. A send that follows the number starts there. */
export const firstOf = (hear: HearParts): number =>
  hear.slots === undefined ? numbersOf(hear)[0] : slotsOf(hear)[0];

/** Returns the channels 0–15 that a hear accepts. */
export function channelsOf({ channels: wanted = 'any' }: HearParts): readonly number[] {
  if (wanted === 'any') return ALL_CHANNELS;
  if ('of' in wanted) return wanted.of;
  const [from, to] = wanted;
  return ALL_CHANNELS.slice(from, to + 1);
}

/** Returns the range of values that a hear accepts, both ends included. */
export const valuesOf = ({ values: wanted = 'any' }: HearParts): [number, number] =>
  wanted === 'any' ? [-Infinity, Infinity] : wanted;

/** Returns whether a hear accepts a value. `held` also accepts every release. */
export function wantsValue(hear: HearParts, value: number): boolean {
  const [low, high] = valuesOf(hear);
  return value >= low && value <= high;
}
