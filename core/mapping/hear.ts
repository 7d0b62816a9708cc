/** Which signals a mapping hears. One row for each message of `Hear`: the kinds of signal that it wants. */
import type { Hear, HearMessage } from '../show/hear.js';
import type { Protocol } from '../show/line.js';
import type { ChannelKind } from '../signal.js';

export interface HearMessageInfo {
  /** As the interface says it. */
  words: string;
  /** What a line must carry for it to come. */
  protocol: Protocol;
  /** Of MIDI: the kinds of message. */
  kinds: ChannelKind[];
  /** What its number is called; null where the message has none. */
  number: 'Note' | 'Controller' | 'Program' | 'Slot' | null;
  /** What its value is called, and the largest it can be; null where it has none. */
  value: { words: string; high: number } | null;
  /** Both the press and the release are heard: what it sends can be held. */
  holds: boolean;
}

const velocity = { words: 'Force', high: 127 };
const seven = { words: 'Value', high: 127 };
const midi = { protocol: 'midi', holds: false } as const;
const note = { ...midi, number: 'Note', value: velocity } as const;

export const HEAR_MESSAGES: Record<HearMessage, HearMessageInfo> = {
  pressed: { ...note, words: 'Note pressed', kinds: ['noteOn'] },
  released: { ...note, words: 'Note released', kinds: ['noteOff'] },
  held: { ...note, words: 'Note held', kinds: ['noteOn', 'noteOff'], holds: true },
  control: { ...midi, words: 'Control change', kinds: ['controlChange'], number: 'Controller', value: seven },
  notePressure: { ...midi, words: 'Note pressure', kinds: ['polyPressure'], number: 'Note', value: seven },
  program: { ...midi, words: 'Program change', kinds: ['programChange'], number: 'Program', value: null },
  pressure: { ...midi, words: 'Channel pressure', kinds: ['channelPressure'], number: null, value: seven },
  bend: {
    ...midi,
    words: 'Pitch bend',
    kinds: ['pitchBend'],
    number: null,
    value: { words: 'Value', high: 16_383 },
  },
  control14: {
    ...midi,
    words: 'Control change, 14-bit',
    kinds: [],
    number: 'Controller',
    value: { words: 'Value', high: 16_383 },
  },
  parameter: {
    ...midi,
    words: 'Parameter (RPN, NRPN)',
    kinds: [],
    number: null,
    value: { words: 'Value', high: 16_383 },
  },
  sysex: { ...midi, words: 'System-exclusive', kinds: [], number: null, value: null },
  showControl: { ...midi, words: 'Show control', kinds: [], number: null, value: null },
  osc: { words: 'OSC message', protocol: 'osc', kinds: [], number: null, value: null, holds: false },
  slot: {
    words: 'Slot changes',
    protocol: 'dmx',
    kinds: [],
    number: 'Slot',
    value: { words: 'Level', high: 255 },
    holds: false,
  },
  keyPressed: { words: 'Key pressed', protocol: 'keys', kinds: [], number: null, value: null, holds: false },
  keyHeld: { words: 'Key held', protocol: 'keys', kinds: [], number: null, value: null, holds: true },
};

/** The messages that can come on a line that carries this. */
export const messagesOf = (protocol: Protocol): HearMessage[] =>
  (Object.keys(HEAR_MESSAGES) as HearMessage[]).filter(
    (message) => HEAR_MESSAGES[message].protocol === protocol,
  );

/** The largest value a message can have; 1 for those that have none of their own. */
export const highOf = (message: HearMessage): number => {
  const { value, number } = HEAR_MESSAGES[message];
  return value ? value.high : number ? 127 : 1;
};

/** The lowest number that a hear wants: where a send that follows the number begins. */
export const firstOf = (hear: Hear): number =>
  'slots' in hear ? slotsOf(hear)[0] : 'numbers' in hear ? numbersOf(hear)[0] : 0;

/** Numbers 0–127 that a hear of MIDI wants, both ends included. A message without a number has 0. */
export function numbersOf(hear: Hear): [number, number] {
  if (!('numbers' in hear)) return [0, 0];
  return hear.numbers === 'any' ? [0, 127] : hear.numbers;
}

/** Slots 1–512 that a hear wants, both ends included. */
export function slotsOf(hear: Hear): [number, number] {
  return !('slots' in hear) || hear.slots === 'any' ? [1, 512] : hear.slots;
}

const ALL_CHANNELS = Array.from({ length: 16 }, (_, channel) => channel);

/** Channels 0–15 that a hear wants; all of them where it has none. */
export function channelsOf(hear: Hear): readonly number[] {
  if (!('channels' in hear) || hear.channels === 'any') return ALL_CHANNELS;
  if ('of' in hear.channels) return hear.channels.of;
  const [from, to] = hear.channels;
  return ALL_CHANNELS.slice(from, to + 1);
}

/** Whether a press or value of this size is wanted; a release is always wanted by `held`. */
export function wantsValue(hear: Hear, value: number): boolean {
  if (!('values' in hear) || hear.values === 'any') return true;
  return value >= hear.values[0] && value <= hear.values[1];
}
