/** Lines: every connection in and out, a row of the schema for each kind. */
import { z } from 'zod';
import { line as text } from './text.js';
import { host, id, name, port, whole } from './fields.js';

const DELAY = 'A delay is a time from 0 to 10 000 ms.';
const common = {
  id,
  name,
  muted: z.boolean().default(false),
  /** What is sent leaves this much later, to line things up. */
  delayMs: z.number(DELAY).min(0, DELAY).max(10_000, DELAY).default(0),
};

const midi = {
  ...common,
  /** A 5-pin cable carries 3,125 bytes a second; how full it is, is shown. */
  fivePin: z.boolean().default(false),
  /** The longest system-exclusive message that is heard, in kB. */
  sysexKb: whole(1, 1024, 'The longest system-exclusive message is 1 to 1024 kB.').default(64),
};
const portName = (message: string) => text(200, 'A port’s name has at most 200 characters.').min(1, message);

const SENDER = 'Write addresses like 192.168.1.20, or networks like 192.168.1.0/24, with spaces between.';
const sender = z
  .string()
  .regex(
    /^(?:(?:25[0-5]|2[0-4]\d|1?\d?\d)\.){3}(?:25[0-5]|2[0-4]\d|1?\d?\d)(?:\/(?:3[0-2]|[12]?\d))?$/,
    SENDER,
  );
const hearing = {
  /** Where it is heard; null for a line that only sends. */
  listenPort: port.nullable(),
  /** Which of this machine's addresses is listened on: loopback, unless somebody chose another. */
  listenHost: host.default('127.0.0.1'),
  /** Who may send, as addresses or networks (`192.168.1.0/24`); empty for anybody. */
  hearFrom: z.array(sender, SENDER).max(32).default([]),
};

const SECRET = 'The secret part of the address has letters, digits, - and _, at most 64.';
const ORIGIN = 'Write where the page is from, like http://127.0.0.1:8080, without anything behind it.';
const origin = z
  .string()
  .trim()
  .max(200, ORIGIN)
  .regex(/^https?:\/\/[^\s/?#@]+$/, ORIGIN);

/** Bytes a second on a 5-pin cable: 31,250 baud, ten bits a byte (MIDI 1.0). */
export const FIVE_PIN_BYTES = 3125;

export const SACN_SOURCE_NAME = 'Tawny Signal';

export const lineSchema = z.discriminatedUnion('kind', [
  z.object({
    ...midi,
    kind: z.literal('midi-browser'),
    /** The port's name as the browser says it: plugged into another socket, it is found again. */
    port: portName('Choose a port, or write its name.'),
  }),
  z.object({
    ...midi,
    kind: z.literal('midi-machine'),
    /** The port's name as the server's machine says it. */
    port: portName('Choose a port, or write its name.'),
  }),
  z.object({
    ...midi,
    kind: z.literal('midi-virtual'),
    /** What other programs on the server's machine see it as. */
    port: portName('Write the name that other programs shall see.'),
  }),
  z.object({
    ...midi,
    kind: z.literal('midi-inside'),
    port: portName('Write the name that the stand-in announces.'),
  }),
  z.object({
    ...common,
    ...hearing,
    kind: z.literal('osc-udp'),
    /** Where messages go. */
    host,
    port,
    /** Messages go to whoever sent last, and to `host` only before anybody has. */
    answer: z.boolean().default(false),
  }),
  z.object({
    ...common,
    ...hearing,
    kind: z.literal('osc-tcp'),
    /** What is connected to. */
    host,
    port,
    /** How packets are told apart in the stream: OSC 1.1 or OSC 1.0. */
    framing: z.enum(['slip', 'length']),
  }),
  z.object({
    ...common,
    ...hearing,
    kind: z.literal('osc-ws'),
    /** What is connected to; null where others connect to us. */
    host: host.nullable(),
    port,
    /** What the address that others connect to ends in, so that only who knows it can; empty for none. A new line gets one. */
    secret: z
      .string()
      .regex(/^[A-Za-z0-9_-]*$/, SECRET)
      .max(64, SECRET)
      .default(''),
    /** Pages that a browser may connect from, each by its exact origin (RFC 6454). Programs that are no browser name none, and need not be here. */
    pages: z.array(origin).max(16, 'At most 16 pages.').default([]),
    /** Pages without an origin too: files that are opened, and frames that any page of the internet can make. */
    namelessPages: z.boolean().default(false),
  }),
  z.object({
    ...common,
    ...hearing,
    kind: z.literal('artnet'),
    universe: whole(0, 32_767, 'An Art-Net universe is a number from 0 to 32767.'),
    /** Where levels go; null for a line that only hears. */
    host: host.nullable(),
    port,
    /** `host` is an address for everybody on a network. */
    everyone: z.boolean().default(false),
  }),
  z.object({
    ...common,
    ...hearing,
    kind: z.literal('sacn'),
    universe: whole(1, 63_999, 'An sACN universe is a number from 1 to 63999.'),
    /** Where levels go; null for a line that only hears, or sends to everyone. */
    host: host.nullable(),
    port,
    /** Sent to the universe's multicast address, and heard there. */
    everyone: z.boolean().default(false),
    priority: whole(0, 200, 'A priority is a number from 0 to 200; 100 is usual.').default(100),
    sourceName: text(60, 'A source name has at most 60 characters.')
      .min(1, 'Give the source a name.')
      .default(SACN_SOURCE_NAME),
  }),
  z.object({
    ...common,
    kind: z.literal('keys-inside'),
    port: portName('Write the name that the stand-in announces.'),
  }),
  z.object({
    ...common,
    kind: z.literal('keys-browser'),
  }),
  z.object({
    ...common,
    kind: z.literal('keys-machine'),
    /** Nothing is typed before somebody has switched it on. */
    on: z.boolean().default(false),
    /** Typed only while a window whose title has this in it is in front; empty for any window. */
    windowTitle: text(120, 'A title has at most 120 characters.').default(''),
  }),
]);
export type Line = z.infer<typeof lineSchema>;
/** A line before it has an id; what is left out gets its default. */
export type NewLine = {
  [K in Line['kind']]: Omit<Extract<z.input<typeof lineSchema>, { kind: K }>, 'id'>;
}[Line['kind']];

/** A line with the defaults for all that is not given. @throws ZodError */
export const makeLine = <K extends Line['kind']>(
  given: Extract<z.input<typeof lineSchema>, { kind: K }>,
): LineOf<K> => lineSchema.parse(given) as LineOf<K>;
export type LineKind = Line['kind'];
export type LineOf<K extends LineKind> = Extract<Line, { kind: K }>;

export const PROTOCOLS = ['midi', 'osc', 'dmx', 'keys'] as const;
export type Protocol = (typeof PROTOCOLS)[number];

/** What a line carries. */
export const CARRIES: Record<LineKind, Protocol> = {
  'midi-browser': 'midi',
  'midi-machine': 'midi',
  'midi-virtual': 'midi',
  'midi-inside': 'midi',
  'osc-udp': 'osc',
  'osc-tcp': 'osc',
  'osc-ws': 'osc',
  artnet: 'dmx',
  sacn: 'dmx',
  'keys-inside': 'keys',
  'keys-browser': 'keys',
  'keys-machine': 'keys',
};
