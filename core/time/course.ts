/**
 * The course of the position: the line that it runs by, its jumps and stops, our own play and loop, and the moments that are due on the way. What a
 * source says is brought to it by core/engine/parts/position. Given the time; reads no clock.
 */
import type { TimecodeSettings } from '../show/time.js';
import { RATES } from '../timecode/frame-rate.js';
import { createCalls, whyPassed, type Calls } from './calls.js';
import { RECENT_MS, type PositionBefore } from './kept-position.js';
import { isOverMidnight } from './midnight.js';
import { createPassed } from './passed.js';
import {
  AUTO,
  from,
  OWN,
  positionAt,
  reachedAt,
  STANDING,
  type Motion,
  type PositionState,
} from './position.js';

/** What the course needs of the engine. */
export interface CourseHost {
  settings(): TimecodeSettings;
  /** Calls a moment, or catches up to after it; null for before the first. */
  call(id: string | null, what: 'call' | 'catchUp'): void;
  /** Whether the source that counts may just have jumped, so that nothing may be called yet. */
  doubted(): boolean;
}

export interface Course {
  /** Returns a new object after each change, except of the motion. */
  state(): PositionState;
  motion(): Motion;
  /** How often moments have become due. */
  timesDue(): number;
  calls: Calls;
  /** Changes what is not moved by time. */
  set(change: Partial<Omit<Values, 'ownSpeed'>>): void;
  /** Keeps only what was passed of moments that are still there. */
  keepPassed(isThere: (id: string) => boolean): void;
  /** Goes on by the same line as measured again. */
  steer(motion: Motion, now: number): void;
  /**
   * Runs on by another line: without a break if that is where we are, else as after a jump.
   * @param began where the new line began to be heard. @param lateMs how far before that moments are still called
   * @param aheadMs how far ahead of what was done it may begin and is still no jump; if nothing was done, how far before it moments are called
   */
  follow(motion: Motion, began: number, lateMs: number, now: number, aheadMs?: number): void;
  /** A source has stopped, or stands somewhere else. */
  stand(ms: number, now: number): void;
  /** The source that counts was silent for too long. */
  lose(now: number): void;
  /** Runs from a place by ourselves. */
  run(ms: number, now: number): void;
  /** Runs on from another place by ourselves, even if that is near. */
  jump(ms: number, now: number): void;
  standAt(ms: number, now: number): void;
  setSpeed(speed: number, now: number): void;
  /** Calls what is due by now. */
  callDue(now: number): void;
  wakeAt(): number;
  /** Calls what is due, and goes round in the loop. */
  wake(now: number): void;
  /** Another show begins. */
  reset(now: number): void;
  /** What a restart goes on from. @param now null if what is due by now may not be called yet: then as it was last */
  kept(now: number | null): PositionBefore;
  restore(before: PositionBefore, now: number): void;
}

type Values = Omit<PositionState, 'turns' | 'passed'>;
const AT_FIRST: Values = { mode: 'own', counts: OWN, chosen: AUTO, callsOn: true, loop: null, ownSpeed: 1 };

/** A position in ms that lies just before another one. */
const JUST = 1e-6;

export function createCourse({ settings, call, doubted }: CourseHost): Course {
  const calls = createCalls();
  let motion: Motion = STANDING;
  /** True once there is a position that a jump could be from. */
  let known = false;
  let values = AT_FIRST;
  let turns = 0;
  let state: PositionState | null = null;
  let timesDue = 0;

  const changed = (): void => void (state = null);
  const passed = createPassed(changed);
  const frameMs = (): number => 1000 / RATES[settings().frameRate].fps;

  function set(change: Partial<Values>): void {
    const keys = Object.keys(change) as (keyof Values)[];
    if (keys.every((key) => change[key] === values[key])) return;
    values = { ...values, ...change };
    changed();
  }

  /** Everything from here on is still to come. */
  function beginCalls(ms: number): void {
    calls.begin(ms);
    passed.begin(ms);
  }

  /** Up to where everything was done; null if the position has not run yet. */
  const doneTo = (): number | null => (known && calls.mark() > -Infinity ? calls.mark() : null);

  function callUpTo(ms: number): void {
    const due = calls.passTo(ms);
    if (due.length === 0) return;
    timesDue++;
    passed.note(due, (one) => whyPassed(one, values.callsOn));
    if (!values.callsOn) return;
    for (const one of due) if (!one.out) call(one.id, 'call');
  }

  /** Where the position is: at the next moment when that is due, though it may be computed to lie a breath before it. */
  function reached(now: number): number {
    const here = positionAt(motion, now);
    const next = calls.next();
    return next && here < next.ms && reachedAt(motion, next.ms, -Infinity) <= now ? next.ms : here;
  }

  function callDue(now: number): void {
    if (doubted()) return;
    if (motion.speed < 0) calls.backTo(positionAt(motion, now), frameMs());
    if (motion.speed <= 0) return;
    // The end of a loop is where it goes back, so that nothing behind it is passed.
    const end = loopEnd() <= now ? values.loop!.to - JUST : Infinity;
    callUpTo(Math.min(reached(now), end));
  }

  /** The position has come to stand at another place, or runs on from there. */
  function turn(): void {
    turns++;
    changed();
  }

  /** Does what the show does after a jump. @param was up to where everything was done; null if unknown. @param to where it runs on from */
  function afterJump(was: number | null, to: number): void {
    if (was !== null && to > was) passed.note(calls.between(was + JUST, to - JUST), () => 'jumped');
    const { afterJump: wanted } = settings();
    if (!values.callsOn || wanted === 'nothing') return;
    const last = calls.lastBefore(to - JUST);
    if (wanted === 'catchUp') call(last?.id ?? null, 'catchUp');
    else if (last) call(last.id, 'call');
  }

  function beginAt(began: number, lateMs: number, aheadMs: number): void {
    turn();
    const was = doneTo();
    const tremble = 2 * frameMs();
    // It runs on from where it stopped: nothing is passed over, and nothing is called again.
    if (was !== null && began >= was - tremble && began <= was + Math.max(tremble, aheadMs)) return;
    beginCalls(began - (was === null ? aheadMs : lateMs));
    afterJump(was, began);
  }

  /** A source that runs over midnight counts from 0 again. That is no jump: what is due on either side is called. */
  function overMidnight(next: Motion, began: number, now: number): void {
    const here = positionAt(motion, now);
    // Up to where everything was done, as the new day counts: just before its beginning.
    const was = (doneTo() ?? here) - here + positionAt(next, now);
    callUpTo(here);
    motion = next;
    turn();
    beginCalls(Math.min(began, was));
  }

  function follow(next: Motion, began: number, lateMs: number, now: number, aheadMs = lateMs): void {
    const off = positionAt(next, now) - positionAt(motion, now);
    const runsOn = known && motion.speed > 0 && next.speed > 0;
    const near = 1.5 * frameMs();
    if (runsOn && isOverMidnight(off, near)) overMidnight(next, began, now);
    else {
      motion = next;
      if (!runsOn || Math.abs(off) > near) beginAt(began, lateMs, aheadMs);
    }
    known = true;
    callDue(now);
  }

  function standAt(ms: number, now: number): void {
    const moved = motion.speed !== 0 || Math.abs(positionAt(motion, now) - ms) > JUST;
    motion = { ms, at: now, speed: 0 };
    known = true;
    if (moved) turn();
  }

  function loopEnd(): number {
    const { counts, loop } = values;
    const inIt = counts === OWN && loop && motion.speed > 0 && motion.ms < loop.to;
    return inIt ? reachedAt(motion, loop.to, -Infinity) : Infinity;
  }

  function goRound(now: number): void {
    const end = loopEnd();
    const { loop } = values;
    if (end > now || !loop) return;
    const length = (loop.to - loop.from) / motion.speed;
    // Counted from where the loop began, so that many rounds do not drift.
    const at = end + Math.floor((now - end) / length) * length;
    motion = { ms: loop.from, at, speed: motion.speed };
    turn();
    beginCalls(loop.from);
  }

  function nextCallAt(): number {
    if (doubted() || !values.callsOn || motion.speed <= 0) return Infinity;
    const next = calls.next();
    return next ? reachedAt(motion, next.ms, -Infinity) : Infinity;
  }

  return {
    state() {
      state ??= { ...values, turns, passed: passed.list() };
      return state;
    },
    motion: () => motion,
    timesDue: () => timesDue,
    calls,
    set,
    keepPassed: (isThere) => passed.keep(isThere),
    steer(next, now) {
      motion = next;
      callDue(now);
    },
    follow,
    stand(ms, now) {
      // It says so a little after it has stopped: what it passed until there is called, and nothing behind it.
      const near = Math.abs(positionAt(motion, now) - ms) <= frameMs();
      if (motion.speed > 0 && near) callUpTo(ms);
      standAt(ms, now);
    },
    lose(now) {
      const { afterGap } = settings();
      if (afterGap === 'runOn') {
        set({ counts: OWN, mode: 'own' });
        motion = from(motion, now);
        return;
      }
      set({ mode: 'lost', ...(afterGap === 'stop' && { counts: OWN }) });
      motion = from(motion, now, 0);
      turn();
    },
    run(ms, now) {
      set({ counts: OWN, mode: 'own' });
      follow({ ms, at: now, speed: values.ownSpeed }, ms, 0, now);
    },
    jump(ms, now) {
      const was = doneTo();
      set({ counts: OWN, mode: 'own' });
      motion = { ms, at: now, speed: values.ownSpeed };
      known = true;
      turn();
      beginCalls(ms);
      afterJump(was, ms);
      callDue(now);
    },
    standAt(ms, now) {
      set({ counts: OWN, mode: 'own' });
      standAt(ms, now);
    },
    setSpeed(ownSpeed, now) {
      set({ ownSpeed });
      if (values.counts === OWN && motion.speed !== 0) motion = from(motion, now, ownSpeed);
    },
    callDue,
    wakeAt: () => Math.min(nextCallAt(), loopEnd()),
    wake(now) {
      callDue(now);
      goRound(now);
    },
    reset(now) {
      set(AT_FIRST);
      standAt(0, now);
      known = false;
      passed.clear();
    },
    kept(now) {
      const { counts, chosen, callsOn, loop, ownSpeed } = values;
      const there = now === null ? motion : from(motion, now);
      return { motion: there, counts, chosen, callsOn, loop, ownSpeed, calledTo: doneTo() };
    },
    restore(before, now) {
      const { motion: was, counts, chosen, callsOn, loop, ownSpeed } = before;
      const own = counts === OWN;
      set({ chosen, callsOn, loop, ownSpeed, counts: OWN, mode: own ? 'own' : 'lost' });
      known = true;
      const goesOn = own && was.speed !== 0 && now - was.at <= RECENT_MS;
      motion = goesOn ? was : { ms: was.ms, at: now, speed: 0 };
      // What was due while nobody played is called late: by our own position now, and by a source once it is heard.
      const done = before.calledTo === undefined ? was.ms : (before.calledTo ?? -Infinity);
      calls.begin(done);
      calls.passTo(done);
      turn();
      callDue(now);
    },
  };
}
