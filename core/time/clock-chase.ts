/**
 * Follows MIDI clock: 24 clocks a quarter note, with start, continue, stop and song position (MIDI 1.0). The tempo is the slope of a straight line
 * through the last four beats, so that trembling clocks do not move it; as soon as clocks leave that line, older ones are forgotten.
 *
 * Clocks that were held up on their way come late, and then all at once: they say nothing of the tempo, and are only counted. A sender that pauses
 * and goes on at the same speed moves the beat, and not the tempo. A clock that was lost leaves a gap too: on a line that loses messages it is
 * counted; on any other, where a gap is a pause, it is not.
 */
import { closeGaps, lineThrough } from './clock-line.js';
import type { Tempo } from './tempo.js';

export const CLOCK = 0xf8;
export const START = 0xfa;
export const CONTINUE = 0xfb;
export const STOP = 0xfc;
export const SONG_POSITION = 0xf2;
export const CLOCKS_PER_BEAT = 24;
/** A song position counts sixteenths, which are six clocks each. */
export const CLOCKS_PER_SIXTEENTH = 6;

/** Clocks that the tempo is computed from: four beats. */
const MEMORY = 96;
/** Clocks after which it is locked. */
const LOCKED_AFTER = 12;
/** Clocks whose mean distance from the line says that the tempo has changed, and that distance in ms: the larger one where clocks tremble much. */
const LOOK = 8;
const LEFT_MS = 2.4;
const LEFT_MOST_MS = 2.75;
/** So many times their trembling, root mean square, lies between. */
const LEFT_JITTERS = 1.7;
const MOST_TREMBLE_MS = 3;
/** Clocks that are kept after a change. */
const KEPT = 10;
/**
 * The slope of a few clocks that tremble says little: the one from before a change holds until the new one differs by so many of its standard errors.
 * Eight late clocks in a row then look like a change, and do not become a tempo.
 */
const DIFFERS_ERRORS = 4;
/** A clock that comes this much later than expected, in clocks, follows a gap. */
const GAP_CLOCKS = 12;
/** A clock that comes later than this, in ms or in clocks, is looked at together with the next one. */
const LATE_MS = 8;
const LATE_CLOCKS = 0.3;
/** Clocks that come closer together than this part of a clock were held up. */
const HELD_UP = 0.6;
/** Held up clocks have caught up when one comes this near to its time, in ms. */
const CAUGHT_UP_MS = 3;
/** A sender whose next clock comes this near to its time, as a part of a clock, goes on at the same speed: the wider one where clocks tremble much. */
const SAME_SPEED = 0.2;
const SAME_SPEED_MOST = 0.45;
/** So many times their trembling, root mean square, is how near that is in between. */
const SAME_SPEED_JITTERS = 4.5;
/** A gap is one of lost clocks if the clock after it comes this near to its time, in ms, or within so many times their trembling. */
const LOST_MS = 1;
const LOST_JITTERS = 3;
/** Gaps in a row, with no clock in its time between them, that are a slower tempo, and not clocks that were lost. */
const MOST_GAPS = 4;
/** So many gaps lately, of which each counts for a tenth less with each clock, are a slower tempo too. */
const MOST_LATELY = 2.5;
const LATELY = 0.9;
/** The clocks that can be lost in one gap. A longer one is a pause. */
const MOST_LOST = 3;
/** Before it is locked, the clocks from which on a gap shows, and how late the clock after it is, as a part of a clock. */
const GAPS_SHOW = 9;
const LATE_BEFORE_LOCK = 0.7;
/** No sender sends clocks closer together than this, in ms. */
const CLOSEST_MS = 1;
/** Clocks that are further apart than this do not belong together, in ms: four at 20 beats a minute. */
const LONGEST_MS = 4 * (60_000 / 20 / CLOCKS_PER_BEAT);

export interface ClockChase {
  /** Takes a system message. @param at when it arrived, in monotonic ms. @returns what changed; null for nothing */
  heard(
    status: number,
    data1: number,
    data2: number,
    at: number,
  ): 'tempo' | 'locked' | 'started' | 'stopped' | null;
  /** The tempo, with the time of the sender's beat 0; null while it is not locked. */
  tempo(): Tempo | null;
  /** Whether the sender has said that it runs. */
  runs(): boolean;
  lastAt(): number;
  /** How far clocks came from their time, root mean square in ms. */
  jitterMs(): number;
  lose(): void;
}

type Change = 'tempo' | 'locked' | null;

/** @param loses whether the line can lose messages: a clock that is missing is counted then */
export function createClockChase(loses = false): ClockChase {
  /** The last clocks: their numbers since beat 0 of the sender, and when they came. */
  let numbers: number[] = [];
  let times: number[] = [];
  let line: { slope: number; at: number; number: number } | null = null;
  /** The slope from before what looked like a change; null once that has shown to be one, or not. */
  let held: number | null = null;
  /** The number of the next clock. */
  let next = 0;
  let running = false;
  let jitter = 0;
  /** The same, though a clock that is far off counts for no more than the most that clocks tremble by: it may be a new tempo. */
  let trembling = 0;
  /** When the last clock came, whatever became of it. */
  let seenAt = -Infinity;
  /** Late clocks that wait for one that comes in its time: the first after a gap, and those after further gaps. */
  let late: { number: number; at: number }[] = [];
  let gapsLately = 0;
  /** Clocks come that were held up. */
  let catching = false;

  /** Fits a straight line to what is kept, by least squares. */
  function fit(): void {
    const count = numbers.length;
    if (count < 2) return void (line = held = null);
    const { n, at, slope, spread } = lineThrough(numbers, times);
    if (
      held !== null &&
      (count === MEMORY || Math.abs(slope - held) > DIFFERS_ERRORS * Math.sqrt(trembling / spread))
    )
      held = null;
    line = { slope: held ?? slope, at, number: n };
  }

  const expected = (number: number): number => line!.at + (number - line!.number) * line!.slope;

  /** Whether the last clocks have left the line. */
  function hasLeft(): boolean {
    if (!line || numbers.length < LOOK + KEPT) return false;
    let off = 0;
    for (let i = numbers.length - LOOK; i < numbers.length; i++) off += times[i]! - expected(numbers[i]!);
    const left = Math.max(LEFT_MS, Math.min(LEFT_MOST_MS, LEFT_JITTERS * Math.sqrt(trembling)));
    return Math.abs(off / LOOK) > left;
  }

  function keep(count: number): void {
    numbers = numbers.slice(numbers.length - Math.min(count, numbers.length));
    times = times.slice(times.length - Math.min(count, times.length));
  }

  function clock(at: number): Change {
    const number = next++;
    const between = at - seenAt;
    seenAt = at;
    gapsLately *= LATELY;
    const isLocked = numbers.length >= LOCKED_AFTER;
    if (!isLocked && (between < CLOSEST_MS || between > LONGEST_MS)) {
      keep(0);
      late = [];
    }
    if (!line || numbers.length < GAPS_SHOW || (!isLocked && held !== null)) return take(number, at);
    const off = at - expected(number);
    if (catching) {
      if (between < HELD_UP * line.slope && off > CAUGHT_UP_MS) return null;
      catching = false;
      // Some never came.
      if (isLate(off)) moveBy(off);
      return take(number, at);
    }
    if (!isLate(off)) {
      late = [];
      return take(number, at);
    }
    if (isLocked && late.length > 0 && between < HELD_UP * line.slope) {
      late = [];
      catching = true;
      return null;
    }
    late.push({ number, at });
    if (late.length === 1) return null;
    const more = between - line.slope;
    if (Math.abs(more) < nearMs()) return gapsLately < MOST_LATELY ? afterGaps() : takeLate();
    return lostIn(more, nearMs()) > 0 && late.length <= MOST_GAPS ? null : takeLate();
  }

  const isLate = (off: number): boolean =>
    off >
    (numbers.length < LOCKED_AFTER
      ? LATE_BEFORE_LOCK * line!.slope
      : Math.max(LATE_MS, LATE_CLOCKS * line!.slope));

  /** How far from its time a clock may come that goes on at the same speed, in ms. */
  function nearMs(): number {
    const most = SAME_SPEED_MOST * line!.slope;
    const tremble = numbers.length < LOCKED_AFTER ? most : SAME_SPEED_JITTERS * Math.sqrt(trembling);
    return Math.max(SAME_SPEED * line!.slope, Math.min(most, tremble));
  }

  /** How many clocks were lost if one comes so late, in ms; 0 if it is not as near to a whole number of them. */
  function lostIn(off: number, near: number): number {
    const lost = Math.round(off / line!.slope);
    return lost <= MOST_LOST && Math.abs(off - lost * line!.slope) < near ? lost : 0;
  }

  /** The sender goes on at the speed from before the gaps: clocks were lost in them, or it has paused. */
  function afterGaps(): Change {
    let lost = 0;
    let change: Change = null;
    gapsLately++;
    for (const { number, at } of late.splice(0)) {
      const off = at - expected(number + lost);
      if (isLate(off)) {
        const missing = lostIn(off, Math.max(LOST_MS, LOST_JITTERS * Math.sqrt(trembling)));
        if (loses) lost += missing;
        if (missing === 0) moveBy(off);
        else if (!loses) moveBy(missing * line!.slope);
      }
      change = take(number + lost, at);
    }
    next += lost;
    return change;
  }

  /** The sender is slower than before, or begins anew. */
  function takeLate(): Change {
    const [first] = late;
    if (first && first.at - expected(first.number) > GAP_CLOCKS * line!.slope) keep(0);
    return late.splice(0).reduce<Change>((_, { number, at }) => take(number, at), null);
  }

  /** The beat comes later than before, at the same tempo. */
  function moveBy(ms: number): void {
    times = times.map((one) => one + ms);
    fit();
  }

  function take(number: number, at: number): Change {
    const was = numbers.length;
    if (line && numbers.length > 0) {
      const off = at - expected(number);
      jitter += (off * off - jitter) * 0.02;
      trembling += (Math.min(off * off, MOST_TREMBLE_MS ** 2) - trembling) * 0.02;
    }
    numbers.push(number);
    times.push(at);
    if (numbers.length > MEMORY) {
      numbers.shift();
      times.shift();
    }
    if (hasLeft()) {
      held = line!.slope;
      keep(KEPT);
    }
    if (held === null && numbers.length > GAPS_SHOW && numbers.length <= LOCKED_AFTER) {
      let lost: number;
      ({ numbers, times, lost } = closeGaps(numbers, times, loses));
      next += lost;
    }
    fit();
    if (numbers.length < LOCKED_AFTER && was < LOCKED_AFTER) return null;
    return numbers.length === LOCKED_AFTER && was < LOCKED_AFTER ? 'locked' : 'tempo';
  }

  /** The next clock has this number: those that are kept keep their distances. */
  function renumber(number: number): void {
    const by = number - next;
    numbers = numbers.map((one) => one + by);
    late = late.map((one) => ({ ...one, number: one.number + by }));
    next = number;
    fit();
  }

  return {
    heard(status, data1, data2, at) {
      switch (status) {
        case CLOCK:
          return clock(at);
        case START:
          renumber(0);
          running = true;
          return 'started';
        case CONTINUE:
          running = true;
          return 'started';
        case STOP:
          running = false;
          return 'stopped';
        case SONG_POSITION:
          renumber(((data2 << 7) | data1) * CLOCKS_PER_SIXTEENTH);
          return null;
        default:
          return null;
      }
    },
    tempo() {
      if (!line || numbers.length < Math.min(LOCKED_AFTER, KEPT)) return null;
      return { bpm: 60_000 / (line.slope * CLOCKS_PER_BEAT), since: expected(0) };
    },
    runs: () => running,
    lastAt: () => seenAt,
    jitterMs: () => Math.sqrt(jitter),
    lose() {
      keep(0);
      line = held = null;
      late = [];
      catching = false;
    },
  };
}
