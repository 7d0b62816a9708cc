/**
 * Follows one source of timecode: from frames that were heard at instants, where it is now, how fast it runs, and how well that is known. Whether
 * it goes on or jumps is told from the source's own numbers: a frame that comes after the last one goes on, however late it is.
 *
 * A lone number that fits nowhere is ignored, and so is one that is a frame off. Numbers that go on from somewhere else are a jump. Parts of frames come so
 * often that some may be missing: each one that comes where the line goes on counts, also before the lock.
 */
import { createFit, type Fit } from './fit.js';

export interface Chase {
  /**
   * A frame was heard. @param frame its number; quarters of frames have a fraction. @param step how far the numbers of the source are apart
   * @param at when it began, in monotonic ms. @param from the frame that this row of frames began with, if the source knows. @returns what became of it
   */
  heard(frame: number, step: number, at: number, from?: number): ChaseEvent;
  /** The frame at an instant, with its fraction, at the last known speed; null before anything was heard. */
  frameAt(now: number): number | null;
  /** How fast it runs: 1 for the speed of its frame rate, negative backward. */
  speed(): number;
  /** Whether enough frames in a row were good. A source that is silent stays locked until somebody calls `lose`. */
  isLocked(): boolean;
  /** When the last good frame was heard; -Infinity before any. */
  lastAt(): number;
  /** The frame that this run began with: at the lock or at the last jump. */
  began(): number;
  /**
   * Forgets where it is. What was measured stays, until it locks again.
   * @param since a place that it has gone on from since then, and that it may have jumped to, is kept: it locks there. Monotonic ms. @returns whether there is one
   */
  lose(since?: number): boolean;
  quality(): ChaseQuality;
}

/** `jumped`: it has gone on from another place for long enough. `none`: the frame changed nothing. */
export type ChaseEvent = 'none' | 'moved' | 'locked' | 'jumped';

export interface ChaseQuality {
  /** Since when it is locked, in monotonic ms; null while it is not. */
  lockedSince: number | null;
  /** Frames that never came, since the lock. */
  lost: number;
  /** The longest silence since the lock, in ms. */
  longestGapMs: number;
  /** How far frames came from their time, root mean square in ms, over the last second or so. */
  jitterMs: number;
  /** How far the last frame came from its time, in ms: later is positive. */
  offMs: number;
  /** The speed over a long time, to tell rates that differ by a thousandth. Null until that is known to about 100 ppm. */
  longSpeed: number | null;
}

/** A jump of no more than this many frames is jitter. */
const SAME_FRAMES = 1.01;
/** The weight that an old frame keeps with each new one: a memory of about 100 and of about 5 frames heard. */
const LONG_MEMORY = 0.99;
const SHORT_MEMORY = 0.8;
/** Frames that come so far from their time on average, in frames, mean that the speed has changed. */
const BIAS_FRAMES = 0.2;
const BIAS_WEIGHT = 0.15;
/** No source runs faster than this. What seems to was held up on its way, and came all at once. */
const FASTEST = 6;
/** A frame that is this many frames behind its place after a silence may have been held up. */
const LATE_FRAMES = 1;
/** One that comes in less than this part of its time comes together with the one before; one in more than the other part is slower. */
const TOGETHER = 0.5;
const SLOWER = 1.5;
/** The time that a long measurement of the speed takes, in ms. */
const LONG_MS = 8000;
/** Its two halves agree to within this part; where sound slips, or a cable is pulled, they do not. */
const AGREE = 2e-4;

/** Frames that go on from each other. */
interface Run {
  first: number;
  last: number;
  lastAt: number;
  /** Frames that it has gone on for. */
  good: number;
  way: number;
  fit: Fit;
  bias: number;
  jitter: number;
  /** What came after a silence, and is behind its place: frames that came evenly since, how far behind they were, and how many came slower. Null if nothing is. */
  late: { even: number; off: number; count: number; slower: number } | null;
}

/** @param fps frames a second at full speed. @param lockFrames how many frames in a row it takes to lock, and to believe a jump */
export function createChase(fps: number, lockFrames: number): Chase {
  const full = fps / 1000;
  let run: Run | null = null;
  /** Where it may have jumped to. */
  let other: Run | null = null;
  let locked = false;
  const quality: ChaseQuality = {
    lockedSince: null,
    lost: 0,
    longestGapMs: 0,
    jitterMs: 0,
    offMs: 0,
    longSpeed: null,
  };
  /** From when the long speed is measured, and where it was about in the middle. */
  let longFrom: { at: number; frame: number } | null = null;
  let middle: { at: number; frame: number } | null = null;

  function begin(frame: number, at: number, way: number, first: number): Run {
    const fit = createFit(full * way);
    fit.add(at, frame, 1);
    return { first, last: frame, lastAt: at, good: 0, way, fit, bias: 0, jitter: 0, late: null };
  }

  function goOn(one: Run, frame: number, step: number, at: number): void {
    const moved = frame - one.last;
    const way = Math.sign(moved);
    if (way !== 0 && way !== one.way) {
      // It has turned. The line begins anew, the place stays.
      one.fit = createFit(full * way);
      one.fit.add(one.lastAt, one.last, 1);
      one.way = way;
      one.late = null;
      longFrom = null;
    }
    const off = frame - one.fit.frameAt(at);
    if (isHeldUp(one, moved, off, at, step)) return count(one, frame, step, at);
    one.bias += (off - one.bias) * BIAS_WEIGHT;
    if (one === run) quality.offMs = -off / full / way;
    one.jitter += (off * off - one.jitter) * 0.02;
    const changing = Math.abs(one.bias) > BIAS_FRAMES;
    if (changing) longFrom = null;
    one.fit.add(at, frame, changing ? SHORT_MEMORY : LONG_MEMORY);
    count(one, frame, step, at);
    const speed = Math.abs(one.fit.slope() ?? 0) / full;
    if (speed > FASTEST) {
      one.fit = createFit(full * one.way);
      one.fit.add(at, frame, 1);
      one.good = step;
      longFrom = null;
    }
  }

  /**
   * Whether a frame was held up, so that it says nothing about the place: frames that come together, after a silence. The line goes on as it was. If frames
   * come evenly after that and stay behind, the source itself stood still meanwhile, and the line is moved back.
   */
  function isHeldUp(one: Run, moved: number, off: number, at: number, step: number): boolean {
    const slope = Math.abs(one.fit.slope() ?? full);
    const plain = Math.abs(moved) / slope;
    const took = at - one.lastAt;
    const behind = off * one.way < -LATE_FRAMES;
    const { late } = one;
    if (!late) {
      if (behind && took > plain + LATE_FRAMES / slope) one.late = { even: 0, off: 0, count: 0, slower: 0 };
      return one.late !== null;
    }
    if (!behind) {
      // The last ones of those that came together are hardly late, and would still bend the line.
      if (took < plain * TOGETHER) return true;
      one.late = null;
      return false;
    }
    if (took < plain * TOGETHER) {
      one.late = { even: 0, off: 0, count: 0, slower: 0 };
      return true;
    }
    late.slower = took > plain * SLOWER ? late.slower + 1 : 0;
    if (late.slower === 1) return true;
    if (late.slower > 1) {
      // It has become slower.
      one.late = null;
      one.fit = createFit(slope * one.way);
      one.fit.add(one.lastAt, one.last, 1);
      return false;
    }
    late.even += step;
    late.off += off;
    late.count++;
    if (late.even < lockFrames) return true;
    one.fit.shift(late.off / late.count);
    one.late = null;
    longFrom = null;
    return true;
  }

  /** Notes that a frame came. */
  function count(one: Run, frame: number, step: number, at: number): void {
    const moved = frame - one.last;
    if (one === run) {
      const missed = Math.round(Math.abs(moved) / step) - 1;
      if (locked && missed > 0) quality.lost += missed * step;
      if (locked) quality.longestGapMs = Math.max(quality.longestGapMs, at - one.lastAt);
    }
    one.good += step;
    one.last = frame;
    one.lastAt = at;
  }

  function measure(at: number): void {
    if (!run) return;
    quality.jitterMs = Math.sqrt(run.jitter) / full;
    const here = { at, frame: run.fit.frameAt(at) };
    if (!longFrom) {
      longFrom = here;
      middle = null;
    }
    const took = at - longFrom.at;
    if (!middle && took >= LONG_MS / 2) middle = here;
    if (!middle || took < LONG_MS) return;
    const speeds = [longFrom, middle].map((from) => (here.frame - from.frame) / (at - from.at) / full);
    if (Math.abs(speeds[0]! - speeds[1]!) < AGREE) quality.longSpeed = speeds[0]!;
    else {
      // It is measured anew from the middle on.
      longFrom = middle;
      middle = null;
      quality.longSpeed = null;
    }
  }

  function lock(at: number): void {
    locked = true;
    longFrom = null;
    Object.assign(quality, {
      lockedSince: at,
      lost: 0,
      longestGapMs: 0,
      longSpeed: null,
    } satisfies Partial<ChaseQuality>);
  }

  const follows = (one: Run, frame: number, step: number): boolean =>
    Math.abs(Math.abs(frame - one.last) - step) < step / 100;

  const isNear = (one: Run, frame: number, at: number): boolean =>
    Math.abs(frame - one.fit.frameAt(at)) <= SAME_FRAMES;

  return {
    heard(frame, step, at, from = frame) {
      if (!run) {
        run = begin(frame, at, 1, from);
        run.good = step;
        return 'none';
      }
      if (frame === run.last) return 'none';
      const near = isNear(run, frame, at);
      if (follows(run, frame, step) || (near && (locked || step < 1))) {
        // What comes late and out of order is not a turn.
        if (!follows(run, frame, step) && (frame - run.last) * run.way < 0) return 'none';
        goOn(run, frame, step, at);
        other = null;
        measure(at);
        if (locked) return 'moved';
        if (run.good < lockFrames) return 'none';
        lock(at);
        return 'locked';
      }
      if (other && (follows(other, frame, step) || (step < 1 && isNear(other, frame, at)))) {
        goOn(other, frame, step, at);
        if (other.good < lockFrames) return 'none';
        run = other;
        other = null;
        longFrom = null;
        if (locked) return 'jumped';
        lock(at);
        return 'locked';
      }
      other = begin(frame, at, run.way, from);
      other.good = step;
      return 'none';
    },
    frameAt: (now) => run && run.fit.frameAt(now),
    speed: () => (run ? (run.fit.slope() ?? full * run.way) / full : 0),
    isLocked: () => locked,
    lastAt: () => run?.lastAt ?? -Infinity,
    began: () => run?.first ?? 0,
    lose(since = Infinity) {
      run = other && other.lastAt >= since ? other : null;
      other = null;
      locked = false;
      quality.lockedSince = null;
      return run !== null;
    },
    quality: () => quality,
  };
}
