/**
 * The index of a show's mappings: line, kind, channel and number lead straight to the mappings that
 * want them, in the order of the sheet. Ten thousand mappings cost a signal what ten do.
 */
import { decodeShowControl, SHOW_COMMANDS } from '../midi/show-control.js';
import { fixedStart, readSysexTemplate } from '../midi/sysex-template.js';
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

/** Lists of mappings by numbers that say what they hear. */
type Keyed = Map<number, CompiledMapping[]>;

/** Of what several controllers say together. */
interface Assembled {
  /** By channel << 5 | number. */
  pairs: Keyed;
  /** By registered << 18 | channel << 14 | parameter. */
  parameters: Keyed;
}

/** Of system-exclusive: by its length and the bytes that are the same in every message. */
interface SysexGroup {
  templates: { length: number; fixed: number; mappings: Map<string, CompiledMapping[]> }[];
  /** Show control by its command and cue; those that hear any cue under an empty one. */
  showControl: Map<string, CompiledMapping[]>;
}

export interface MappingIndex {
  /** Who hears this signal on the line with this index. The list is the index's own: read it, keep nothing of it. */
  find(line: number, signal: Signal): readonly CompiledMapping[];
  /** Whether anybody hears what several controllers say together on this line. */
  assembles(line: number): boolean;
  /** Who hears this controller of fourteen bits. */
  findPair(line: number, channel: number, number: number): readonly CompiledMapping[];
  findParameter(
    line: number,
    channel: number,
    registered: boolean,
    number: number,
  ): readonly CompiledMapping[];
}

function push<K>(map: Map<K, CompiledMapping[]>, key: K, mapping: CompiledMapping): void {
  const list = map.get(key);
  if (list) list.push(mapping);
  else map.set(key, [mapping]);
}

const pairKey = (channel: number, number: number): number => (channel << 5) | number;
const parameterKey = (channel: number, registered: boolean, number: number): number =>
  (Number(registered) << 18) | (channel << 14) | number;

const startOf = (bytes: ArrayLike<number>, length: number): string => {
  let text = '';
  for (let at = 0; at < length; at++) text += String.fromCharCode(bytes[at]!);
  return text;
};

function addTemplate(group: SysexGroup, template: string, mapping: CompiledMapping): void {
  const read = readSysexTemplate(template, true);
  if (!read.ok) return;
  const { length } = read.value.parts;
  const start = fixedStart(read.value);
  let list = group.templates.find((one) => one.length === length && one.fixed === start.length);
  if (!list) {
    list = { length, fixed: start.length, mappings: new Map() };
    group.templates.push(list);
  }
  push(list.mappings, startOf(start, start.length), mapping);
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
  return found.length > 1 ? found.sort(inOrder) : found;
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
    const channels = channelsOf(hear);
    const [numberFrom, numberTo] = numbersOf(hear);
    if (channels.length === 16 && numberTo - numberFrom === 127) {
      wide.push(mapping);
      continue;
    }
    for (const channel of channels) {
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
  const assembled: (Assembled | undefined)[] = [];
  const sysexGroups: (SysexGroup | undefined)[] = [];
  const gathered = new Map<number, CompiledMapping[]>();
  for (const mapping of mappings) {
    const { hear } = mapping.source;
    const line = mapping.inLine;
    if (line < 0) continue;
    switch (hear.message) {
      case 'osc': {
        const group = (oscGroups[line] ??= { exact: new Map<string, CompiledMapping[]>(), patterns: [] });
        if (isPattern(hear.address)) group.patterns.push({ matches: compilePattern(hear.address), mapping });
        else push(group.exact, hear.address, mapping);
        break;
      }
      case 'slot': {
        const group = (slotGroups[line] ??= []);
        const [from, to] = slotsOf(hear);
        for (let slot = from; slot <= to; slot++) (group[slot] ??= []).push(mapping);
        break;
      }
      case 'keyPressed':
      case 'keyHeld':
        push((keyGroups[line] ??= new Map<string, CompiledMapping[]>()), hear.code, mapping);
        break;
      case 'control14': {
        const { pairs } = (assembled[line] ??= { pairs: new Map(), parameters: new Map() });
        const [from, to] = hear.numbers === 'any' ? [0, 31] : hear.numbers;
        for (const channel of channelsOf(hear))
          for (let number = from; number <= to; number++) push(pairs, pairKey(channel, number), mapping);
        break;
      }
      case 'parameter': {
        const { parameters } = (assembled[line] ??= { pairs: new Map(), parameters: new Map() });
        for (const channel of channelsOf(hear))
          push(parameters, parameterKey(channel, hear.registered, hear.parameter), mapping);
        break;
      }
      case 'sysex':
        addTemplate(
          (sysexGroups[line] ??= { templates: [], showControl: new Map() }),
          hear.template,
          mapping,
        );
        break;
      case 'showControl': {
        const { showControl } = (sysexGroups[line] ??= { templates: [], showControl: new Map() });
        push(showControl, `${SHOW_COMMANDS[hear.command]} ${hear.cue}`, mapping);
        break;
      }
      default:
        for (const kind of HEAR_MESSAGES[hear.message].kinds)
          push(gathered, line * CHANNEL_KINDS.length + KIND_AT[kind]!, mapping);
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
      if (signal.kind === 'sysex') {
        const group = sysexGroups[line];
        return group ? findSysex(group, signal.bytes) : NOBODY;
      }
      const at = KIND_AT[signal.kind];
      if (at === undefined || !('channel' in signal)) return NOBODY;
      const group = groups[line * CHANNEL_KINDS.length + at];
      return group ? group.cells[(signal.channel << 7) | signal.number]! : NOBODY;
    },
    assembles: (line) => assembled[line] !== undefined,
    findPair: (line, channel, number) => assembled[line]?.pairs.get(pairKey(channel, number)) ?? NOBODY,
    findParameter: (line, channel, registered, number) =>
      assembled[line]?.parameters.get(parameterKey(channel, registered, number)) ?? NOBODY,
  };
}
