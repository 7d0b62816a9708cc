/** Mappings: what is heard on one line, how its value is shaped, what is sent on another. */
import { z } from 'zod';
import {
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

export const shapeSchema = z.object({
  /** What is shaped: the force or value, or the note's, controller's, program's or slot's own number. */
  from: z.enum(['value', 'number']),
  in: scale.refine(([from, to]) => from !== to, { message: 'The two ends must differ, like 0-127.' }),
  /** Ends the other way round turn the value over. */
  out: scale,
  curve: z.enum(['straight', 'slow-start', 'fast-start']),
});
export type Shape = z.infer<typeof shapeSchema>;

export const oscArgSchema = z.discriminatedUnion('type', [
  z.object({ type: z.enum(['f', 'i', 'd', 'h']), value: z.union([z.literal('shaped'), finite]) }),
  z.object({ type: z.literal('s'), value: z.string().max(1000) }),
  z.object({ type: z.enum(['T', 'F', 'N', 'I']) }),
]);
export type OscArg = z.infer<typeof oscArgSchema>;

const CUE = 'A cue is written in digits and points, like 4 or 12.1; or leave it empty.';
const cue = z
  .string()
  .trim()
  .max(32, CUE)
  .regex(/^(?:\d+(?:\.\d+)*)?$/, CUE);

export const sendSchema = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('osc'),
    lineId,
    address: sentAddress,
    args: z.array(oscArgSchema).max(16, 'A message has at most 16 arguments here.'),
  }),
  /** The shaped value is the force, 0–127; 0 is the release. */
  z.object({ kind: z.literal('note'), lineId, channel, number }),
  z.object({ kind: z.literal('control'), lineId, channel, number }),
  /** The shaped value is the program. */
  z.object({ kind: z.literal('program'), lineId, channel }),
  /** The shaped value is the level, 0–255. */
  z.object({ kind: z.literal('slot'), lineId, slot }),
  /** Down while the shaped value is above 0; pressed and let go at once where no release is heard. */
  z.object({ kind: z.literal('key'), lineId, code: keyCode }),
  /** Sent when the shaped value is above 0. */
  z.object({
    kind: z.literal('showControl'),
    lineId,
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

export const mappingSchema = z.object({
  id,
  /** Empty: it is called after what it hears. */
  name: z.string().trim().max(60, 'A name has at most 60 characters.'),
  on: z.boolean(),
  bankId: id.nullable(),
  hear: hearSchema,
  shape: shapeSchema,
  send: sendSchema,
});
export type Mapping = z.infer<typeof mappingSchema>;
