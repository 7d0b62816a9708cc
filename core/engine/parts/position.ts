/** The show's position: which source it follows, what it does while none is heard, and the moments that are called by it. */
import type { TimecodeSettings } from '../../show/time.js';
import { TIMECODE_SETTINGS } from '../../show/time.js';
import type { Moment } from '../../show/moment.js';
import { createCalls, whyPassed, type Due } from '../../time/calls.js';
import {
  AUTO,
  DAY_MS,
  FASTEST,
  from,
  OWN,
  positionAt,
  reachedAt,
  SLOWEST,
  STANDING,
  type Motion,
  type PassedWhy,
  type PositionAct,
  type PositionMode,
  type PositionState,
} from '../../time/position.js';
import { createSources, GAP_MS, type SourceEvent, type SourceState } from '../../time/sources.js';
import { RATES } from '../../timecode/frame-rate.js';
import { msOf, readTimecode } from '../../timecode/timecode.js';
import type { Part, Stage } from '../part.js';

/** The position as others see it. */
export interface PositionView {
  /** Returns a new object after each change, except of the motion and of what is measured. */
  state(): PositionState;
  motion(): Motion;
  /** How each source is, by its id. */
  sources(now: number): Record<string, SourceState>;
  /** The moment that is called next by timecode, with its position in ms; null for none. */
  next(): Due | null;
}

export interface PositionPart extends Part, PositionView {}

/** The state of the position before a restart. */
export interface PositionBefore {
  motion: Motion;
  counts: string;
  chosen: string;
  callsOn: boolean;
  loop: PositionState['loop'];
  ownSpeed: number;
}

/** A position that was kept this long ago, in ms, is gone on from as if nothing had happened. */
const RECENT_MS = 3000;
/** A source that stood somewhere begins to run from there, if it is first heard within this time, in ms. */
const STARTS_WITHIN_MS = 500;
const MOST_PASSED = 50;
/** A loop is at least this long, in ms. */
const SHORTEST_LOOP_MS = 100;

export function createPositionPart(stage: Stage): PositionPart {
  const sources = createSources();
  const calls = createCalls();
  let settings: TimecodeSettings = TIMECODE_SETTINGS;
  let motion: Motion = STANDING;
  /** True once there is a position that a jump could be from. */
  let known = false;
  let mode: PositionMode = 'own';
  let counts: string = OWN;
  let chosen: string = AUTO;
  let callsOn = true;
  let ownSpeed = 1;
  let loop: PositionState['loop'] = null;
  let turns = 0;
  let passed: readonly { id: string; why: PassedWhy }[] = [];
  let state: PositionState | null = null;
  /** When the silence of the source that counts is looked at. */
  let lookAt = Infinity;
  /** Whether the source that counts may just have jumped. */
  let doubted = false;
  /** When the state before a restart was restored, until a source is followed. */
  let restoredAt = -Infinity;

  const changed = (): void => void (state = null);
  const frameMs = (): number => 1000 / RATES[settings.frameRate].fps;

  function set<T>(before: T, next: T): T {
    if (before !== next) changed();
    return next;
  }

  function notePassed(dues: readonly Due[], why: (due: Due) => PassedWhy | null): void {
    const over = dues.flatMap((due) => {
      const reason = why(due);
      return reason ? [{ id: due.id, why: reason }] : [];
    });
    if (over.length === 0) return;
    passed = [...passed, ...over].slice(-MOST_PASSED);
    changed();
  }

  /** Nothing is called while a source may just have jumped. */
  const isDoubted = (now: number): boolean => counts !== OWN && sources.isDoubted(counts, now);

  /** Calls what is due by now. */
  function callDue(now: number): void {
    if (isDoubted(now)) return;
    if (motion.speed <= 0) {
      if (motion.speed < 0) calls.backTo(positionAt(motion, now), frameMs());
      return;
    }
    // The end of a loop is where it goes back, so that nothing behind it is passed.
    const end = loopEnd() <= now ? loop!.to - 1e-6 : Infinity;
    callUpTo(Math.min(positionAt(motion, now), end));
  }

  function callUpTo(ms: number): void {
    const due = calls.passTo(ms);
    if (due.length === 0) return;
    notePassed(due, (one) => whyPassed(one, callsOn));
    if (!callsOn) return;
    for (const one of due)
      if (!one.out) stage.act({ do: 'moment', momentId: one.id, act: 'call' }, { of: 'timecode' });
  }

  /** The position has come to stand at another place, or runs on from there. */
  function turn(): void {
    turns++;
    changed();
  }

  /** Does what the show does after a jump. @param to where it runs on from */
  function afterJump(was: number | null, to: number): void {
    if (was !== null && to > was)
      notePassed(
        calls.between(was, to).filter((due) => due.ms > was && due.ms < to - 1e-6),
        () => 'jumped',
      );
    if (!callsOn || settings.afterJump === 'nothing') return;
    const last = calls.lastBefore(to - 1e-6);
    const momentId = last?.id ?? null;
    if (settings.afterJump === 'catchUp')
      stage.act({ do: 'moment', momentId, act: 'catchUp' }, { of: 'timecode' });
    else if (last) stage.act({ do: 'moment', momentId, act: 'call' }, { of: 'timecode' });
  }

  /**
   * Runs on by another line: without a break if that is where we are, else as after a jump.
   * @param began where the new line began to be heard. @param lateMs how far before that moments are still called
   */
  function follow(next: Motion, began: number, lateMs: number, now: number): void {
    const off = positionAt(next, now) - positionAt(motion, now);
    const goesOn = known && motion.speed > 0 && next.speed > 0 && Math.abs(off) <= 1.5 * frameMs();
    motion = next;
    if (!goesOn) beginAt(began, lateMs);
    known = true;
    callDue(now);
  }

  function beginAt(began: number, lateMs: number): void {
    turn();
    const was = known ? calls.mark() : null;
    const tremble = 2 * frameMs();
    // It runs on from where it stopped: nothing is passed over, and nothing is called again.
    if (was !== null && began >= was - tremble && began <= was + Math.max(tremble, lateMs)) return;
    calls.begin(began - lateMs);
    afterJump(was, began);
  }

  /** Chooses the source that counts, and takes over where it is. */
  function settle(now: number, event: SourceEvent | null): void {
    if (event?.what === 'stands' && standsFor(event.id)) return stand(event, now);
    const picked = sources.pick(counts, chosen, now);
    if (picked !== null) {
      const next = sources.motionOf(picked, now)!;
      const silent = sources.silence(picked, now) > GAP_MS;
      const anew = picked !== counts || (mode !== 'following' && mode !== 'riding');
      const stood = mode === 'standing' && motion.speed === 0 ? motion.ms : null;
      counts = set(counts, picked);
      mode = set(mode, silent ? 'riding' : 'following');
      lookAt = silent
        ? now - sources.silence(picked, now) + settings.rideMs + 0.01
        : sources.lookAt(picked) + 0.01;
      if (anew) return join(next, event?.id === picked ? event.beganMs : next.ms, stood, now);
      if (event?.what === 'jumped' && event.id === picked) return follow(next, event.beganMs, 0, now);
      motion = next;
      return callDue(now);
    }
    lookAt = Infinity;
    if (mode === 'following' || mode === 'riding') lose(now);
  }

  /** Begins to follow a source. @param stood where it said that it stands, before it began to run */
  function join(next: Motion, began: number, stood: number | null, now: number): void {
    const fromThere = stood !== null && began >= stood && began - stood <= STARTS_WITHIN_MS;
    const back = now - restoredAt <= RECENT_MS ? RECENT_MS : settings.lateMs;
    restoredAt = -Infinity;
    if (fromThere) follow(next, stood, 0, now);
    else follow(next, began, Math.max(back, settings.lateMs), now);
  }

  const standsFor = (id: string): boolean =>
    chosen === id ||
    (chosen === AUTO &&
      (counts === id || (counts === OWN && motion.speed === 0) || mode === 'lost' || mode === 'standing'));

  function stand({ id, beganMs }: SourceEvent, now: number): void {
    const moved = Math.abs(positionAt(motion, now) - beganMs) > 1e-6 || motion.speed !== 0;
    // It says so a little after it has stopped: what it passed until there is called, and nothing behind it.
    const near = Math.abs(positionAt(motion, now) - beganMs) <= frameMs();
    if (motion.speed > 0 && near) callUpTo(beganMs);
    counts = set(counts, id);
    mode = set(mode, 'standing');
    motion = { ms: beganMs, at: now, speed: 0 };
    known = true;
    lookAt = Infinity;
    if (moved) turn();
  }

  function lose(now: number): void {
    if (settings.afterGap === 'runOn') {
      counts = set(counts, OWN);
      mode = set(mode, 'own');
      motion = from(motion, now);
      return;
    }
    mode = set(mode, 'lost');
    motion = from(motion, now, 0);
    if (settings.afterGap === 'stop') counts = set(counts, OWN);
    turn();
  }

  /** Runs from a place by ourselves. */
  function run(ms: number, now: number): void {
    counts = set(counts, OWN);
    mode = set(mode, 'own');
    follow({ ms, at: now, speed: ownSpeed }, ms, 0, now);
  }

  function standAt(ms: number, now: number): void {
    const here = positionAt(motion, now);
    counts = set(counts, OWN);
    mode = set(mode, 'own');
    const moved = motion.speed !== 0 || Math.abs(here - ms) > 1e-6;
    motion = { ms, at: now, speed: 0 };
    known = true;
    if (moved) turn();
  }

  const within = (ms: number): number => Math.max(0, Math.min(DAY_MS, ms));

  /** Asking for our own position while a source counts means that ours counts from now on. */
  function takeOver(): void {
    if (chosen === OWN || counts === OWN) return;
    chosen = OWN;
    lookAt = Infinity;
    changed();
  }

  function act(asked: PositionAct, now: number): void {
    callDue(now);
    const here = within(positionAt(motion, now));
    switch (asked.do) {
      case 'play': {
        takeOver();
        if (mode === 'own' && motion.speed !== 0) return;
        return run(here, now);
      }
      case 'stop':
        takeOver();
        return standAt(here, now);
      case 'locate': {
        takeOver();
        const runs = motion.speed !== 0;
        return runs ? jump(within(asked.ms), now) : standAt(within(asked.ms), now);
      }
      case 'playFrom':
        takeOver();
        return jump(within(asked.ms), now);
      case 'speed': {
        ownSpeed = set(ownSpeed, Math.max(SLOWEST, Math.min(FASTEST, asked.speed)));
        if (counts === OWN && motion.speed !== 0) motion = from(motion, now, ownSpeed);
        return;
      }
      case 'loop': {
        const bad = asked.loop && asked.loop.to - asked.loop.from < SHORTEST_LOOP_MS;
        if (!bad) loop = set(loop, asked.loop);
        return;
      }
      case 'choose': {
        chosen = set(chosen, asked.source);
        if (chosen === OWN && counts !== OWN) {
          counts = OWN;
          mode = 'own';
          motion = from(motion, now);
          lookAt = Infinity;
        }
        return settle(now, null);
      }
      case 'calls': {
        callsOn = set(callsOn, asked.on);
        return;
      }
    }
  }

  /** Runs on from another place, even if that is near. */
  function jump(ms: number, now: number): void {
    const was = known ? calls.mark() : null;
    counts = set(counts, OWN);
    mode = set(mode, 'own');
    motion = { ms, at: now, speed: ownSpeed };
    known = true;
    turn();
    calls.begin(ms);
    afterJump(was, ms);
    callDue(now);
  }

  function loopEnd(): number {
    return counts === OWN && loop && motion.speed > 0 && motion.ms < loop.to
      ? reachedAt(motion, loop.to, -Infinity)
      : Infinity;
  }

  function goRound(now: number): void {
    const end = loopEnd();
    if (end > now || !loop) return;
    const length = (loop.to - loop.from) / motion.speed;
    // Counted from where the loop began, so that many rounds do not drift.
    const at = end + Math.floor((now - end) / length) * length;
    motion = { ms: loop.from, at, speed: motion.speed };
    turn();
    calls.begin(loop.from);
  }

  const dueOf = ({ id, timecode, parked, timecodeOn }: Moment): Due[] => {
    if (timecode === null) return [];
    const frame = readTimecode(timecode, settings.frameRate);
    return frame.ok ? [{ id, ms: msOf(frame.value, settings.frameRate), out: parked || !timecodeOn }] : [];
  };

  function nextCallAt(): number {
    if (doubted || !callsOn || motion.speed <= 0) return Infinity;
    const next = calls.next();
    return next ? reachedAt(motion, next.ms, -Infinity) : Infinity;
  }

  return {
    state() {
      state ??= { mode, counts, chosen, callsOn, loop, ownSpeed, turns, passed };
      return state;
    },
    motion: () => motion,
    sources: (now) => Object.fromEntries(sources.ids().map((id) => [id, sources.stateOf(id, now)!])),
    next: () => (callsOn ? calls.next() : null),

    load({ show }, now) {
      callDue(now);
      settings = show.settings.timecode;
      sources.load(show.timeSources, settings, (id) => stage.lineOf(id).line);
      if (chosen !== AUTO && chosen !== OWN && !sources.ids().includes(chosen)) chosen = set(chosen, AUTO);
      if (counts !== OWN && !sources.ids().includes(counts)) {
        counts = set(counts, OWN);
        if (mode === 'following' || mode === 'riding') standAt(positionAt(motion, now), now);
        mode = set(mode, 'own');
      }
      calls.load(show.moments.flatMap(dueOf));
      passed = passed.filter(({ id }) => show.moments.some((moment) => moment.id === id));
    },
    hears: () => sources.any(),
    hear(line, signal, now) {
      const event = sources.hear(line, signal, Math.min(now, stage.arrivedAt()));
      doubted = isDoubted(now);
      if (event) settle(now, event);
    },
    take(input, now) {
      if (input.t === 'lineGone') sources.gone(input.line);
      if (input.t === 'position') act(input.act, now);
      if (input.t === 'restore' && input.before.position) restore(input.before.position, now);
    },
    act(asked, _, now) {
      if (asked.do === 'position') act(asked.act, now);
    },
    wakeAt: () => Math.min(lookAt, nextCallAt(), loopEnd()),
    wake(now) {
      callDue(now);
      goRound(now);
      if (now < lookAt) return;
      doubted = isDoubted(now);
      sources.expire(now);
      settle(now, null);
    },
  };

  function restore(before: PositionBefore, now: number): void {
    ({ chosen, callsOn, loop, ownSpeed } = before);
    known = true;
    const recent = now - before.motion.at <= RECENT_MS;
    const own = before.counts === OWN && before.motion.speed !== 0;
    restoredAt = recent ? now : -Infinity;
    motion = own && recent ? before.motion : { ms: before.motion.ms, at: now, speed: 0 };
    counts = OWN;
    mode = before.counts === OWN ? 'own' : 'lost';
    // What was passed while nobody played is called late, by our own position now and by a source once it is heard.
    calls.begin(before.motion.ms);
    calls.passTo(before.motion.ms);
    turn();
    callDue(now);
  }
}
