/**
 * The running order laid out along time: when each moment begins, what follows by itself, and how long each of its sends takes. Moments that are
 * called by hand begin after the end of what was before them, since nobody knows when Go is pressed.
 */
import type { Show } from '../show.js';
import type { Moment, MomentSend } from '../show/moment.js';
import { lengthAt } from '../time/span.js';
import { delayOf, expandMoment, type Stock } from './expand.js';
import { goesOn, planOf } from './plan.js';
import { lineOfSend, momentSendTitle, type Named } from './words.js';

export interface TimeBar {
  /** Null for what is done to the show itself. */
  lineId: string | null;
  words: string;
  /** Ms from the beginning of the running order. Equal for what is done at once. */
  fromMs: number;
  toMs: number;
  /** True if it goes on until it is stopped. */
  endless: boolean;
}

export interface TimeRow {
  moment: Moment;
  startMs: number;
  /** When the last of its sends is done. */
  endMs: number;
  /** True if it waits for Go or for a control; false if it follows the moment before it. */
  byHand: boolean;
  bars: TimeBar[];
}

/** The room before a moment that is called by hand. */
export const GO_GAP_MS = 2000;

function barOf(moment: Moment, given: MomentSend, startMs: number, show: Named, stock: Stock): TimeBar {
  const bpm = show.settings.tempo;
  const { sends, lengthMs } = planOf(moment, expandMoment({ ...moment, sends: [given] }, stock));
  const fromMs = startMs + lengthAt(delayOf(given), bpm);
  const releases = given.kind === 'send' && given.value === 0;
  return {
    lineId: lineOfSend(given),
    words: momentSendTitle(given, show),
    fromMs,
    toMs: Math.max(fromMs, startMs + lengthMs(bpm)),
    endless: !releases && sends.some(goesOn),
  };
}

/** Lays out the moments that are not parked. */
export function timelineOf(show: Named & Pick<Show, 'moments'>): TimeRow[] {
  const { groups, looks, midiFiles } = show;
  const stock = { groups, looks, midiFiles };
  const rows: TimeRow[] = [];
  /** When everything that was called so far is done. */
  let doneMs = 0;
  for (const moment of show.moments.filter(({ parked }) => !parked)) {
    const before = rows.at(-1);
    const { follow } = moment;
    const byHand = !follow || !before;
    const startMs = byHand
      ? before
        ? doneMs + GO_GAP_MS
        : 0
      : (follow.after === 'end' ? before.endMs : before.startMs) + lengthAt(follow, show.settings.tempo);
    const bars = moment.sends.map((given) => barOf(moment, given, startMs, show, stock));
    const endMs = Math.max(startMs, ...bars.map(({ toMs }) => toMs));
    doneMs = Math.max(doneMs, endMs);
    rows.push({ moment, startMs, endMs, byHand, bars });
  }
  return rows;
}
