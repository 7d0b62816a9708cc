/** The show's position: which source it follows, what it does while none is heard, and the moments that are called by it. */
import type { ShowAct } from '../../sends/compiled.js';
import type { Moment } from '../../show/moment.js';
import { TIMECODE_SETTINGS } from '../../show/time.js';
import type { Due } from '../../time/calls.js';
import { createCourse } from '../../time/course.js';
import { RECENT_MS, type PositionBefore } from '../../time/kept-position.js';
import {
  AUTO,
  DAY_MS,
  FASTEST,
  from,
  OWN,
  positionAt,
  SHORTEST_LOOP_MS,
  SLOWEST,
  type Motion,
  type PositionAct,
  type PositionState,
} from '../../time/position.js';
import { createSources, GAP_MS, type SourceEvent, type SourceState } from '../../time/sources.js';
import { msOf, readTimecode } from '../../timecode/timecode.js';
import type { Part, Stage } from '../part.js';

/** The position as others see it. */
export interface PositionView {
  /** Returns a new object after each change, except of the motion and of what is measured. */
  state(): PositionState;
  motion(): Motion;
  /** How each source is, by its id. */
  sources(now: number): Record<string, SourceState>;
  /** How often moments have become due: it grows before any of them is called. */
  timesDue(): number;
  /** What a restart goes on from. */
  kept(now: number): PositionBefore;
  /** The moment that is called next by timecode, with its position in ms; null for none. */
  next(): Due | null;
}

export interface PositionPart extends Part, PositionView {}

/** A source that stood somewhere begins to run from there, if it is first heard within this time, in ms. */
const STARTS_WITHIN_MS = 500;
/** The time in which lines open after a restart, in ms. What is due by then is called late. */
const OPENING_MS = 250;
/** Added to instants at which a silence is looked at, so that it is over then. */
const JUST_MS = 0.01;

const within = (ms: number): number => Math.max(0, Math.min(DAY_MS, ms));

export function createPositionPart(stage: Stage): PositionPart {
  const sources = createSources();
  let settings = TIMECODE_SETTINGS;
  /** Whether the source that counts may just have jumped. */
  let doubted = false;
  const course = createCourse({
    settings: () => settings,
    call: (momentId, what) => stage.act({ do: 'moment', momentId, act: what }, { of: 'timecode' }),
    doubted: () => doubted || restoring,
  });
  /** True for a moment after a restart: lines have to open before anything is called. */
  let restoring = false;
  let restoredBy = Infinity;
  /** When the silence of the source that counts is looked at. */
  let lookAt = Infinity;
  /** Until when somebody played before a restart, until a source is followed. */
  let playedUntil = -Infinity;

  function doubt(now: number): void {
    const { counts } = course.state();
    doubted = counts !== OWN && sources.isDoubted(counts, now);
  }

  /** Chooses the source that counts, and takes over where it is. */
  function settle(now: number, event: SourceEvent | null): void {
    const { counts, chosen, mode } = course.state();
    if (event?.what === 'stands' && standsFor(event.id)) return stand(event, now);
    const picked = sources.pick(counts, chosen, now);
    if (picked === null) {
      lookAt = Infinity;
      if (mode === 'following' || mode === 'riding') course.lose(now);
      return;
    }
    const next = sources.motionOf(picked, now)!;
    const silence = sources.silence(picked, now);
    const silent = silence > GAP_MS;
    const anew = picked !== counts || (mode !== 'following' && mode !== 'riding');
    const { speed, ms } = course.motion();
    const stood = mode === 'standing' && speed === 0 ? ms : null;
    lookAt = (silent ? now - silence + settings.rideMs : sources.lookAt(picked)) + JUST_MS;
    course.set({ counts: picked, mode: silent ? 'riding' : 'following' });
    const began = event?.id === picked ? event.beganMs : next.ms;
    if (anew) join(next, began, stood, now);
    else if (event?.what === 'jumped' && event.id === picked) course.follow(next, began, 0, now);
    else course.steer(next, now);
  }

  /** Begins to follow a source. @param stood where it said that it stands, before it began to run */
  function join(next: Motion, began: number, stood: number | null, now: number): void {
    const fromThere = stood !== null && began >= stood && began - stood <= STARTS_WITHIN_MS;
    // It has run meanwhile, if it is a little behind where it was then.
    const goneMs = now - playedUntil <= RECENT_MS ? (now - playedUntil) * Math.max(1, next.speed) : 0;
    playedUntil = -Infinity;
    if (fromThere) course.follow(next, stood, 0, now);
    else course.follow(next, began, settings.lateMs, now, goneMs + settings.lateMs);
  }

  /** Whether the place where a source stands is the position. */
  function standsFor(id: string): boolean {
    const { chosen, counts, mode } = course.state();
    if (chosen !== AUTO) return chosen === id;
    const idle = counts === OWN && course.motion().speed === 0;
    return counts === id || idle || mode === 'lost' || mode === 'standing';
  }

  function stand({ id, beganMs }: SourceEvent, now: number): void {
    course.stand(beganMs, now);
    course.set({ counts: id, mode: 'standing' });
    lookAt = Infinity;
  }

  /** Asking for our own position while a source counts means that ours counts from now on. */
  function takeOver(): void {
    playedUntil = -Infinity;
    const { chosen, counts } = course.state();
    if (chosen === OWN || counts === OWN) return;
    course.set({ chosen: OWN });
    lookAt = Infinity;
  }

  function act(asked: PositionAct, now: number): void {
    course.callDue(now);
    const here = within(positionAt(course.motion(), now));
    const runs = course.motion().speed !== 0;
    switch (asked.do) {
      case 'play':
        takeOver();
        if (course.state().mode !== 'own' || !runs) course.run(here, now);
        return;
      case 'stop':
        // What is stopped then is our own holding on: the source is followed again when it comes back.
        if (course.state().mode !== 'lost') takeOver();
        return course.standAt(here, now);
      case 'locate':
        takeOver();
        return runs ? course.jump(within(asked.ms), now) : course.standAt(within(asked.ms), now);
      case 'playFrom':
        takeOver();
        return course.jump(within(asked.ms), now);
      case 'speed':
        return course.setSpeed(Math.max(SLOWEST, Math.min(FASTEST, asked.speed)), now);
      case 'loop':
        if (!asked.loop || asked.loop.to - asked.loop.from >= SHORTEST_LOOP_MS)
          course.set({ loop: asked.loop });
        return;
      case 'choose':
        return choose(asked.source, now);
      case 'calls':
        return course.set({ callsOn: asked.on });
    }
  }

  function choose(source: string, now: number): void {
    course.set({ chosen: source });
    if (source === OWN && course.state().counts !== OWN) {
      course.set({ counts: OWN, mode: 'own' });
      course.steer(from(course.motion(), now), now);
      lookAt = Infinity;
    }
    settle(now, null);
  }

  /** What a send asks for; null if its timecode does not exist at the frame rate of the show. */
  function actOf({ act: asked, timecode }: Extract<ShowAct, { do: 'position' }>): PositionAct | null {
    if (asked === 'play' || asked === 'stop') return { do: asked };
    if (asked === 'callsOn' || asked === 'callsOff') return { do: 'calls', on: asked === 'callsOn' };
    const frame = readTimecode(timecode, settings.frameRate);
    return frame.ok ? { do: asked, ms: msOf(frame.value, settings.frameRate) } : null;
  }

  const dueOf = ({ id, timecode, parked, timecodeOn }: Moment): Due[] => {
    if (timecode === null) return [];
    const frame = readTimecode(timecode, settings.frameRate);
    return frame.ok ? [{ id, ms: msOf(frame.value, settings.frameRate), out: parked || !timecodeOn }] : [];
  };

  /** Sources may be gone, and with them the one that counts. */
  function lookAtSources(now: number): void {
    const { chosen, counts, mode } = course.state();
    const gone = (id: string): boolean => id !== OWN && id !== AUTO && !sources.ids().includes(id);
    if (gone(chosen)) course.set({ chosen: AUTO });
    if (!gone(counts)) return;
    if (mode === 'following' || mode === 'riding') course.standAt(positionAt(course.motion(), now), now);
    course.set({ counts: OWN, mode: 'own' });
  }

  function restore(before: PositionBefore | null, now: number): void {
    if (before) {
      const { counts, motion } = before;
      // Our own position has run on meanwhile: a source that begins now does not go on from there.
      playedUntil = counts === OWN && motion.speed !== 0 ? -Infinity : motion.at;
      restoring = true;
      restoredBy = now + OPENING_MS;
      return course.restore(before, now);
    }
    playedUntil = -Infinity;
    course.reset(now);
    settle(now, null);
  }

  return {
    state: () => course.state(),
    motion: () => course.motion(),
    sources: (now) => Object.fromEntries(sources.ids().map((id) => [id, sources.stateOf(id, now)!])),
    timesDue: () => course.timesDue(),
    kept(now) {
      const kept = course.kept(doubted || restoring ? null : now);
      const { motion } = kept;
      return playedUntil === -Infinity || motion.speed !== 0
        ? kept
        : { ...kept, motion: { ...motion, at: Math.min(motion.at, playedUntil) } };
    },
    next: () => (course.state().callsOn ? course.calls.next() : null),

    load({ show }, now) {
      course.callDue(now);
      settings = show.settings.timecode;
      sources.load(show.timeSources, settings, (id) => stage.lineOf(id).line);
      lookAtSources(now);
      course.calls.load(show.moments.flatMap(dueOf));
      const ids = new Set(show.moments.map(({ id }) => id));
      course.keepPassed((id) => ids.has(id));
    },
    hears: (line) => sources.on(line),
    hear(line, signal, now) {
      const event = sources.hear(line, signal, Math.min(now, stage.arrivedAt()), now);
      if (event?.what === 'asked') {
        // A machine moves our own position, and never takes it from a source.
        if (course.state().counts === OWN) act(event.act, now);
        return;
      }
      doubt(now);
      if (event) settle(now, event);
    },
    take(input, now) {
      if (input.t === 'lineGone') sources.gone(input.line);
      if (input.t === 'position') act(input.act, now);
      if (input.t === 'restore' && input.before.position !== undefined) restore(input.before.position, now);
    },
    act(asked, _, now) {
      const wanted = asked.do === 'position' ? actOf(asked) : null;
      if (wanted) act(wanted, now);
    },
    wakeAt: () => Math.min(lookAt, restoredBy, course.wakeAt()),
    wake(now) {
      if (now >= restoredBy) {
        restoring = false;
        restoredBy = Infinity;
      }
      course.wake(now);
      if (now < lookAt) return;
      doubt(now);
      sources.expire(now);
      settle(now, null);
    },
  };
}
