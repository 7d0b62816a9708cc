/** What a mapping sends. */
import { z } from 'zod';
import { readSysexTemplate } from '../midi/sysex-template.js';
import {
  channel,
  duration,
  finite,
  keyCode,
  lineId,
  number,
  scale,
  sentAddress,
  slot,
  whole,
} from './fields.js';

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
