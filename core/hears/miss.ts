/** Says in words what a mapping wanted and what arrived instead. */
import { noteName, type MiddleC } from '../midi/words.js';
import type { ChannelSignal, Signal } from '../signal.js';
import { writeChannels, writeSpan } from '../typed/range.js';
import type { HearInfo, Miss } from './kind.js';
import { channelsOf, numbersOf, wantsValue, type HearParts } from './parts.js';

const KIND_WORDS: Record<ChannelSignal['kind'], string> = {
  noteOn: 'a press',
  noteOff: 'a release',
  polyPressure: 'pressure on a note',
  controlChange: 'a control change',
  programChange: 'a program change',
  channelPressure: 'channel pressure',
  pitchBend: 'pitch bend',
};

/** Names what arrived, for use after what was wanted. */
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
    case 'timecode':
      return 'timecode';
  }
}

/** A different kind of message arrived. @param wanted what was wanted, with an article */
export const another = (wanted: string, signal: Signal): Miss<never> => ({
  words: `wanted ${wanted}, got ${cameWords(signal)}`,
  hear: null,
});

/** @param what `force`, `a level of` */
export function valueMiss<H extends HearParts>(hear: H, what: string, value: number): Miss<H>[] {
  const { values = 'any' } = hear;
  if (values === 'any' || wantsValue(hear, value)) return [];
  const [from, to] = values;
  const wanted = from === to ? `${what} exactly ${from}` : `${what} ${writeSpan(values)}`;
  return [{ words: `wanted ${wanted}, got ${value}`, hear: { ...hear, values: 'any' } }];
}

/** Extends a range to include a number. A single number is replaced by it. */
export const taking = ([from, to]: [number, number], value: number): [number, number] =>
  from === to ? [value, value] : [Math.min(from, value), Math.max(to, value)];

export function numberMiss<H extends HearParts>(
  hear: H,
  number: number,
  called: NonNullable<HearInfo['number']>,
  middleC: MiddleC,
): Miss<H>[] {
  const [from, to] = numbersOf(hear);
  if (number >= from && number <= to) return [];
  const isNote = called === 'Note';
  const say = (value: number): string => (isNote ? `${value} (${noteName(value, middleC)})` : String(value));
  const wanted = from === to ? say(from) : `${say(from)} to ${say(to)}`;
  const octave = isNote && from === to && Math.abs(number - from) % 12 === 0;
  return [
    {
      words: `wanted ${called.toLowerCase()} ${wanted}, got ${say(number)}${octave ? ': is middle C named differently there?' : ''}`,
      hear: { ...hear, numbers: taking([from, to], number) },
    },
  ];
}

export function channelMiss<H extends HearParts>(hear: H, channel: number): Miss<H>[] {
  const wanted = channelsOf(hear);
  const { channels = 'any' } = hear;
  if (wanted.includes(channel)) return [];
  const byOne = wanted.length === 1 && Math.abs(channel - wanted[0]!) === 1;
  const one = channels === 'any' || 'of' in channels ? null : channels;
  return [
    {
      words: `wanted channel ${writeChannels(channels)}, got ${channel + 1}${byOne ? ': are channels counted from 0 there?' : ''}`,
      hear: {
        ...hear,
        channels: one ? taking(one, channel) : { of: [...wanted, channel].sort((a, b) => a - b) },
      },
      // The right control on a wrong channel is nearer than another control.
      far: byOne ? 0.4 : 0.5,
    },
  ];
}
