/** What a mapping sends. */
import { z } from 'zod';
import { words } from './text.js';
import {
  channel,
  cue,
  id,
  duration,
  finite,
  keyCode,
  lineId,
  number,
  scale,
  sentAddress,
  showCommand,
  slot,
  sysexTemplate,
  whole,
} from './fields.js';

/** What an argument can hold that is not fixed: the shaped value, the heard number, or a part of the shape's colour. */
export const OSC_PLACES = ['shaped', 'number', 'red', 'green', 'blue'] as const;
export type OscPlace = (typeof OSC_PLACES)[number];

export const oscArgSchema = z.discriminatedUnion('type', [
  z.object({ type: z.enum(['f', 'i', 'd', 'h']), value: z.union([z.enum(OSC_PLACES), finite]) }),
  /** A text; the same places in braces as in the address are filled. */
  z.object({ type: z.literal('s'), value: words(1000, 'A text has at most 1000 characters.') }),
  z.object({ type: z.enum(['T', 'F', 'N', 'I']) }),
]);
export type OscArg = z.infer<typeof oscArgSchema>;

const REPEAT = 'Again each 20 to 60 000 ms, or 0 for once.';

const sent = {
  lineId,
  /** It leaves this much later. */
  delayMs: duration(60_000, 'A delay is a time from 0 to 60 000 ms.').default(0),
  /** What the shape's `out` is laid over for this one; null: as it is. */
  range: scale.nullable().default(null),
};

/** `number`, or the slot, is where the lowest number that is heard goes; the others go as far on as they are above it. */
const follows = z.boolean().default(false);

export const sendSchema = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('osc'),
    ...sent,
    address: sentAddress,
    args: z.array(oscArgSchema).max(16, 'A message has at most 16 arguments here.'),
  }),
  /** The shaped value is the force, 0–127; 0 is the release. */
  z.object({
    kind: z.literal('note'),
    ...sent,
    channel,
    number,
    follows,
    /** Released so long after it was pressed; null: when what is heard is let go. */
    lengthMs: duration(600_000, 'A length is a time from 0 to 600 000 ms.').nullable().default(null),
  }),
  z.object({ kind: z.literal('control'), ...sent, channel, number, follows }),
  /** Two controllers for fourteen bits: the high seven on `number`, 0–31, the low seven on the one 32 above (MIDI 1.0). */
  z.object({
    kind: z.literal('control14'),
    ...sent,
    channel,
    number: whole(0, 31, 'A 14-bit controller is a number from 0 to 31.'),
  }),
  /** A registered or own parameter, chosen by two controllers and set by two more (MIDI 1.0, RPN and NRPN). */
  z.object({
    kind: z.literal('parameter'),
    ...sent,
    channel,
    registered: z.boolean(),
    number: whole(0, 16_383, 'A parameter is a number from 0 to 16383.'),
  }),
  /** The shaped value is the program. */
  z.object({ kind: z.literal('program'), ...sent, channel }),
  /** The shaped value is the bend, 0–16,383. */
  z.object({ kind: z.literal('bend'), ...sent, channel }),
  z.object({ kind: z.literal('sysex'), ...sent, template: sysexTemplate(false) }),
  /** The shaped value is the level, 0–255; or 0–65,535 over two slots, the coarse one first. */
  z.object({
    kind: z.literal('slot'),
    ...sent,
    slot,
    follows,
    fine: z.boolean().default(false),
    /** The level, or a part of the shape's colour. */
    part: z.enum(['level', 'red', 'green', 'blue']).default('level'),
    /** How long it takes from the level that the slot has, in ms. */
    fadeMs: duration(600_000, 'A fade is a time from 0 to 600 000 ms.').default(0),
  }),
  /** Down while the shaped value is above 0; pressed and let go at once where no release is heard. */
  z.object({
    kind: z.literal('key'),
    ...sent,
    code: keyCode,
    /** Keys that go down before it and come up after it: a chord. */
    with: z.array(keyCode).max(4, 'At most four more keys.').default([]),
    /** Pressed and let go at once, however long the control is held. */
    tap: z.boolean().default(false),
    /** While it is down, down again each so many ms; 0 for once. */
    repeatMs: z.union([z.literal(0), whole(20, 60_000, REPEAT)], { message: REPEAT }).default(0),
  }),
  /** Keys one after another, or several together, with pauses: typed when the shaped value is above 0. */
  z.object({
    kind: z.literal('typing'),
    ...sent,
    steps: z
      .array(
        z.object({
          codes: z.array(keyCode).min(1).max(5, 'At most five keys together.'),
          /** Before the next one, in ms. */
          pauseMs: duration(60_000, 'A pause is a time from 0 to 60 000 ms.'),
        }),
      )
      .min(1, 'Write the keys, like Left Ctrl+S, 200 ms, Enter.')
      .max(32, 'At most 32 keys.'),
  }),
  /** Switches a bank when the shaped value is above 0. `only` switches all others off. */
  z.object({
    kind: z.literal('bank'),
    ...sent,
    bankId: id.nullable(),
    act: z.enum(['on', 'off', 'toggle', 'only']),
  }),
  /**
   * Of a moment of the running order, when the shaped value is above 0: `call` calls it, and the next one stands by; `run` does what it does,
   * and what stands by stays; `stop` stops it. Null: the one that stands by; to stop, all that run.
   */
  z.object({
    kind: z.literal('call'),
    ...sent,
    momentId: id.nullable(),
    act: z.enum(['call', 'run', 'stop']).default('call'),
  }),
  /** A beat of the tempo that is tapped. */
  z.object({ kind: z.literal('tap'), ...sent }),
  z.object({ kind: z.literal('panic'), ...sent }),
  /** Sent when the shaped value is above 0. */
  z.object({
    kind: z.literal('showControl'),
    ...sent,
    device: whole(0, 127, 'A device is a number from 0 to 111; 127 is all devices.'),
    format: whole(1, 127, 'A format is a number from 1 to 127.'),
    command: showCommand,
    cue,
    list: cue,
    /** Of a timed go: the time that the cue takes. */
    timeMs: duration(86_399_000, 'A time is 0 s to 24 hours.').default(0),
    /** Of set: the control that is set, to the shaped value, 0–16,383. */
    control: whole(0, 1023, 'A control is a number from 0 to 1023.').default(0),
  }),
]);
export type Send = z.infer<typeof sendSchema>;
export type SendKind = Send['kind'];
export type SendOf<K extends SendKind> = Extract<Send, { kind: K }>;
/** A send with the defaults for all that is not given. @throws ZodError */
export const makeSend = <K extends SendKind>(
  given: Extract<z.input<typeof sendSchema>, { kind: K }>,
): SendOf<K> => sendSchema.parse(given) as SendOf<K>;

export const MOST_SENDS = 8;
