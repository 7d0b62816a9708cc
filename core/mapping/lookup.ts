/**
 * The index of a show's mappings: line, kind, channel and number lead straight to the mappings that
 * want them, in the order of the sheet. Ten thousand mappings cost a signal what ten do.
 */
import { compilePattern, isPattern } from '../osc/pattern.js';
import { CHANNEL_KINDS, type Signal } from '../signal.js';
import type { CompiledMapping } from './compiled.js';
import { channelsOf, HEAR_MESSAGES, numbersOf, slotsOf } from './hear.js';

const CELLS = 16 * 128;
const NOBODY: readonly CompiledMapping[] = [];
const KIND_AT = Object.fromEntries(CHANNEL_KINDS.map((kind, at) => [kind, at])) as Record<
  string,
  number | undefined
>;

/** The mappings that hear one kind of message on one line. */
interface Group {
  /** By channel << 7 | number; where nobody asks for just that one, those that hear all of them. */
  cells: CompiledMapping[][];
}

interface OscGroup {
  exact: Map<string, CompiledMapping[]>;
  patterns: { matches: (address: string) => boolean; mapping: CompiledMapping }[];
}

/** By slot, 1–512. */
type SlotGroup = CompiledMapping[][];

export interface MappingIndex {
  /** Who hears this signal on the line with this index. The list is the index's own: read it, keep nothing of it. */
  find(line: number, signal: Signal): readonly CompiledMapping[];
}

const inOrder = (a: CompiledMapping, b: CompiledMapping): number => a.order - b.order;

/** Two lists in the order of the sheet, as one. */
function merge(a: CompiledMapping[], b: CompiledMapping[]): CompiledMapping[] {
  return b.length === 0 ? a : [...a, ...b].sort(inOrder);
}

function buildGroup(mappings: CompiledMapping[]): Group {
  const wide: CompiledMapping[] = [];
  const cells: CompiledMapping[][] = new Array<CompiledMapping[]>(CELLS).fill(wide);
  for (const mapping of mappings) {
    const { hear } = mapping.source;
    const [channelFrom, channelTo] = channelsOf(hear);
    const [numberFrom, numberTo] = numbersOf(hear);
    if (channelTo - channelFrom === 15 && numberTo - numberFrom === 127) {
      wide.push(mapping);
      continue;
    }
    for (let channel = channelFrom; channel <= channelTo; channel++) {
      for (let number = numberFrom; number <= numberTo; number++) {
        const cell = (channel << 7) | number;
        if (cells[cell] === wide) cells[cell] = [mapping];
        else cells[cell]!.push(mapping);
      }
    }
  }
  if (wide.length > 0) {
    for (let cell = 0; cell < CELLS; cell++)
      if (cells[cell] !== wide) cells[cell] = merge(cells[cell]!, wide);
  }
  return { cells };
}

function findOsc(group: OscGroup, address: string): readonly CompiledMapping[] {
  if (isPattern(address)) {
    // A pattern that arrives is matched against every address that is heard (OSC 1.0, dispatching).
    const matches = compilePattern(address);
    const found = [...group.exact].filter(([heard]) => matches(heard)).flatMap(([, mappings]) => mappings);
    return found.sort(inOrder);
  }
  const exact = group.exact.get(address) ?? NOBODY;
  if (group.patterns.length === 0) return exact;
  const more = group.patterns.filter((pattern) => pattern.matches(address)).map((pattern) => pattern.mapping);
  return more.length === 0 ? exact : [...exact, ...more].sort(inOrder);
}

export function buildIndex(mappings: CompiledMapping[]): MappingIndex {
  const groups: (Group | undefined)[] = [];
  const oscGroups: (OscGroup | undefined)[] = [];
  const slotGroups: (SlotGroup | undefined)[] = [];
  const keyGroups: (Map<string, CompiledMapping[]> | undefined)[] = [];
  const gathered = new Map<number, CompiledMapping[]>();
  for (const mapping of mappings) {
    const { hear } = mapping.source;
    const line = mapping.inLine;
    if (line < 0) continue;
    if (hear.message === 'osc') {
      const group = (oscGroups[line] ??= { exact: new Map<string, CompiledMapping[]>(), patterns: [] });
      if (isPattern(hear.address)) group.patterns.push({ matches: compilePattern(hear.address), mapping });
      else group.exact.set(hear.address, [...(group.exact.get(hear.address) ?? []), mapping]);
      continue;
    }
    if (hear.message === 'slot') {
      const group = (slotGroups[line] ??= []);
      const [from, to] = slotsOf(hear);
      for (let slot = from; slot <= to; slot++) (group[slot] ??= []).push(mapping);
      continue;
    }
    if (hear.message === 'keyPressed' || hear.message === 'keyHeld') {
      const group = (keyGroups[line] ??= new Map<string, CompiledMapping[]>());
      group.set(hear.code, [...(group.get(hear.code) ?? []), mapping]);
      continue;
    }
    for (const kind of HEAR_MESSAGES[hear.message].kinds) {
      const key = line * CHANNEL_KINDS.length + KIND_AT[kind]!;
      const list = gathered.get(key);
      if (list) list.push(mapping);
      else gathered.set(key, [mapping]);
    }
  }
  for (const [key, list] of gathered) groups[key] = buildGroup(list);

  return {
    find(line, signal) {
      if (signal.kind === 'osc') {
        const group = oscGroups[line];
        return group ? findOsc(group, signal.address) : NOBODY;
      }
      if (signal.kind === 'slot') return slotGroups[line]?.[signal.slot] ?? NOBODY;
      if (signal.kind === 'key') return keyGroups[line]?.get(signal.code) ?? NOBODY;
      const at = KIND_AT[signal.kind];
      if (at === undefined || !('channel' in signal)) return NOBODY;
      const group = groups[line * CHANNEL_KINDS.length + at];
      return group ? group.cells[(signal.channel << 7) | signal.number]! : NOBODY;
    },
  };
}
