/** Why a message did what it did: what each mapping and route made of it, the nearest first, and what would change that. */
import { keyWords } from './keys/codes.js';
import { channelsOf, HEAR_MESSAGES, numbersOf, slotsOf, wantsValue } from './mapping/hear.js';
import { mappingName, whenWords } from './mapping/words.js';
import { COMMAND_WORDS, decodeShowControl, SHOW_COMMANDS, type ShowCommand } from './midi/show-control.js';
import { matchSysex, readSysexTemplate } from './midi/sysex-template.js';
import { noteName, type MiddleC } from './midi/words.js';
import { compilePattern } from './osc/pattern.js';
import { compilePass } from './routes/compiled.js';
import { routeWords } from './routes/words.js';
import type { ChannelSignal, Signal } from './signal.js';
import type { Show } from './show.js';
import type { Hear } from './show/hear.js';
import type { Mapping } from './show/mapping.js';
import { writeChannels, writeSpan } from './typed/range.js';

/** The change that would have made a mapping fire. */
export interface Mend {
  hear?: Hear;
  on?: true;
  /** A bank to switch on. */
  bankId?: string;
  /** A line to unmute. */
  unmute?: string;
}

export interface Account {
  mappingId: string;
  name: string;
  /** What kept it from firing, in words: `wanted channel 3, got 4`. Empty if nothing did. */
  missed: string[];
  /** Where nothing was missed: the condition on which it is heeded, in words; empty for always. */
  only: string;
  /** Null where nothing was missed, or where it hears another sort of message altogether. */
  mend: Mend | null;
}

/** One thing that a mapping wanted otherwise. */
interface Miss {
  words: string;
  /** The hear that would not have missed it; null where that would be another mapping. */
  hear: Hear | null;
}

const KIND_WORDS: Record<ChannelSignal['kind'], string> = {
  noteOn: 'a press',
  noteOff: 'a release',
  polyPressure: 'pressure on a note',
  controlChange: 'a control change',
  programChange: 'a program change',
  channelPressure: 'channel pressure',
  pitchBend: 'pitch bend',
};

const WANTED: Record<Hear['message'], string> = {
  pressed: 'a press',
  released: 'a release',
  held: 'a press or a release',
  control: 'a control change',
  notePressure: 'pressure on a note',
  program: 'a program change',
  pressure: 'channel pressure',
  bend: 'pitch bend',
  control14: 'a 14-bit control change',
  parameter: 'a parameter (RPN or NRPN)',
  sysex: 'other system-exclusive',
  showControl: 'show control',
  osc: 'OSC',
  slot: 'a DMX slot',
  keyPressed: 'a key going down',
  keyHeld: 'a key',
};

/** What came, as one would say it beside what was wanted. */
function cameWords(signal: Signal): string {
  if ('channel' in signal) return KIND_WORDS[signal.kind];
  switch (signal.kind) {
    case 'osc':
      return 'OSC';
    case 'slot':
      return 'a DMX slot';
    case 'key':
      return signal.down ? 'a key going down' : 'a key coming up';
    case 'sysex':
      return 'system-exclusive';
    case 'system':
      return 'clock or another system message';
  }
}

const another = (hear: Hear, signal: Signal): Miss => ({
  words: `wanted ${WANTED[hear.message]}, got ${cameWords(signal)}`,
  hear: null,
});

/** `force exactly 97`, `a level of 1–255` */
function valueMiss(hear: Hear, what: string, value: number): Miss[] {
  if (!('values' in hear) || hear.values === 'any' || wantsValue(hear, value)) return [];
  const [from, to] = hear.values;
  const wanted = from === to ? `${what} exactly ${from}` : `${what} ${writeSpan(hear.values)}`;
  return [{ words: `wanted ${wanted}, got ${value}`, hear: { ...hear, values: 'any' } }];
}

/** A range that takes this one in too; of a single number, this one instead. */
const taking = ([from, to]: [number, number], value: number): [number, number] =>
  from === to ? [value, value] : [Math.min(from, value), Math.max(to, value)];

function numberMiss(hear: Hear, number: number, middleC: MiddleC): Miss[] {
  const [from, to] = numbersOf(hear);
  if (!('numbers' in hear) || (number >= from && number <= to)) return [];
  const isNote = HEAR_MESSAGES[hear.message].number === 'Note';
  const say = (value: number): string => (isNote ? `${value} (${noteName(value, middleC)})` : String(value));
  const wanted = from === to ? say(from) : `${say(from)} to ${say(to)}`;
  const what = HEAR_MESSAGES[hear.message].number!.toLowerCase();
  const octave = isNote && from === to && Math.abs(number - from) % 12 === 0;
  return [
    {
      words: `wanted ${what} ${wanted}, got ${say(number)}${octave ? ': is middle C named differently there?' : ''}`,
      hear: { ...hear, numbers: taking([from, to], number) },
    },
  ];
}

function channelMiss(hear: Hear, channel: number): Miss[] {
  const wanted = channelsOf(hear);
  if (!('channels' in hear) || wanted.includes(channel)) return [];
  const byOne = wanted.length === 1 && Math.abs(channel - wanted[0]!) === 1;
  const { channels } = hear;
  const one = channels === 'any' || 'of' in channels ? null : channels;
  return [
    {
      words: `wanted channel ${writeChannels(hear.channels)}, got ${channel + 1}${byOne ? ': are channels counted from 0 there?' : ''}`,
      hear: {
        ...hear,
        channels: one ? taking(one, channel) : { of: [...wanted, channel].sort((a, b) => a - b) },
      },
    },
  ];
}

function slotMisses(hear: Extract<Hear, { message: 'slot' }>, slot: number, level: number): Miss[] {
  const [from, to] = slotsOf(hear);
  const other: Miss = {
    words: `wanted slot ${writeSpan([from, to])}, got ${slot}`,
    hear: { ...hear, slots: taking([from, to], slot) },
  };
  return [...(slot < from || slot > to ? [other] : []), ...valueMiss(hear, 'a level of', level)];
}

function sysexMisses(hear: Extract<Hear, { message: 'sysex' | 'showControl' }>, signal: Signal): Miss[] {
  if (signal.kind !== 'sysex') return [another(hear, signal)];
  if (hear.message === 'sysex') {
    const read = readSysexTemplate(hear.template, true);
    if (read.ok && matchSysex(read.value, signal.bytes) !== null) return [];
    return [{ words: `wanted the bytes ${hear.template}, got others`, hear: null }];
  }
  const said = decodeShowControl(signal.bytes);
  if (!said) return [another(hear, signal)];
  const misses: Miss[] = [];
  const miss = (what: string, wanted: string, got: string, change: Partial<typeof hear>): void => {
    misses.push({ words: `wanted ${what} ${wanted}, got ${got}`, hear: { ...hear, ...change } });
  };
  const command = (Object.keys(SHOW_COMMANDS) as ShowCommand[]).find(
    (name) => SHOW_COMMANDS[name] === said.command,
  );
  if (command !== hear.command)
    misses.push({
      words: `wanted ${COMMAND_WORDS[hear.command]}, got ${command ? COMMAND_WORDS[command] : `command ${said.command}`}`,
      hear: null,
    });
  if (hear.cue !== '' && hear.cue !== said.cue) miss('cue', hear.cue, said.cue || 'none', { cue: said.cue });
  if (hear.list !== '' && hear.list !== said.list)
    miss('list', hear.list, said.list || 'none', { list: said.list });
  if (hear.device !== null && said.device !== 127 && hear.device !== said.device)
    miss('device', String(hear.device), String(said.device), { device: said.device });
  return misses;
}

/** One of the controllers that say it together: whether the others said it too is known to the engine alone. */
function assembledMisses(
  hear: Extract<Hear, { message: 'control14' | 'parameter' }>,
  signal: Signal,
): Miss[] {
  if (signal.kind !== 'controlChange') return [another(hear, signal)];
  const channels = channelMiss(hear, signal.channel);
  if (hear.message === 'parameter')
    return [6, 38, 96, 97, 98, 99, 100, 101].includes(signal.number)
      ? channels
      : [another(hear, signal), ...channels];
  const [from, to] = hear.numbers === 'any' ? [0, 31] : hear.numbers;
  const number = signal.number & 31;
  if (signal.number >= 64) return [another(hear, signal), ...channels];
  if (number >= from && number <= to) return channels;
  return [
    {
      words: `wanted controller ${writeSpan([from, to])}, got ${number}`,
      hear: { ...hear, numbers: taking([from, to], number) },
    },
    ...channels,
  ];
}

/** What of a signal a mapping wanted otherwise, without its line. */
function missesOf(hear: Hear, signal: Signal, middleC: MiddleC): Miss[] {
  switch (hear.message) {
    case 'osc':
      if (signal.kind !== 'osc') return [another(hear, signal)];
      if (compilePattern(hear.address)(signal.address)) return [];
      return [
        {
          words: `wanted ${hear.address}, got ${signal.address}`,
          hear: { ...hear, address: signal.address },
        },
      ];
    case 'slot':
      return signal.kind === 'slot' ? slotMisses(hear, signal.slot, signal.level) : [another(hear, signal)];
    case 'keyPressed':
    case 'keyHeld':
      if (signal.kind !== 'key') return [another(hear, signal)];
      if (signal.code !== hear.code)
        return [{ words: `wanted the key ${keyWords(hear.code)}, got ${keyWords(signal.code)}`, hear: null }];
      return signal.down || hear.message === 'keyHeld' ? [] : [another(hear, signal)];
    case 'sysex':
    case 'showControl':
      return sysexMisses(hear, signal);
    case 'control14':
    case 'parameter':
      return assembledMisses(hear, signal);
    default: {
      if (!('channel' in signal)) return [another(hear, signal)];
      const misses = HEAR_MESSAGES[hear.message].kinds.includes(signal.kind) ? [] : [another(hear, signal)];
      misses.push(...numberMiss(hear, signal.number, middleC), ...channelMiss(hear, signal.channel));
      // The size of a release is no matter.
      if (signal.kind !== 'noteOff')
        misses.push(
          ...valueMiss(hear, HEAR_MESSAGES[hear.message].value?.words.toLowerCase() ?? '', signal.value),
        );
      return misses;
    }
  }
}

function accountOf(show: Show, mapping: Mapping, lineId: string, signal: Signal): Account {
  const lineName = (id: string | null): string =>
    show.lines.find((line) => line.id === id)?.name ?? 'no line';
  const { middleC } = show.settings;
  const misses = missesOf(mapping.hear, signal, middleC);
  const missed = misses.map(({ words }) => words);
  const mend: Mend = {};
  let hear: Hear | null = mapping.hear;
  // Each change is made to what the ones before it left.
  for (const miss of misses)
    hear = miss.hear && hear ? ({ ...hear, ...changed(mapping.hear, miss.hear) } as Hear) : null;
  if (mapping.hear.lineId !== lineId) {
    missed.push(`wanted ${lineName(mapping.hear.lineId)}, came from ${lineName(lineId)}`);
    hear = hear && { ...hear, lineId };
  }
  if (show.lines.find((line) => line.id === lineId)?.muted) {
    missed.push(`${lineName(lineId)} is muted`);
    mend.unmute = lineId;
  }
  if (!mapping.on) {
    missed.push('it is switched off');
    mend.on = true;
  }
  const bank = show.banks.find((candidate) => candidate.id === mapping.bankId);
  if (bank && !bank.on) {
    missed.push(`bank ${bank.name} is off`);
    mend.bankId = bank.id;
  }
  const wanted = show.banks.find((candidate) => candidate.id === mapping.when.bankId);
  if (wanted && !wanted.on) {
    missed.push(`it wants bank ${wanted.name} on, which is off`);
    mend.bankId ??= wanted.id;
  }
  if (hear && hear !== mapping.hear) mend.hear = hear;
  return {
    mappingId: mapping.id,
    name: mappingName(mapping),
    missed,
    only: whenWords(mapping.when, middleC),
    mend: hear === null || missed.length === 0 ? null : mend,
  };
}

/** The members in which one hear differs from another. */
const changed = (before: Hear, after: Hear): Partial<Hear> =>
  Object.fromEntries(
    Object.entries(after).filter(([key, value]) => (before as Record<string, unknown>)[key] !== value),
  ) as Partial<Hear>;

/**
 * What each mapping of the show makes of a signal heard on a line, those that come nearest first.
 * @param most how many to give, at the most
 */
export function explain(show: Show, lineId: string, signal: Signal, most = 4): Account[] {
  const distance = ({ missed, mend }: Account): number =>
    missed.length + (missed.length > 0 && !mend ? 2 : 0);
  return show.mappings
    .map((mapping) => accountOf(show, mapping, lineId, signal))
    .sort((a, b) => distance(a) - distance(b))
    .slice(0, most);
}

export interface RouteAccount {
  routeId: string;
  /** `Score player → Fog laser` */
  name: string;
  /** What it lets through, in words, where this did not pass; null where it did. */
  keptOut: string | null;
}

/** What each route that leads from the line makes of a signal heard on it. */
export function explainRoutes(show: Show, lineId: string, signal: Signal): RouteAccount[] {
  const lineName = (id: string | null): string =>
    show.lines.find((line) => line.id === id)?.name ?? 'no line';
  return show.routes
    .filter((route) => route.fromId === lineId)
    .map((route) => {
      const passes = compilePass(route)(signal) !== null;
      const keptOut = !route.on
        ? 'it is switched off'
        : passes
          ? null
          : `it lets through: ${routeWords(route)}`;
      return { routeId: route.id, name: `${lineName(route.fromId)} → ${lineName(route.toId)}`, keptOut };
    });
}
