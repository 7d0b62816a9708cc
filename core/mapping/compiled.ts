/** A mapping made ready for the way of a signal: nothing is looked up, parsed or allocated when it fires. */
import type { Mapping } from '../show/mapping.js';
import { HEAR_MESSAGES } from './hear.js';
import { compileSend, type CompiledSend } from './sends.js';
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
  /** It hears presses and releases. */
  holds: boolean;
  /** Heard value to sent value. */
  shape(heard: number): number;
  send: CompiledSend;
  /** Notes it holds now, as channel << 7 | number. */
  held: Set<number>;
  /** What it sent last sounds, or is held, until it is released. */
  sounding: boolean;
  // What happened last, for those who look on.
  fired: number;
  lastHeard: number;
  lastShaped: number;
  lastAt: number;
  reported: boolean;
}

export type MappingLines = Pick<CompiledMapping, 'inLine' | 'outLine' | 'outMuted'>;

export function compileMapping(source: Mapping, order: number, lines: MappingLines): CompiledMapping {
  return {
    source,
    order,
    ...lines,
    usesNumber: source.shape.from === 'number',
    holds: HEAR_MESSAGES[source.hear.message].holds,
    shape: (heard) => shapeValue(source.shape, heard),
    send: compileSend(source.send),
    held: new Set(),
    sounding: false,
    fired: 0,
    lastHeard: 0,
    lastShaped: 0,
    lastAt: 0,
    reported: true,
  };
}
