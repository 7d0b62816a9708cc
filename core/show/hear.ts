/** What a mapping hears. */
import { z } from 'zod';
import {
  channels,
  cue,
  keyCode,
  lineId,
  numbers,
  oscAddress,
  showCommand,
  slots,
  span,
  sysexTemplate,
  whole,
} from './fields.js';

const VALUE = 'A value from 0 to 16383, a range like 1-127, or any.';
const values = z.union([z.literal('any'), span(0, 16_383, VALUE)], { message: VALUE });
const NUMBER14 = 'A 14-bit controller is a number from 0 to 31, a range, or any.';
const numbers14 = z.union([z.literal('any'), span(0, 31, NUMBER14)], { message: NUMBER14 });
const heardTemplate = sysexTemplate(true);
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
  /** Two controllers as one of fourteen bits: `numbers` are those of the high seven, 0–31 (MIDI 1.0). */
  z.object({ message: z.literal('control14'), lineId, channels, numbers: numbers14, values }),
  /** A registered parameter, or a maker's own, set by four controllers (MIDI 1.0, RPN and NRPN). */
  z.object({
    message: z.literal('parameter'),
    lineId,
    channels,
    registered: z.boolean(),
    parameter: whole(0, 16_383, 'A parameter is a number from 0 to 16383.'),
    values,
  }),
  /** Bytes as they are typed; core/midi/sysex-template reads them. What stands at vv, or hh ll, is the value. */
  z.object({ message: z.literal('sysex'), lineId, template: heardTemplate }),
  /** MIDI show control as a well-behaved receiver hears it: its own device, group or all. An empty cue or list is any. */
  z.object({
    message: z.literal('showControl'),
    lineId,
    device: whole(
      0,
      127,
      'A device is a number from 0 to 111; 127 hears those to all devices alone.',
    ).nullable(),
    command: showCommand,
    cue,
    list: cue,
  }),
  /**
   * The first number among the arguments is the value, or the argument with the number `argument`, counted from 1; a message
   * without one counts as 1.
   */
  z.object({
    message: z.literal('osc'),
    lineId,
    address: oscAddress,
    argument: whole(0, 16, 'An argument is a number from 1 to 16, or the first number.').default(0),
  }),
  /** A slot of the line's universe that changes; its level is the value. */
  z.object({ message: z.literal('slot'), lineId, slots, values: levels }),
  z.object({ message: z.literal('keyPressed'), lineId, code: keyCode }),
  /** Both: 1 when it goes down, and what the lowest value would send when it comes up. */
  z.object({ message: z.literal('keyHeld'), lineId, code: keyCode }),
]);
export type Hear = z.infer<typeof hearSchema>;
export type HearMessage = Hear['message'];
/** A hear with the defaults for all that is not given. @throws ZodError */
export const makeHear = (given: z.input<typeof hearSchema>): Hear => hearSchema.parse(given);
