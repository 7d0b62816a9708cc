/** Lines: every connection in and out. Each kind of line has its own schema. */
import { z } from 'zod';
import { line as text } from './text.js';
import { foundNameOf, machineOf } from './whom.js';
import { host, id, name, port, whole } from './fields.js';

const DELAY = 'A delay is a time from 0 to 10 000 ms.';
const common = {
  id,
  name,
  muted: z.boolean().default(false),
  /** The delay of everything that is sent on this line, in ms, to bring receivers in step. */
  delayMs: z.number(DELAY).min(0, DELAY).max(10_000, DELAY).default(0),
};

/** The longest system-exclusive message that is accepted, in kB. */
const sysexKb = whole(1, 1024, 'The longest system-exclusive message is 1 to 1024 kB.').default(64);
const midi = {
  ...common,
  /** True for a 5-pin cable, which carries 3,125 bytes a second. Its load is shown. */
  fivePin: z.boolean().default(false),
  sysexKb,
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
  /** The port to listen on; null for a line that only sends. */
  listenPort: port.nullable(),
  /** The address of this machine to listen on: loopback, unless another was chosen. */
  listenHost: host.default('127.0.0.1'),
  /** Who may send, as addresses or networks (`192.168.1.0/24`); empty for anybody. */
  hearFrom: z.array(sender, SENDER).max(32).default([]),
};

const PAIR =
  'A pair of ports begins with an even number from 1024 to 65534, like 5004: MIDI goes to the next one, 5005.';
const WHOM =
  'Write machines like 192.168.1.20, or 192.168.1.20:5004 with their first port, or names in quotes like "Front of house", with spaces between.';
const SESSION_NAME = 'A session has a name of 1 to 60 characters, by which other machines see it.';
const EVENLY = 'Notes are played 1 to 1000 ms after they were played there, or at once.';
/** Who may connect to a session besides those whom it calls. */
export const MAY_JOIN = ['nobody', 'listed', 'anyone'] as const;

const LEVEL = 'A level is -40 to 0 dB.';
/** How loud timecode is played, in dB below full scale. */
const soundLevel = z.number(LEVEL).min(-40, LEVEL).max(0, LEVEL).default(-18);
/** The channel that is listened to, counted from 0. Timecode is played on all of them. */
const soundChannel = whole(0, 31, 'A channel is a number from 1 to 32.').default(0);
const deviceName = text(200, 'A device’s name has at most 200 characters.').default('');
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
    /** The name of the port in the browser, by which it is found again in another socket. */
    port: portName('Choose a port, or write its name.'),
  }),
  z.object({
    ...midi,
    kind: z.literal('midi-machine'),
    /** The name of the port on the machine of the server. */
    port: portName('Choose a port, or write its name.'),
  }),
  z.object({
    ...midi,
    kind: z.literal('midi-virtual'),
    /** The name under which other programs on the machine of the server see it. */
    port: portName('Write the name that other programs shall see.'),
  }),
  z.object({
    ...midi,
    kind: z.literal('midi-inside'),
    port: portName('Write the name that the stand-in announces.'),
  }),
  z.object({
    ...common,
    sysexKb,
    kind: z.literal('midi-network'),
    /** How other machines see this session. */
    session: text(60, SESSION_NAME).min(1, SESSION_NAME),
    /** The first port of its pair; null for the next pair that is free, from 5004 on. */
    port: z
      .int(PAIR)
      .min(1024, PAIR)
      .max(65_534, PAIR)
      .refine((value) => value % 2 === 0, PAIR)
      .nullable()
      .default(null),
    /** The address of this machine that it is bound to. */
    listenHost: host.default('127.0.0.1'),
    mayJoin: z.enum(MAY_JOIN).default('nobody'),
    /** Who may connect if `mayJoin` is `listed`: addresses and networks. */
    hearFrom: z.array(sender, SENDER).max(32).default([]),
    /** True to announce it on the network of its address, and to look for others there (DNS-SD). */
    byName: z.boolean().default(false),
    /** Whom it calls, until they answer: `host` or `host:port`, with the first port of their pair, or `"a name"` that is found. */
    calls: z
      .array(
        z.string().refine((text) => machineOf(text) !== null || foundNameOf(text) !== null, WHOM),
        WHOM,
      )
      .max(16, 'A session calls up to 16 machines.')
      .default([]),
    /** How long after it was played there what is heard is played here, in ms; null to play it when it arrives. */
    evenMs: whole(1, 1000, EVENLY).nullable().default(null),
  }),
  z.object({
    ...common,
    ...hearing,
    kind: z.literal('osc-udp'),
    /** The host to send to. */
    host,
    port,
    /** True to send to the last sender instead. Until somebody has sent, messages go to `host`. */
    answer: z.boolean().default(false),
  }),
  z.object({
    ...common,
    ...hearing,
    kind: z.literal('osc-tcp'),
    /** The host to connect to. */
    host,
    port,
    /** How packets are separated in the stream: as in OSC 1.1 or OSC 1.0. */
    framing: z.enum(['slip', 'length']),
  }),
  z.object({
    ...common,
    ...hearing,
    kind: z.literal('osc-ws'),
    /** The host to connect to; null if others connect to us. */
    host: host.nullable(),
    port,
    /** A secret at the end of the address, so that only those who know it can connect; empty for none. A new line gets one. */
    secret: z
      .string()
      .regex(/^[A-Za-z0-9_-]*$/, SECRET)
      .max(64, SECRET)
      .default(''),
    /** Pages that a browser may connect from, each by its exact origin (RFC 6454). Programs that are no browser name none, and need not be here. */
    pages: z.array(origin).max(16, 'At most 16 pages.').default([]),
    /** True if pages without an origin may connect too: opened files, but also frames that any page of the internet can create. */
    namelessPages: z.boolean().default(false),
  }),
  z.object({
    ...common,
    ...hearing,
    kind: z.literal('artnet'),
    universe: whole(0, 32_767, 'An Art-Net universe is a number from 0 to 32767.'),
    /** The host to send levels to; null for a line that only hears. */
    host: host.nullable(),
    port,
    /** True if `host` is the broadcast address of a network. */
    everyone: z.boolean().default(false),
  }),
  z.object({
    ...common,
    ...hearing,
    kind: z.literal('sacn'),
    universe: whole(1, 63_999, 'An sACN universe is a number from 1 to 63999.'),
    /** The host to send levels to; null for a line that only hears, or that uses multicast. */
    host: host.nullable(),
    port,
    /** True to send and listen on the multicast address of the universe. */
    everyone: z.boolean().default(false),
    priority: whole(0, 200, 'A priority is a number from 0 to 200; 100 is usual.').default(100),
    sourceName: text(60, 'A source name has at most 60 characters.')
      .min(1, 'Give the source a name.')
      .default(SACN_SOURCE_NAME),
  }),
  z.object({
    ...common,
    kind: z.literal('sound-browser'),
    /** The name of the sound device in the browser: an input, an output, or both. */
    port: portName('Choose a device, or write its name.'),
    channel: soundChannel,
    levelDb: soundLevel,
  }),
  z.object({
    ...common,
    kind: z.literal('sound-machine'),
    /** The sound device of the server's machine that is listened to, as the system names it; empty for none. */
    hears: deviceName,
    /** The one that timecode is played to; empty for none. */
    plays: deviceName,
    channel: soundChannel,
    levelDb: soundLevel,
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
    /** False until somebody has switched typing on. Nothing is typed before that. */
    on: z.boolean().default(false),
    /** Keys are typed only while the title of the front window contains this text; empty for any window. */
    windowTitle: text(120, 'A title has at most 120 characters.').default(''),
  }),
]);
export type Line = z.infer<typeof lineSchema>;
/** A line without an id. What is left out gets its default. */
export type NewLine = {
  [K in Line['kind']]: Omit<Extract<z.input<typeof lineSchema>, { kind: K }>, 'id'>;
}[Line['kind']];

/** A line with the defaults for all that is not given. @throws ZodError */
export const makeLine = <K extends Line['kind']>(
  given: Extract<z.input<typeof lineSchema>, { kind: K }>,
): LineOf<K> => lineSchema.parse(given) as LineOf<K>;
export type LineKind = Line['kind'];
export type LineOf<K extends LineKind> = Extract<Line, { kind: K }>;

export const PROTOCOLS = ['midi', 'osc', 'dmx', 'keys', 'sound'] as const;
export type Protocol = (typeof PROTOCOLS)[number];

/** The protocol of each kind of line. */
export const CARRIES: Record<LineKind, Protocol> = {
  'midi-browser': 'midi',
  'midi-machine': 'midi',
  'midi-virtual': 'midi',
  'midi-inside': 'midi',
  'midi-network': 'midi',
  'osc-udp': 'osc',
  'osc-tcp': 'osc',
  'osc-ws': 'osc',
  artnet: 'dmx',
  sacn: 'dmx',
  'sound-browser': 'sound',
  'sound-machine': 'sound',
  'keys-inside': 'keys',
  'keys-browser': 'keys',
  'keys-machine': 'keys',
};

/** Whether messages can be lost on the way to a line, one by one. */
export const losesMessages = (kind: LineKind): boolean => kind === 'midi-network';

/** The protocols that mappings can hear and send. Lines with sound carry only timecode. */
export type MappedProtocol = Exclude<Protocol, 'sound'>;
export const isMapped = (protocol: Protocol): protocol is MappedProtocol => protocol !== 'sound';
/** The protocols that are routed. */
export type RoutedProtocol = Exclude<MappedProtocol, 'keys'>;
export const isRouted = (protocol: Protocol): protocol is RoutedProtocol =>
  isMapped(protocol) && protocol !== 'keys';
/** Whether mappings and moments can send on a line. */
export const isSentOn = ({ kind }: Line): boolean => kind !== 'keys-browser' && isMapped(CARRIES[kind]);

/** The name under which a browser carries the sound of a line. */
export const soundPort = ({
  port: device,
  channel,
}: Pick<LineOf<'sound-browser'>, 'port' | 'channel'>): string => `${device}, channel ${channel + 1}`;
