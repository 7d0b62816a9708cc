/** An OSC message: an address with places for what was heard, and arguments. */
import { z } from 'zod';
import type { Heard } from '../mapping/heard.js';
import type { Rgb } from '../mapping/colour.js';
import { readSentAddress, type SentAddress } from '../osc/sent-address.js';
import { oscPlace } from '../place.js';
import { finite, sentAddress } from '../show/fields.js';
import { words } from '../show/text.js';
import type { OscArgument, Signal } from '../signal.js';
import { shownValue } from './channel-words.js';
import { plain, rgbOf } from './compiled.js';
import { SENT, type SendKindOf } from './kind.js';

/** What can be filled into an argument: the shaped value, the heard number, or a part of the shape's colour. */
export const OSC_PLACES = ['shaped', 'number', 'red', 'green', 'blue'] as const;
export type OscPlace = (typeof OSC_PLACES)[number];

export const oscArgSchema = z.discriminatedUnion('type', [
  z.object({ type: z.enum(['f', 'i', 'd', 'h']), value: z.union([z.enum(OSC_PLACES), finite]) }),
  /** A text; the same places in braces as in the address are filled. */
  z.object({ type: z.literal('s'), value: words(1000, 'A text has at most 1000 characters.') }),
  z.object({ type: z.enum(['T', 'F', 'N', 'I']) }),
]);
export type OscArg = z.infer<typeof oscArgSchema>;

export const OSC_TYPE_WORDS: Readonly<Record<OscArg['type'], string>> = {
  f: 'float',
  i: 'integer',
  d: 'double',
  h: 'long integer',
  s: 'text',
  T: 'true',
  F: 'false',
  N: 'nil',
  I: 'impulse',
};

/** The names of what can be filled into an argument. */
export const PLACE_WORDS: Readonly<Record<OscPlace, string>> = {
  shaped: 'shaped value',
  number: 'heard number',
  red: 'red',
  green: 'green',
  blue: 'blue',
};

/** The arguments of a send: `float`, `text “go”, integer 3`, `no arguments`. */
export function argsWords(args: readonly OscArg[]): string {
  if (args.length === 0) return 'no arguments';
  return args
    .map((arg) => {
      const type = OSC_TYPE_WORDS[arg.type];
      if (!('value' in arg)) return type;
      if (arg.type === 's') return `text “${arg.value}”`;
      if (arg.value === 'shaped') return type;
      return `${type} ${typeof arg.value === 'number' ? arg.value : PLACE_WORDS[arg.value]}`;
    })
    .join(', ');
}

const isShaped = (arg: OscArg): boolean => 'value' in arg && arg.value === 'shaped';
/** Returns the index of the argument that holds the shaped value; -1 for none. */
export const shapedArgument = (args: readonly OscArg[]): number => args.findIndex(isShaped);

const toInt32 = (value: number): number =>
  Math.max(-2_147_483_648, Math.min(2_147_483_647, Math.round(value)));

const fixedOf = (value: number | string): number => (typeof value === 'number' ? value : 0);

function startArgument(arg: OscArg): OscArgument {
  switch (arg.type) {
    case 'h':
      return { type: 'h', value: BigInt(Math.round(fixedOf(arg.value))) };
    case 'i':
      return { type: 'i', value: toInt32(fixedOf(arg.value)) };
    case 'f':
    case 'd':
      return { type: arg.type, value: fixedOf(arg.value) };
    case 's':
      return { type: 's', value: arg.value };
    default:
      return { type: arg.type };
  }
}

/** Writes a value into an argument that is not fixed. */
type FillArgument = (shaped: number, heard: Heard, rgb: Rgb) => void;

function fillerOf(arg: OscArg, argument: OscArgument): FillArgument | null {
  if (arg.type === 's' && argument.type === 's') {
    const text = readSentAddress(arg.value);
    if (!text.ok || text.value.fixed) return null;
    return (_, heard) => (argument.value = text.value.fill(heard));
  }
  if (!('value' in arg) || typeof arg.value !== 'string' || arg.type === 's') return null;
  const place = arg.value;
  // A part of a colour is 0 to 1, or 0 to 255 in whole numbers.
  const scale = arg.type === 'i' || arg.type === 'h' ? 255 : 1;
  return (shaped, heard, rgb) => {
    const value =
      place === 'shaped' ? shaped : place === 'number' ? heard.number : rgb[place as keyof Rgb] * scale;
    if (argument.type === 'h') argument.value = BigInt(Math.round(value));
    else if (argument.type === 'i') argument.value = toInt32(value);
    else if (argument.type === 'f' || argument.type === 'd') argument.value = value;
  };
}

const schema = z.object({
  kind: z.literal('osc'),
  ...SENT,
  address: sentAddress,
  args: z.array(oscArgSchema).max(16, 'A message has at most 16 arguments here.'),
});

export const osc: SendKindOf<typeof schema> = {
  schema,
  words: 'OSC message',
  protocol: 'osc',
  out: [0, 1],
  holds: false,
  ramps: true,
  start: ({ lineId, delayMs, delayBeats }) => ({
    kind: 'osc',
    lineId,
    delayMs,
    delayBeats,
    address: '/new/address',
    args: [{ type: 'f', value: 'shaped' }],
  }),
  compile(send, { colour }) {
    const args = send.args.map(startArgument);
    const fillers = args.flatMap((argument, at) => fillerOf(send.args[at]!, argument) ?? []);
    const read = readSentAddress(send.address);
    const address: SentAddress | null = read.ok && !read.value.fixed ? read.value : null;
    const signal: Signal = { kind: 'osc', address: send.address, args };
    const made = plain([signal], () => true);
    if (!address && fillers.length === 0) return made;
    const [only] = args;
    // The send that a new mapping begins with has the shortest code.
    if (!address && fillers.length === 1 && only?.type === 'f' && isShaped(send.args[0]!))
      return {
        ...made,
        fill(shaped) {
          only.value = shaped;
          return 'signals';
        },
      };
    return {
      ...made,
      fill(shaped, heard) {
        if (address) signal.address = address.fill(heard);
        const rgb = rgbOf(colour, shaped);
        for (let at = 0; at < fillers.length; at++) fillers[at]!(shaped, heard, rgb);
        return 'signals';
      },
    };
  },
  title: ({ address }) => address,
  detail: ({ args }) => argsWords(args),
  said({ address, args }, value) {
    if (args.some(isShaped)) return `${address} ${shownValue(value)}`;
    return args.length > 0 ? `${address} ${argsWords(args)}` : address;
  },
  next: (send, step) => ({
    ...send,
    // Counts up the last number in the address.
    address: send.address.replace(/\d{1,6}(?=[^\d{}]*$)/, (digits) => String(Number(digits) + step)),
  }),
  typed: ({ address, args }, value) => (args.length === 0 ? address : `${address} ${value}`),
  place: ({ address }) => (address.includes('{') ? null : oscPlace(address)),
  leaves: ({ address }) => (address.includes('{') ? [] : [oscPlace(address)]),
  column: {
    write: ({ address }) => address,
    read: (address) => ({ ok: true, value: { address } }),
  },
};
