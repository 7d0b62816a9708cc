/** Which of the traffic is shown. */
import type { Show } from '@tawny-signal/core/show';
import type { Direction } from '@tawny-signal/core/live/batch';
import type { Passing } from '../live/store';
import { lineName, wordsOf } from './words';

export interface TrafficFilter {
  /** Null: every line. */
  lineId: string | null;
  way: 'any' | 'in' | 'out' | 'bad';
  /** In the line's name or the message's words: `ch 10`, `CC 21`, `/fog`. */
  text: string;
}

export const EVERYTHING: TrafficFilter = { lineId: null, way: 'any', text: '' };

const WAYS: Record<TrafficFilter['way'], readonly Direction[]> = {
  any: ['in', 'out', 'heldBack', 'bad'],
  in: ['in', 'bad'],
  out: ['out', 'heldBack'],
  bad: ['bad'],
};

/** Text without its capitals, and what stands for itself as a word of its own: `CC 1` does not find `CC 10`. */
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

/** The newest first, at most so many. */
export function filterTraffic(
  records: readonly Passing[],
  filter: TrafficFilter,
  show: Show,
  most: number,
): Passing[] {
  const ways = WAYS[filter.way];
  const matches = filter.text.trim() === '' ? null : textTest(filter.text);
  const found: Passing[] = [];
  for (let at = records.length - 1; at >= 0 && found.length < most; at--) {
    const record = records[at]!;
    if (filter.lineId !== null && record.lineId !== filter.lineId) continue;
    if (!ways.includes(record.direction)) continue;
    // Words are made last: they cost the most.
    if (matches && !matches(`${lineName(show, record.lineId)} ${wordsOf(record, show)}`.toLowerCase()))
      continue;
    found.push(record);
  }
  return found;
}
