/** How a mapping reads what arrives: which value, number and parts it has, or why it is not what the mapping wants. */
import { decodeShowControl, SHOW_COMMANDS } from '../midi/show-control.js';
import { matchSysex, readSysexTemplate } from '../midi/sysex-template.js';
import { isPattern, openParts } from '../osc/pattern.js';
import type { Hear } from '../show/hear.js';
import type { Mapping } from '../show/mapping.js';
import type { OscArgument, OscSignal, Signal } from '../signal.js';
import { wantsValue } from './hear.js';
import { NO_PARTS, type Heard } from './heard.js';
import type { Outcome } from './outcome.js';

export interface Reader {
  /** Reads a signal that the index gave to the mapping. @returns null once `into` is filled, else why it is not taken */
  read(signal: Signal, into: Heard): Outcome | null;
}

/** Whether a receiver of this device hears what is meant for `device`: itself, its group, or all (MIDI show control, 112–126 are groups). */
const isMeant = (wanted: number | null, device: number): boolean =>
  wanted === null || device === wanted || device === 127;

/** The first number that stands in the open parts of an address. */
const numberOf = (parts: readonly string[]): number => {
  const number = parts.find((part) => /^\d{1,9}$/.test(part));
  return number === undefined ? 0 : Number(number);
};

/** A number for an argument; null for one that is none. */
function valueOf(arg: OscArgument, texts: readonly [string, number][]): number | null {
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
function oscValue({ args }: OscSignal, argument: number, texts: readonly [string, number][]): number {
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

function fillPlain(into: Heard, value: number, number = 0, channel = 0): null {
  into.value = value;
  into.number = number;
  into.channel = channel;
  into.parts = NO_PARTS;
  return null;
}

function readOsc(hear: Extract<Hear, { message: 'osc' }>, texts: [string, number][]): Reader['read'] {
  const partsOf = isPattern(hear.address) ? openParts(hear.address) : null;
  return (signal, into) => {
    if (signal.kind !== 'osc') return 'value';
    const value = oscValue(signal, hear.argument, texts);
    if (Number.isNaN(value)) return 'noText';
    into.value = value;
    into.parts = partsOf ? partsOf(signal.address) : NO_PARTS;
    into.number = partsOf ? numberOf(into.parts) : 0;
    into.channel = 0;
    return null;
  };
}

function readSysex(template: string): Reader['read'] {
  const read = readSysexTemplate(template, true);
  return (signal, into) => {
    const value = signal.kind === 'sysex' && read.ok ? matchSysex(read.value, signal.bytes) : null;
    return value === null ? 'value' : fillPlain(into, value);
  };
}

function readShowControl(hear: Extract<Hear, { message: 'showControl' }>): Reader['read'] {
  return (signal, into) => {
    const said = signal.kind === 'sysex' ? decodeShowControl(signal.bytes) : null;
    if (!said || said.command !== SHOW_COMMANDS[hear.command]) return 'value';
    if ((hear.cue !== '' && said.cue !== hear.cue) || (hear.list !== '' && said.list !== hear.list))
      return 'value';
    if (!isMeant(hear.device, said.device)) return 'device';
    // The value is that it came; the cue's whole number can be worked with.
    return fillPlain(into, 1, Math.floor(Number(said.cue.split('.')[0] ?? 0)) || 0);
  };
}

function readPlain(hear: Hear): Reader['read'] {
  return (signal, into) => {
    if (signal.kind === 'slot') {
      if (!wantsValue(hear, signal.level)) return 'value';
      return fillPlain(into, signal.level, signal.slot);
    }
    if (signal.kind === 'key') return fillPlain(into, 1);
    if (!('channel' in signal)) return 'value';
    // The size of a release is no matter to what is held.
    const isRelease = hear.message === 'held' && signal.kind === 'noteOff';
    if (!isRelease && !wantsValue(hear, signal.value)) return 'value';
    return fillPlain(into, signal.value, signal.number, signal.channel);
  };
}

export function createReader({ hear, shape }: Mapping): Reader {
  switch (hear.message) {
    case 'osc':
      return { read: readOsc(hear, shape.texts) };
    case 'sysex':
      return { read: readSysex(hear.template) };
    case 'showControl':
      return { read: readShowControl(hear) };
    default:
      return { read: readPlain(hear) };
  }
}
