/** Which signals a mapping hears. One row for each message of `Hear`: the kinds of signal that it wants. */
import type { ChannelKind } from '../signal.js';
import type { Hear, HearMessage } from '../show.js';

export interface HearMessageInfo {
  /** As the interface says it. */
  words: string;
  kinds: ChannelKind[];
  /** What its number is called; null where the message has none. */
  number: 'Note' | 'Controller' | 'Program' | null;
  /** What its value is called, and the largest it can be; null where it has none. */
  value: { words: string; high: number } | null;
}

const velocity = { words: 'Force', high: 127 };
const seven = { words: 'Value', high: 127 };

export const HEAR_MESSAGES: Record<HearMessage, HearMessageInfo> = {
  pressed: { words: 'Note pressed', kinds: ['noteOn'], number: 'Note', value: velocity },
  released: { words: 'Note released', kinds: ['noteOff'], number: 'Note', value: velocity },
  held: { words: 'Note held', kinds: ['noteOn', 'noteOff'], number: 'Note', value: velocity },
  control: { words: 'Control change', kinds: ['controlChange'], number: 'Controller', value: seven },
  notePressure: { words: 'Note pressure', kinds: ['polyPressure'], number: 'Note', value: seven },
  program: { words: 'Program change', kinds: ['programChange'], number: 'Program', value: null },
  pressure: { words: 'Channel pressure', kinds: ['channelPressure'], number: null, value: seven },
  bend: { words: 'Pitch bend', kinds: ['pitchBend'], number: null, value: { words: 'Value', high: 16_383 } },
  osc: { words: 'OSC message', kinds: [], number: null, value: null },
};

/** Numbers 0–127 that a hear wants, both ends included. A message without a number has 0. */
export function numbersOf(hear: Hear): [number, number] {
  if (!('numbers' in hear)) return hear.message === 'osc' ? [0, 127] : [0, 0];
  return hear.numbers === 'any' ? [0, 127] : hear.numbers;
}

/** Channels 0–15 that a hear wants, both ends included. */
export function channelsOf(hear: Hear): [number, number] {
  if (!('channels' in hear) || hear.channels === 'any') return [0, 15];
  return hear.channels;
}

/** Whether a press or value of this size is wanted; a release is always wanted by `held`. */
export function wantsValue(hear: Hear, value: number): boolean {
  if (!('values' in hear) || hear.values === 'any') return true;
  return value >= hear.values[0] && value <= hear.values[1];
}
