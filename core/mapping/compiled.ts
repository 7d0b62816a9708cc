/** A mapping made ready for the way of a signal: nothing is looked up, parsed or allocated when it fires. */
import type { OscArgument, OscSignal } from '../signal.js';
import type { Mapping, OscArg } from '../show.js';
import { shapeValue } from './shape.js';

export interface CompiledMapping {
  source: Mapping;
  /** Its place in the sheet; what one signal makes several mappings send leaves in this order. */
  order: number;
  /** Index of the line it hears; -1 where that line is not there or is muted. */
  inLine: number;
  /** Index of the line it sends on; -1 where that line is not there. */
  outLine: number;
  /** Nothing leaves it, since the line it sends on is muted. */
  outMuted: boolean;
  usesNumber: boolean;
  /** Heard value to sent value. */
  shape(heard: number): number;
  /** Puts the shaped value into `signal`. */
  fill(shaped: number): void;
  /** What it sends; the same object every time, valid until it fires again. */
  signal: OscSignal;
  /** Notes it holds now, as channel << 7 | number. */
  held: Set<number>;
  // What happened last, for those who look on.
  fired: number;
  lastHeard: number;
  lastShaped: number;
  lastAt: number;
  reported: boolean;
}

function startArgument(arg: OscArg): OscArgument {
  switch (arg.type) {
    case 'h':
      return { type: 'h', value: BigInt(arg.value === 'shaped' ? 0 : Math.round(arg.value)) };
    case 'i':
      return { type: 'i', value: arg.value === 'shaped' ? 0 : toInt32(arg.value) };
    case 'f':
    case 'd':
      return { type: arg.type, value: arg.value === 'shaped' ? 0 : arg.value };
    case 's':
      return { type: 's', value: arg.value };
    default:
      return { type: arg.type };
  }
}

const toInt32 = (value: number): number =>
  Math.max(-2_147_483_648, Math.min(2_147_483_647, Math.round(value)));

export type MappingLines = Pick<CompiledMapping, 'inLine' | 'outLine' | 'outMuted'>;

export function compileMapping(source: Mapping, order: number, lines: MappingLines): CompiledMapping {
  const args = source.send.args.map(startArgument);
  const shaped = args.filter((_, i) => {
    const arg = source.send.args[i]!;
    return 'value' in arg && arg.type !== 's' && arg.value === 'shaped';
  });
  return {
    source,
    order,
    ...lines,
    usesNumber: source.shape.from === 'number',
    shape: (heard) => shapeValue(source.shape, heard),
    fill(value) {
      for (const arg of shaped) {
        if (arg.type === 'h') arg.value = BigInt(Math.round(value));
        else if (arg.type === 'i') arg.value = toInt32(value);
        else if (arg.type === 'f' || arg.type === 'd') arg.value = value;
      }
    },
    signal: { kind: 'osc', address: source.send.address, args },
    held: new Set(),
    fired: 0,
    lastHeard: 0,
    lastShaped: 0,
    lastAt: 0,
    reported: true,
  };
}
