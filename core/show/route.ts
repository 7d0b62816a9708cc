/** Routes: pass the messages of one line on to another, where channels can be filtered or moved. */
import { z } from 'zod';
import { finite, id, numbers, sentAddress, slots, span } from './fields.js';

/** The kinds of MIDI message that a route can filter. */
export const ROUTE_KINDS = ['notes', 'controls', 'programs', 'bend', 'pressure', 'sysex', 'clock'] as const;
export type RouteKind = (typeof ROUTE_KINDS)[number];

const CHANNELS = 'Write channels like 1-8, or moved ones like 10 -> 2, with commas between; or any.';
const moved = z
  .object({
    /** 0–15, both ends included. */
    from: span(0, 15, CHANNELS),
    /** Null to keep the channels. A single channel receives all of them; as many as in `from` are moved one by one. */
    to: span(0, 15, CHANNELS).nullable(),
  })
  .refine(({ from, to }) => !to || to[0] === to[1] || to[1] - to[0] === from[1] - from[0], {
    message: 'Move channels to one channel, or to as many: 1-4 -> 5-8.',
  });

const common = {
  id,
  on: z.boolean(),
  fromId: id.nullable(),
  toId: id.nullable(),
  /** True if the receivers do not send back what they get, so that this route may close a ring. */
  ring: z.boolean().default(false),
};

export const routeSchema = z.discriminatedUnion('carries', [
  z.object({
    ...common,
    carries: z.literal('midi'),
    /** Channels that are not listed do not pass. */
    channels: z.union([z.literal('any'), z.array(moved).min(1, CHANNELS).max(16)], { message: CHANNELS }),
    kinds: z.array(z.enum(ROUTE_KINDS)).min(1, 'Let at least one kind of message through.'),
    notes: numbers,
    /** In semitones. A note that would leave 0–127 does not pass. */
    transpose: finite.refine((value) => Number.isInteger(value) && Math.abs(value) <= 127, {
      message: 'Transpose by semitones from −127 to 127.',
    }),
  }),
  z.object({
    ...common,
    carries: z.literal('osc'),
    /** The beginning of addresses that pass, in whole parts; `/` for all. */
    prefix: sentAddress,
    /** Replaces the prefix in the sent address. */
    newPrefix: sentAddress,
  }),
  z.object({
    ...common,
    carries: z.literal('dmx'),
    slots,
    offset: finite.refine((value) => Number.isInteger(value) && Math.abs(value) <= 511, {
      message: 'An offset is a number of slots from −511 to 511.',
    }),
  }),
]);
export type Route = z.infer<typeof routeSchema>;
export type RouteOf<C extends Route['carries']> = Extract<Route, { carries: C }>;
export type ChannelMove = Exclude<RouteOf<'midi'>['channels'], 'any'>[number];
