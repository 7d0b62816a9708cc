/** The straight line through the clocks of a sender, and the gaps between the first of them, before there is a tempo by which one can be told. */

/** A distance of more usual ones than this is a gap, if those beside it are not. */
const GAP_INTERVALS = 1.5;
/** It is so many times as long as the longest distance that is none, which trembling may have made longer. */
const GAP_LONGEST = 1.3;
/** More gaps than this between the first clocks are none: they tremble. */
const MOST_GAPS = 2;

export interface Clocks {
  /** The numbers of clocks since beat 0 of the sender, and when they came in ms. */
  numbers: number[];
  times: number[];
  /** How many were counted in that had not come. */
  lost: number;
}

/**
 * Fits a straight line to clocks by least squares.
 * @returns a point of it: its number and when, in ms; its slope in ms a clock; and the sum of the squared distances of the numbers from their mean
 */
export function lineThrough(
  numbers: readonly number[],
  times: readonly number[],
): { n: number; at: number; slope: number; spread: number } {
  const count = numbers.length;
  let [n, t] = [0, 0];
  for (let i = 0; i < count; i++) {
    n += numbers[i]! / count;
    t += (times[i]! - times[0]!) / count;
  }
  let [spread, nt] = [0, 0];
  for (let i = 0; i < count; i++) {
    const off = numbers[i]! - n;
    spread += off * off;
    nt += off * (times[i]! - times[0]! - t);
  }
  return { n, at: times[0]! + t, slope: nt / spread, spread };
}

/**
 * Closes the gaps between some clocks, which would look like a slower tempo.
 * @param counts whether those that are missing are counted; otherwise the clocks before a gap are moved up to it, as of a sender that paused
 */
export function closeGaps(numbers: readonly number[], times: readonly number[], counts: boolean): Clocks {
  const closed: Clocks = { numbers: [...numbers], times: [...times], lost: 0 };
  const intervals = times.slice(1).map((time, at) => time - times[at]!);
  const usual = [...intervals].sort((one, other) => one - other)[intervals.length >> 1]!;
  const longest = Math.max(...intervals.filter((interval) => interval <= GAP_INTERVALS * usual));
  const least = Math.max(GAP_INTERVALS * usual, GAP_LONGEST * longest);
  const isGap = intervals.map((interval) => interval > least);
  if (isGap.filter(Boolean).length > MOST_GAPS) return closed;
  intervals.forEach((interval, at) => {
    const isCounted = numbers[at + 1]! - numbers[at]! > 1;
    if (!isGap[at] || isGap[at - 1] || isGap[at + 1] || isCounted) return;
    const lost = Math.round(interval / usual) - 1;
    closed.lost += counts ? lost : 0;
    closed.numbers = closed.numbers.map((number, place) => (counts && place > at ? number + lost : number));
    closed.times = closed.times.map((time, place) => (counts || place > at ? time : time + interval - usual));
  });
  return closed;
}
