/** What a mapping hears. */
import { z } from 'zod';
import { channels, keyCode, lineId, numbers, oscAddress, slots, span } from './fields.js';

const VALUE = 'A value from 0 to 16383, a range like 1-127, or any.';
const values = z.union([z.literal('any'), span(0, 16_383, VALUE)], { message: VALUE });
const LEVEL = 'A level from 0 to 255, a range like 1-255, or any.';
const levels = z.union([z.literal('any'), span(0, 255, LEVEL)], { message: LEVEL });

const numbered = { lineId, channels, numbers, values };
const unnumbered = { lineId, channels, values };

export const hearSchema = z.discriminatedUnion('message', [
  z.object({ message: z.literal('pressed'), ...numbered }),
  z.object({ message: z.literal('released'), ...numbered }),
  /** Both: the press sends, and the release sends what the lowest value would. */
  z.object({ message: z.literal('held'), ...numbered }),
  z.object({ message: z.literal('control'), ...numbered }),
  z.object({ message: z.literal('notePressure'), ...numbered }),
  z.object({ message: z.literal('program'), lineId, channels, numbers }),
  z.object({ message: z.literal('pressure'), ...unnumbered }),
  z.object({ message: z.literal('bend'), ...unnumbered }),
  /** The first number among the arguments is the value; a message without one counts as 1. */
  z.object({ message: z.literal('osc'), lineId, address: oscAddress }),
  /** A slot of the line's universe that changes; its level is the value. */
  z.object({ message: z.literal('slot'), lineId, slots, values: levels }),
  z.object({ message: z.literal('keyPressed'), lineId, code: keyCode }),
  /** Both: 1 when it goes down, and what the lowest value would send when it comes up. */
  z.object({ message: z.literal('keyHeld'), lineId, code: keyCode }),
]);
export type Hear = z.infer<typeof hearSchema>;
export type HearMessage = Hear['message'];
