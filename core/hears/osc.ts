/**
 * An OSC message by its address or a pattern. The first number among the arguments is the value, or the argument with the number `argument`, counted
 * from 1; a message without one counts as 1.
 */
import { z } from 'zod';
import { NO_PARTS } from '../mapping/heard.js';
import { compilePattern, isPattern, openParts } from '../osc/pattern.js';
import { oscPlace } from '../place.js';
import { lineId, oscAddress, whole } from '../show/fields.js';
import type { OscArgument, OscSignal } from '../signal.js';
import type { HearKindOf } from './kind.js';
import { another } from './miss.js';

/** Braces without a comma, as in `/clip/{n}`. */
const ONE_WORD = /\{[^{},]*\}/;
const OPEN_PART =
  'Braces list alternatives, like /deck/{port,starboard}. To leave a part open, write *: what stands there can be sent on as {1}.';

const schema = z.object({
  message: z.literal('osc'),
  lineId,
  // One word in braces is a pattern of OSC 1.0 that matches just that word. Who writes it means an open part.
  address: oscAddress.refine((text) => !ONE_WORD.test(text), OPEN_PART),
  argument: whole(0, 16, 'An argument is a number from 1 to 16, or the first number.').default(0),
});

type Texts = readonly [string, number][];

/** Returns the first number in the open parts of an address. */
const numberOf = (parts: readonly string[]): number => {
  const number = parts.find((part) => /^\d{1,9}$/.test(part));
  return number === undefined ? 0 : Number(number);
};

/** Returns the number of an argument; null if it is not a number. */
function valueOf(arg: OscArgument, texts: Texts): number | null {
  switch (arg.type) {
    case 'f':
    case 'i':
    case 'd':
      return arg.value;
    case 'h':
      return Number(arg.value);
    case 'T':
      return 1;
    case 'F':
      return 0;
    case 's': {
      if (texts.length === 0) return null;
      const row = texts.find(([text]) => text === arg.value);
      return row ? row[1] : NaN;
    }
    default:
      return null;
  }
}

/** @returns NaN for a text that is not in the table; 1 for a message without any number */
function oscValue({ args }: OscSignal, argument: number, texts: Texts): number {
  if (argument > 0) {
    const arg = args[argument - 1];
    return (arg && valueOf(arg, texts)) ?? 1;
  }
  for (const arg of args) {
    if (arg.type === 'T') continue; // said by its being there
    const value = valueOf(arg, texts);
    if (value !== null) return value;
  }
  return 1;
}

export const osc: HearKindOf<typeof schema> = {
  schema,
  words: 'OSC message',
  typed: '',
  wanted: 'OSC',
  protocol: 'osc',
  number: null,
  value: null,
  holds: false,
  start: (from) => ({ message: 'osc', lineId: from.lineId, address: '/any/thing', argument: 0 }),
  title: ({ address }) => address,
  detail: ({ argument }) => (argument === 0 ? 'first number' : `argument ${argument}`),
  controls: ({ address }) => [oscPlace(address)],
  spot: ({ address }) => ({ in: 'osc', address }),
  reader({ address, argument }, texts) {
    const partsOf = isPattern(address) ? openParts(address) : null;
    return (signal, into) => {
      if (signal.kind !== 'osc') return 'value';
      const value = oscValue(signal, argument, texts);
      if (Number.isNaN(value)) return 'noText';
      into.value = value;
      into.parts = partsOf ? partsOf(signal.address) : NO_PARTS;
      into.number = partsOf ? numberOf(into.parts) : 0;
      into.channel = 0;
      return null;
    };
  },
  misses(hear, signal) {
    if (signal.kind !== 'osc') return [another('OSC', signal)];
    if (compilePattern(hear.address)(signal.address)) return [];
    return [
      { words: `wanted ${hear.address}, got ${signal.address}`, hear: { ...hear, address: signal.address } },
    ];
  },
  column: {
    write: ({ address }) => address,
    read: (address) => ({ ok: true, value: { address } }),
  },
};
