/** Mappings: what is heard on one line, how its value is shaped, what is sent on another. */
import { z } from 'zod';
import {
  duration,
  channel,
  channels,
  finite,
  id,
  number,
  numbers,
  oscAddress,
  sentAddress,
  slot,
  slots,
  span,
  whole,
} from './fields.js';
import { KEY_CODES } from '../keys/codes.js';
import { readSysexTemplate } from '../midi/sysex-template.js';

const VALUE = 'A value from 0 to 16383, a range like 1-127, or any.';
const values = z.union([z.literal('any'), span(0, 16_383, VALUE)], { message: VALUE });
const LEVEL = 'A level from 0 to 255, a range like 1-255, or any.';
const levels = z.union([z.literal('any'), span(0, 255, LEVEL)], { message: LEVEL });
const lineId = id.nullable();
const keyCode = z.enum(KEY_CODES, 'Press the key, or write its code, like KeyG, Space or ArrowRight.');

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

const scale = z.tuple([finite, finite]);

export const CURVES = ['straight', 'slow-start', 'fast-start', 'slow-ends', 'table'] as const;

const UPWARDS = 'Write values that are heard in rising order, like 0 0, 64 0.2, 127 1.';

export const shapeSchema = z.object({
  /** What is shaped: the force or value, or the note's, controller's, program's or slot's own number. */
  from: z.enum(['value', 'number']),
  in: scale.refine(([from, to]) => from !== to, { message: 'The two ends must differ, like 0-127.' }),
  /** Ends the other way round turn the value over. */
  out: scale,
  curve: z.enum(CURVES),
  /** Of the curve `table`: what each of these heard values becomes; straight between them. In rising order. */
  table: z
    .array(z.tuple([finite, finite]))
    .max(64)
    .refine((points) => points.every(([x], at) => at === 0 || x > points[at - 1]![0]), UPWARDS)
    .default([]),
  /** A change of at most this from what passed last, in the units of what is heard, does not pass. */
  deadband: finite.min(0, 'A deadband is 0 or more.').default(0),
  /** So many equal steps instead of every value between; 0 for all of them. */
  steps: z
    .union([z.literal(0), whole(2, 1000, 'Steps are 2 or more, or 0 for none.')], {
      message: 'Steps are 2 to 1000, or 0 for none.',
    })
    .default(0),
  /** Whole numbers only. */
  round: z.boolean().default(false),
  /** How long it takes to reach a new value, in ms. */
  glideMs: duration(60_000, 'A glide is a time from 0 to 60 000 ms.').default(0),
  /**
   * What each press makes: its own value; one end of `out` and then the other; the next of `list`; a random value within
   * `out`; or, of a dial without ends, the place within `in` that its steps add up to.
   */
  each: z.enum(['value', 'toggle', 'list', 'dice', 'dial']).default('value'),
  /** Of a dial that says how far it was turned: how steps down are told from steps up. */
  coding: z.enum(['two', 'offset', 'sign']).default('two'),
  list: z.array(finite).max(64, 'A list has at most 64 values.').default([]),
});
export type Shape = z.infer<typeof shapeSchema>;
/** A shape with the defaults for all that is not given. @throws ZodError */
export const makeShape = (given: z.input<typeof shapeSchema>): Shape => shapeSchema.parse(given);

const TIME = 'A time from 0 to 60 000 ms; 0 for no matter when.';
/** When a mapping that hears something heeds it. */
export const whenSchema = z.object({
  /** At most once in so many ms; what comes between is not heeded. */
  onceInMs: duration(60_000, TIME).default(0),
  /** Only the second of two within so many ms. */
  twiceInMs: duration(60_000, TIME).default(0),
  /** Of what is held: only once it has been held for so many ms. */
  heldForMs: duration(60_000, TIME).default(0),
  /** Only another value than the one before. */
  changed: z.boolean().default(false),
  /** Only as the value becomes at least `at`, or falls below it; it must come back by `back` before it counts again. */
  crossing: z
    .object({ way: z.enum(['rises', 'falls']), at: finite, back: finite.min(0).default(0) })
    .nullable()
    .default(null),
  /** Only while this note is held, on the line that the mapping hears: a shift pad. */
  shift: z.object({ channel, number }).nullable().default(null),
});
export type When = z.infer<typeof whenSchema>;
export const ALWAYS: When = whenSchema.parse({});

export const oscArgSchema = z.discriminatedUnion('type', [
  z.object({ type: z.enum(['f', 'i', 'd', 'h']), value: z.union([z.literal('shaped'), finite]) }),
  z.object({ type: z.literal('s'), value: z.string().max(1000) }),
  z.object({ type: z.enum(['T', 'F', 'N', 'I']) }),
]);
export type OscArg = z.infer<typeof oscArgSchema>;

const REPEAT = 'Again each 20 to 60 000 ms, or 0 for once.';

const CUE = 'A cue is written in digits and points, like 4 or 12.1; or leave it empty.';
const cue = z
  .string()
  .trim()
  .max(32, CUE)
  .regex(/^(?:\d+(?:\.\d+)*)?$/, CUE);

const HEX =
  'Write bytes like F0 7D 01 vv F7: vv is the value, hh ll its high and low seven bits, | … ck a checksum.';
const whySysex = (input: unknown): string => {
  const read = readSysexTemplate(String(input));
  return read.ok ? HEX : read.reason;
};
/** System-exclusive as it is typed; core/midi/sysex-template reads it. */
const template = z
  .string()
  .trim()
  .max(600, HEX)
  .refine((text) => readSysexTemplate(text).ok, { error: (issue) => whySysex(issue.input) });

const sent = {
  lineId,
  /** It leaves this much later. */
  delayMs: duration(60_000, 'A delay is a time from 0 to 60 000 ms.').default(0),
  /** What the shape's `out` is laid over for this one; null: as it is. */
  range: scale.nullable().default(null),
};

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
    /** Released so long after it was pressed; null: when what is heard is let go. */
    lengthMs: duration(600_000, 'A length is a time from 0 to 600 000 ms.').nullable().default(null),
  }),
  z.object({ kind: z.literal('control'), ...sent, channel, number }),
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
  z.object({ kind: z.literal('sysex'), ...sent, template }),
  /** The shaped value is the level, 0–255; or 0–65,535 over two slots, the coarse one first. */
  z.object({ kind: z.literal('slot'), ...sent, slot, fine: z.boolean().default(false) }),
  /** Down while the shaped value is above 0; pressed and let go at once where no release is heard. */
  z.object({
    kind: z.literal('key'),
    ...sent,
    code: keyCode,
    /** While it is down, down again each so many ms; 0 for once. */
    repeatMs: z.union([z.literal(0), whole(20, 60_000, REPEAT)], { message: REPEAT }).default(0),
  }),
  /** Sent when the shaped value is above 0. */
  z.object({
    kind: z.literal('showControl'),
    ...sent,
    device: whole(0, 127, 'A device is a number from 0 to 111; 127 is all devices.'),
    format: whole(1, 127, 'A format is a number from 1 to 127.'),
    command: z.enum(['go', 'stop', 'resume', 'allOff', 'reset']),
    cue,
    list: cue,
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

export const mappingSchema = z.object({
  id,
  /** Empty: it is called after what it hears. */
  name: z.string().trim().max(60, 'A name has at most 60 characters.'),
  on: z.boolean(),
  bankId: id.nullable(),
  hear: hearSchema,
  when: whenSchema.default(ALWAYS),
  shape: shapeSchema,
  /** All of them leave for one message that is heard. */
  sends: z
    .array(sendSchema)
    .min(1, 'A mapping sends something.')
    .max(MOST_SENDS, 'A mapping sends at most 8 things.'),
});
export type Mapping = z.infer<typeof mappingSchema>;
