/** Filters the traffic. */
import type { Direction } from '@tawny-signal/core/live/batch';
import type { Show } from '@tawny-signal/core/show';
import type { Signal } from '@tawny-signal/core/signal';
import type { Passing } from '../live/traffic-log';
import { lineName, signalsIn, wordsOf } from './words';

export interface TrafficFilter {
  /** Null for every line. */
  lineId: string | null;
  way: 'any' | 'in' | 'out' | 'bad';
  kind: 'any' | SignalSort;
  /** 0–15, both ends included. */
  channels: 'any' | [number, number];
  /** The number of a note, controller, program or slot, both ends included. */
  numbers: 'any' | [number, number];
  /** Text in the name of the line or in the words of the message: `ch 10`, `CC 21`, `/fog`. */
  text: string;
}

export const EVERYTHING: TrafficFilter = {
  lineId: null,
  way: 'any',
  kind: 'any',
  channels: 'any',
  numbers: 'any',
  text: '',
};

/** The kinds of message in the filter. */
export const SORTS = {
  notes: 'Notes',
  controls: 'Controllers',
  programs: 'Programs',
  bend: 'Pitch bend',
  pressure: 'Pressure',
  sysex: 'System-exclusive',
  clock: 'Clock and timecode',
  osc: 'OSC',
  slot: 'DMX slots',
  key: 'Keys',
} as const;
export type SignalSort = keyof typeof SORTS;

const SORT_OF: Record<Signal['kind'], SignalSort> = {
  noteOn: 'notes',
  noteOff: 'notes',
  controlChange: 'controls',
  programChange: 'programs',
  pitchBend: 'bend',
  polyPressure: 'pressure',
  channelPressure: 'pressure',
  sysex: 'sysex',
  system: 'clock',
  osc: 'osc',
  slot: 'slot',
  key: 'key',
  timecode: 'clock',
};

const WAYS: Record<TrafficFilter['way'], readonly Direction[]> = {
  any: ['in', 'out', 'heldBack', 'bad'],
  in: ['in', 'bad'],
  out: ['out', 'heldBack'],
  bad: ['bad'],
};

/** Creates a search for whole words in any case: `CC 1` does not find `CC 10`. */
function textTest(text: string): (words: string) => boolean {
  const wanted = text.trim().toLowerCase();
  const numbered = /\d$/.test(wanted);
  return (words) => {
    for (let at = words.indexOf(wanted); at >= 0; at = words.indexOf(wanted, at + 1)) {
      if (!numbered || !/[\d.]/.test(words[at + wanted.length] ?? '')) return true;
    }
    return false;
  };
}

const within = (value: number, range: 'any' | [number, number]): boolean =>
  range === 'any' || (value >= range[0] && value <= range[1]);

function signalTest({ kind, channels, numbers }: TrafficFilter): (signal: Signal) => boolean {
  return (signal) => {
    if (kind !== 'any' && SORT_OF[signal.kind] !== kind) return false;
    if (channels !== 'any' && !('channel' in signal && within(signal.channel, channels))) return false;
    if (numbers === 'any') return true;
    if (signal.kind === 'slot') return within(signal.slot, numbers);
    const numbered = 'channel' in signal && signal.kind !== 'pitchBend' && signal.kind !== 'channelPressure';
    return numbered && within(signal.number, numbers);
  };
}

/** Returns a test for records; null if every record is wanted. */
export function filterTest(filter: TrafficFilter, show: Show): ((record: Passing) => boolean) | null {
  const { lineId, way, kind, channels, numbers, text } = filter;
  const ways = WAYS[way];
  const ofSignal = kind === 'any' && channels === 'any' && numbers === 'any' ? null : signalTest(filter);
  const ofText = text.trim() === '' ? null : textTest(text);
  if (lineId === null && way === 'any' && !ofSignal && !ofText) return null;
  return (record) => {
    if (lineId !== null && record.lineId !== lineId) return false;
    if (!ways.includes(record.direction)) return false;
    if (ofSignal && !signalsIn(record, show).some(ofSignal)) return false;
    // Words are created last, because they cost the most.
    return !ofText || ofText(`${lineName(show, record.lineId)} ${wordsOf(record, show)}`.toLowerCase());
  };
}
