/**
 * An index from line, kind, channel and number to the mappings that hear them, in the order of the sheet. The cost of a lookup does not depend on
 * the number of mappings.
 */
import { decodeShowControl } from '../midi/show-control.js';
import { fixedStart, readSysexTemplate } from '../midi/sysex-template.js';
import { CHANNEL_KINDS, type ChannelKind, type Signal } from '../signal.js';
import type { CompiledMapping } from './compiled.js';
import { channelsOf, numbersOf } from '../hears/parts.js';
import { HEARS } from '../hears.js';
import { createOscLists, inOrder, type OscLists } from './osc-lists.js';

const CELLS = 16 * 128;
const NOBODY: readonly CompiledMapping[] = [];

/** The place of each kind in `CHANNEL_KINDS`. */
const KIND_AT = Object.fromEntries(CHANNEL_KINDS.map((kind, at) => [kind, at])) as Record<
  ChannelKind,
  number
>;

/** The mappings that hear one kind of MIDI message on one line. */
interface Group {
  /** Mappings that hear every channel and number. */
  wide: CompiledMapping[];
  /** By channel << 7 | number: `wide`, merged with the mappings that hear just that one. */
  cells: CompiledMapping[][];
}

/** Indexed by slot, 1–512. */
type SlotGroup = CompiledMapping[][];

/** Lists of mappings by numbers that say what they hear. */
type Keyed = Map<number, CompiledMapping[]>;

/** The mappings that hear combined controllers. */
interface Assembled {
  /** By channel << 5 | number. */
  pairs: Keyed;
  /** By registered << 18 | channel << 14 | parameter. */
  parameters: Keyed;
}

/** The mappings that hear system-exclusive messages, by length and by the bytes that do not vary. */
interface SysexGroup {
  templates: { length: number; fixed: number; mappings: Map<string, CompiledMapping[]> }[];
  /** Show control by command and cue; an empty cue stands for any. */
  showControl: Map<string, CompiledMapping[]>;
}

export interface MappingIndex {
  /** The cost depends on what the mapping hears, not on the size of the show. */
  add(mapping: CompiledMapping): void;
  /** Adds one that comes after all that were added, whatever its order says by now. */
  append(mapping: CompiledMapping): void;
  remove(mapping: CompiledMapping): void;
  /** Returns the mappings that hear a signal on a line. The list belongs to the index: do not change or keep it. */
  find(line: number, signal: Signal): readonly CompiledMapping[];
  /** Returns whether any mapping hears combined controllers on this line. */
  assembles(line: number): boolean;
  /** Returns the mappings that hear a 14-bit controller. */
  findPair(line: number, channel: number, number: number): readonly CompiledMapping[];
  findParameter(
    line: number,
    channel: number,
    registered: boolean,
    number: number,
  ): readonly CompiledMapping[];
}

function listAt<K>(map: Map<K, CompiledMapping[]>, key: K): CompiledMapping[] {
  const known = map.get(key);
  if (known) return known;
  const list: CompiledMapping[] = [];
  map.set(key, list);
  return list;
}

const pairKey = (channel: number, number: number): number => (channel << 5) | number;
const parameterKey = (channel: number, registered: boolean, number: number): number =>
  (Number(registered) << 18) | (channel << 14) | number;

const startOf = (bytes: ArrayLike<number>, length: number): string => {
  let text = '';
  for (let at = 0; at < length; at++) text += String.fromCharCode(bytes[at]!);
  return text;
};

/** Returns the list of mappings whose template has the same length and fixed bytes; null for an invalid template. */
function templateList(group: SysexGroup, template: string): CompiledMapping[] | null {
  const read = readSysexTemplate(template, true);
  if (!read.ok) return null;
  const { length } = read.value.parts;
  const start = fixedStart(read.value);
  let found = group.templates.find((one) => one.length === length && one.fixed === start.length);
  if (!found) {
    found = { length, fixed: start.length, mappings: new Map() };
    group.templates.push(found);
  }
  return listAt(found.mappings, startOf(start, start.length));
}

function findSysex(group: SysexGroup, bytes: Uint8Array): readonly CompiledMapping[] {
  const found: CompiledMapping[] = [];
  for (const { length, fixed, mappings } of group.templates)
    if (length === bytes.length) found.push(...(mappings.get(startOf(bytes, fixed)) ?? NOBODY));
  const said = group.showControl.size > 0 ? decodeShowControl(bytes) : null;
  if (said) {
    found.push(...(group.showControl.get(`${said.command} `) ?? NOBODY));
    if (said.cue !== '') found.push(...(group.showControl.get(`${said.command} ${said.cue}`) ?? NOBODY));
  }
  return found.sort(inOrder);
}

type Visit = (list: CompiledMapping[], mapping: CompiledMapping) => void;

/** Inserts a mapping in the order of the sheet, which is mostly at the end. */
function insert(list: CompiledMapping[], mapping: CompiledMapping): void {
  let at = list.length;
  while (at > 0 && list[at - 1]!.order > mapping.order) at--;
  list.splice(at, 0, mapping);
}

const push = (list: CompiledMapping[], mapping: CompiledMapping): void => void list.push(mapping);

function removeFrom(list: CompiledMapping[], mapping: CompiledMapping): void {
  const at = list.indexOf(mapping);
  if (at >= 0) list.splice(at, 1);
}

function newGroup(): Group {
  const wide: CompiledMapping[] = [];
  return { wide, cells: new Array<CompiledMapping[]>(CELLS).fill(wide) };
}

/** Returns the cells that a mapping hears; null for all. */
function cellsOf({ source: { hear } }: CompiledMapping): number[] | null {
  const channels = channelsOf(hear);
  const [from, to] = numbersOf(hear);
  if (channels.length === 16 && to - from === 127) return null;
  const cells: number[] = [];
  for (const channel of channels)
    for (let number = from; number <= to; number++) cells.push((channel << 7) | number);
  return cells;
}

function addToGroup({ wide, cells }: Group, mapping: CompiledMapping, add: Visit): void {
  const own = cellsOf(mapping);
  if (!own) {
    add(wide, mapping);
    for (const cell of cells) if (cell !== wide) add(cell, mapping);
    return;
  }
  for (const cell of own) {
    if (cells[cell] === wide) cells[cell] = [...wide];
    add(cells[cell]!, mapping);
  }
}

function removeFromGroup({ wide, cells }: Group, mapping: CompiledMapping): void {
  removeFrom(wide, mapping);
  for (const cell of cellsOf(mapping) ?? cells.keys())
    if (cells[cell] !== wide) removeFrom(cells[cell]!, mapping);
}

export function createIndex(): MappingIndex {
  const groups: (Group | undefined)[] = [];
  const oscLists: (OscLists | undefined)[] = [];
  const slotGroups: (SlotGroup | undefined)[] = [];
  const keyGroups: (Map<string, CompiledMapping[]> | undefined)[] = [];
  const assembled: (Assembled | undefined)[] = [];
  const sysexGroups: (SysexGroup | undefined)[] = [];

  const assembledOf = (line: number): Assembled =>
    (assembled[line] ??= { pairs: new Map(), parameters: new Map() });
  const sysexOf = (line: number): SysexGroup =>
    (sysexGroups[line] ??= { templates: [], showControl: new Map() });

  /** Calls `visit` with every list that a mapping belongs in, and `inGroup` with the group of a mapping that hears plain MIDI. */
  function place(
    mapping: CompiledMapping,
    visit: Visit,
    inGroup: (group: Group, mapping: CompiledMapping) => void,
  ): void {
    const { hear } = mapping.source;
    const line = mapping.inLine;
    if (line < 0) return;
    const spot = HEARS[hear.message].spot(hear);
    switch (spot.in) {
      case 'osc':
        return visit((oscLists[line] ??= createOscLists()).at(spot.address), mapping);
      case 'slots': {
        const group = (slotGroups[line] ??= []);
        for (let slot = spot.slots[0]; slot <= spot.slots[1]; slot++) visit((group[slot] ??= []), mapping);
        return;
      }
      case 'keys':
        return visit(listAt((keyGroups[line] ??= new Map<string, CompiledMapping[]>()), spot.code), mapping);
      case 'pairs':
        for (const channel of channelsOf(hear))
          for (let number = spot.numbers[0]; number <= spot.numbers[1]; number++)
            visit(listAt(assembledOf(line).pairs, pairKey(channel, number)), mapping);
        return;
      case 'parameters':
        for (const channel of channelsOf(hear)) {
          const key = parameterKey(channel, spot.registered, spot.parameter);
          visit(listAt(assembledOf(line).parameters, key), mapping);
        }
        return;
      case 'templates': {
        const list = templateList(sysexOf(line), spot.template);
        return list ? visit(list, mapping) : undefined;
      }
      case 'showControl':
        return visit(listAt(sysexOf(line).showControl, `${spot.command} ${spot.cue}`), mapping);
      case 'cells':
        for (const kind of spot.kinds)
          inGroup((groups[line * CHANNEL_KINDS.length + KIND_AT[kind]] ??= newGroup()), mapping);
    }
  }

  return {
    add: (mapping) => place(mapping, insert, (group, one) => addToGroup(group, one, insert)),
    append: (mapping) => place(mapping, push, (group, one) => addToGroup(group, one, push)),
    remove: (mapping) => place(mapping, removeFrom, removeFromGroup),
    find(line, signal) {
      switch (signal.kind) {
        case 'osc':
          return oscLists[line]?.find(signal.address) ?? NOBODY;
        case 'slot':
          return slotGroups[line]?.[signal.slot] ?? NOBODY;
        case 'key':
          return keyGroups[line]?.get(signal.code) ?? NOBODY;
        case 'sysex': {
          const group = sysexGroups[line];
          return group ? findSysex(group, signal.bytes) : NOBODY;
        }
        case 'system':
        case 'timecode':
          return NOBODY;
        default: {
          const group = groups[line * CHANNEL_KINDS.length + KIND_AT[signal.kind]];
          return group ? group.cells[(signal.channel << 7) | signal.number]! : NOBODY;
        }
      }
    },
    assembles: (line) => assembled[line] !== undefined,
    findPair: (line, channel, number) => assembled[line]?.pairs.get(pairKey(channel, number)) ?? NOBODY,
    findParameter: (line, channel, registered, number) =>
      assembled[line]?.parameters.get(parameterKey(channel, registered, number)) ?? NOBODY,
  };
}
