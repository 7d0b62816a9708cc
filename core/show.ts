/**
 * The show document: what is kept, sent and read everywhere, checked by the same schemas in the
 * browser, the server and (later) the file. A schema's messages say what may be written.
 */
import { z } from 'zod';

const id = z.string().min(1).max(64);
const span = (low: number, high: number, message: string) =>
  z
    .tuple([
      z.int(message).min(low, message).max(high, message),
      z.int(message).min(low, message).max(high, message),
    ])
    .refine(([from, to]) => from <= to, { message: 'The range runs backwards: write the lower end first.' });
const name = z
  .string({ message: 'Give it a name.' })
  .trim()
  .min(1, 'Give it a name.')
  .max(60, 'A name has at most 60 characters.');

const PORT = 'A port is a number from 1 to 65535.';
const port = z.int(PORT).min(1, PORT).max(65_535, PORT);
const HOST = 'Write an address like 192.168.1.20, or a host name, without a port.';
const host = z
  .string({ message: HOST })
  .trim()
  .regex(
    /^(?:[A-Za-z0-9](?:[A-Za-z0-9-]{0,62})(?:\.[A-Za-z0-9-]{1,63})*\.?|[0-9A-Fa-f:]*:[0-9A-Fa-f:.]+)$/,
    HOST,
  )
  .max(253, HOST)
  .refine((text) => !/^[\d.]+$/.test(text) || /^(?:(?:25[0-5]|2[0-4]\d|1?\d?\d)(?:\.|$)){4}$/.test(text), {
    message: 'An address in numbers has four parts from 0 to 255, like 127.0.0.1.',
  });

const ADDRESS = 'An OSC address begins with /, like /fog/density, and has no spaces.';
/** An OSC address or pattern (OSC 1.0, "OSC Address Spaces"): printable ASCII without space, # and comma outside braces. */
const oscAddress = z
  .string({ message: ADDRESS })
  .trim()
  .regex(/^\/[!-~]*$/, ADDRESS)
  .max(200, 'An OSC address has at most 200 characters here.');
const sentAddress = oscAddress.regex(/^[^?*[\]{}#,]*$/, {
  message: 'An address that is sent can’t have ? * [ ] { } # or a comma in it.',
});

// Lines ------------------------------------------------------------------------------------------

const lineCommon = { id, name, muted: z.boolean() };

export const lineSchema = z.discriminatedUnion('kind', [
  z.object({
    ...lineCommon,
    kind: z.literal('midi-browser'),
    /** The port's name as the browser says it: plugged into another socket, it is found again. */
    port: z.string().trim().min(1, 'Choose a port, or write its name.').max(200),
  }),
  z.object({
    ...lineCommon,
    kind: z.literal('midi-inside'),
    port: z.string().trim().min(1, 'Write the name that the stand-in announces.').max(200),
  }),
  z.object({
    ...lineCommon,
    kind: z.literal('osc-udp'),
    /** Where messages go. */
    host,
    port,
    /** Where messages are heard, on loopback; null for a line that only sends. */
    listenPort: port.nullable(),
  }),
  z.object({
    ...lineCommon,
    kind: z.literal('osc-tcp'),
    /** What is connected to. */
    host,
    port,
    /** How packets are told apart in the stream: OSC 1.1 or OSC 1.0. */
    framing: z.enum(['slip', 'length']),
    /** Where others may connect, on loopback; null for nobody. */
    listenPort: port.nullable(),
  }),
]);
export type Line = z.infer<typeof lineSchema>;
export type LineKind = Line['kind'];

/** What a line carries. */
export const CARRIES: Record<LineKind, 'midi' | 'osc'> = {
  'midi-browser': 'midi',
  'midi-inside': 'midi',
  'osc-udp': 'osc',
  'osc-tcp': 'osc',
};

// Mappings ---------------------------------------------------------------------------------------

const CHANNEL = 'A channel is a number from 1 to 16, a range like 1-8, or any.';
const channels = z.union([z.literal('any'), span(0, 15, CHANNEL)], { message: CHANNEL });
const NUMBER = 'A number from 0 to 127, a range like 36-51, or any.';
const numbers = z.union([z.literal('any'), span(0, 127, NUMBER)], { message: NUMBER });
const VALUE = 'A value from 0 to 16383, a range like 1-127, or any.';
const values = z.union([z.literal('any'), span(0, 16_383, VALUE)], { message: VALUE });
const lineId = id.nullable();

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
]);
export type Hear = z.infer<typeof hearSchema>;
export type HearMessage = Hear['message'];

const finite = z.number('Write a number.').min(-1e9).max(1e9);
const scale = z.tuple([finite, finite]);

export const shapeSchema = z.object({
  /** What is shaped: the force or value, or the note's, controller's or program's own number. */
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

export const sendSchema = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('osc'),
    lineId,
    address: sentAddress,
    args: z.array(oscArgSchema).max(16, 'A message has at most 16 arguments here.'),
  }),
]);
export type Send = z.infer<typeof sendSchema>;

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

// Banks and the show -----------------------------------------------------------------------------

export const bankSchema = z.object({ id, name, on: z.boolean() });
export type Bank = z.infer<typeof bankSchema>;

export const settingsSchema = z.object({
  name,
  /** The octave that note 60 is said to be in. */
  middleC: z.union([z.literal(3), z.literal(4), z.literal(5)]),
});
export type Settings = z.infer<typeof settingsSchema>;

export const showSchema = z.object({
  format: z.literal('tawny-signal-show'),
  version: z.literal(1),
  settings: settingsSchema,
  lines: z.array(lineSchema),
  banks: z.array(bankSchema),
  mappings: z.array(mappingSchema),
});
export type Show = z.infer<typeof showSchema>;

export const emptyShow = (showName: string): Show => ({
  format: 'tawny-signal-show',
  version: 1,
  settings: { name: showName, middleC: 4 },
  lines: [],
  banks: [],
  mappings: [],
});
