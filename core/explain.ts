/** Why a message did what it did: what each mapping made of it, the nearest first. */
import { keyWords } from './keys/codes.js';
import { channelsOf, HEAR_MESSAGES, numbersOf, slotsOf, wantsValue } from './mapping/hear.js';
import { mappingName } from './mapping/words.js';
import type { Signal } from './signal.js';
import type { Show } from './show.js';
import type { Hear, Mapping } from './show/mapping.js';
import { writeChannels, writeSpan } from './typed/range.js';
import { compilePattern } from './osc/pattern.js';

export interface Account {
  mappingId: string;
  name: string;
  /** What kept it from firing, in words; empty if it fired. */
  missed: string[];
}

function missesOfSlot(hear: Extract<Hear, { message: 'slot' }>, signal: Signal): string[] {
  if (signal.kind !== 'slot') return ['it hears slots of a DMX universe, and this is none'];
  const missed: string[] = [];
  const [from, to] = slotsOf(hear);
  if (signal.slot < from || signal.slot > to)
    missed.push(`it hears slot ${writeSpan([from, to])}, and this is slot ${signal.slot}`);
  if (!wantsValue(hear, signal.level))
    missed.push(`it wants a level of ${writeSpan(hear.values)}, and this is ${signal.level}`);
  return missed;
}

/** What of a signal a mapping does not want, without its line. */
function missesOf(mapping: Mapping, signal: Signal): string[] {
  const { hear } = mapping;
  if (hear.message === 'osc') {
    if (signal.kind !== 'osc') return ['it hears OSC, and this is none'];
    if (compilePattern(hear.address)(signal.address)) return [];
    return [`it hears ${hear.address}, and this is ${signal.address}`];
  }
  const info = HEAR_MESSAGES[hear.message];
  if (hear.message === 'slot') return missesOfSlot(hear, signal);
  if (hear.message === 'keyPressed' || hear.message === 'keyHeld') {
    if (signal.kind !== 'key') return [`it hears keys, and this is none`];
    if (signal.code !== hear.code)
      return [`it hears the key ${keyWords(hear.code)}, and this is ${keyWords(signal.code)}`];
    return signal.down || hear.message === 'keyHeld'
      ? []
      : ['it hears the key go down, and this is its release'];
  }
  if (!('channel' in signal)) return [`it hears ${info.words.toLowerCase()}`];
  const missed: string[] = [];
  if (!info.kinds.includes(signal.kind))
    missed.push(`it hears ${info.words.toLowerCase()}, and this is another message`);
  const [numberFrom, numberTo] = numbersOf(hear);
  if (info.number && (signal.number < numberFrom || signal.number > numberTo)) {
    missed.push(
      `it hears ${info.number.toLowerCase()} ${writeSpan([numberFrom, numberTo])}, and this is ${signal.number}`,
    );
  }
  const [channelFrom, channelTo] = channelsOf(hear);
  if (signal.channel < channelFrom || signal.channel > channelTo) {
    missed.push(
      `it hears channel ${writeChannels([channelFrom, channelTo])}, and this is channel ${signal.channel + 1}`,
    );
  }
  if (
    'values' in hear &&
    hear.values !== 'any' &&
    signal.kind !== 'noteOff' &&
    !wantsValue(hear, signal.value)
  ) {
    missed.push(
      `it wants a ${info.value!.words.toLowerCase()} of ${writeSpan(hear.values)}, and this is ${signal.value}`,
    );
  }
  return missed;
}

/**
 * What each mapping of the show makes of a signal heard on a line, those that come nearest first.
 * @param most how many to give, at the most.
 */
export function explain(show: Show, lineId: string, signal: Signal, most = 4): Account[] {
  const lineName = (id: string | null): string =>
    show.lines.find((line) => line.id === id)?.name ?? 'no line';
  const muted = show.lines.find((line) => line.id === lineId)?.muted ?? false;
  return show.mappings
    .map((mapping) => {
      const missed = missesOf(mapping, signal);
      if (mapping.hear.lineId !== lineId)
        missed.push(`it listens to ${lineName(mapping.hear.lineId)}, and this came from ${lineName(lineId)}`);
      if (muted) missed.push(`${lineName(lineId)} is muted`);
      if (!mapping.on) missed.push('it is switched off');
      const bank = show.banks.find((candidate) => candidate.id === mapping.bankId);
      if (bank && !bank.on) missed.push(`its bank ${bank.name} is off`);
      return { mappingId: mapping.id, name: mappingName(mapping), missed };
    })
    .sort((a, b) => a.missed.length - b.missed.length)
    .slice(0, most);
}
