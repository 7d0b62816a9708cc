/**
 * Where the music and the show are, as people are told it: state of the running show, which is neither a row nor an edit of it. Times are in
 * milliseconds since 1970; the engine has the same by its own clock.
 */
import type { TempoState, TempoView } from '../engine/parts/tempo.js';
import type { PositionView } from '../engine/parts/position.js';
import type { PositionBefore } from './kept-position.js';
import { from, OWN, positionAt, type Motion, type PositionState } from './position.js';
import type { SourceState } from './sources.js';
import type { TempoSourceState } from './tempo-sources.js';
import { barOf, type Bar, type Tempo } from './tempo.js';

export interface PositionSeen extends PositionState {
  motion: Motion;
  /** The moment that is called next by timecode. */
  next: { id: string; ms: number } | null;
  /** Of a position that is restored: up to where moments were called since it was kept. */
  calledTo?: number | null | undefined;
  sources: Record<string, SourceState>;
}

export interface Transport {
  /** Beats a minute. */
  bpm: number;
  /** When beat 0 was. */
  beatAt: number;
  /** A beat with which a bar begins, and the beats to the bar. */
  bar: Bar;
  /** Where the tempo comes from. */
  tempo: TempoState & { sources: Record<string, TempoSourceState> };
  position: PositionSeen;
}

/**
 * The position as those who were told of it draw it. Their measure of the engine's clock may be a little behind, and what they are told comes late: a
 * position that has just jumped is not drawn before the place that it jumped to, and in a loop never behind its end.
 *
 * @param now by the clock of the motion, ms. @returns ms
 */
export function seenPositionAt(
  { motion, counts, loop }: Pick<PositionSeen, 'motion' | 'counts' | 'loop'>,
  now: number,
): number {
  const here = positionAt(motion, Math.max(now, motion.at));
  const goesRound = counts === OWN && loop && motion.speed > 0 && motion.ms < loop.to && here >= loop.to;
  return goesRound ? loop.from + ((here - loop.to) % (loop.to - loop.from)) : here;
}

const moved = (motion: Motion, by: number): Motion => ({ ...motion, at: motion.at + by });

function seenSource(source: SourceState, origin: number): SourceState {
  const { motion, lastAt, quality } = source;
  const { lockedSince } = quality;
  return {
    ...source,
    motion: motion && moved(motion, origin),
    lastAt: lastAt === null ? null : lastAt + origin,
    quality: { ...quality, lockedSince: lockedSince === null ? null : lockedSince + origin },
  };
}

/** @param now monotonic ms. @param origin when the engine's clock was 0, in milliseconds since 1970 */
export function transportOf(
  tempo: TempoView,
  position: PositionView,
  now: number,
  origin: number,
): Transport {
  const next = position.next();
  const current = tempo.tempo();
  const { bpm, since } = current;
  return {
    bpm,
    beatAt: origin + since,
    bar: barOf(current),
    tempo: { ...tempo.state(), sources: tempo.sources() },
    position: {
      ...position.state(),
      motion: moved(from(position.motion(), now), origin),
      next: next && { id: next.id, ms: next.ms },
      sources: Object.fromEntries(
        Object.entries(position.sources(now)).map(([id, source]) => [id, seenSource(source, origin)]),
      ),
    },
  };
}

export const tempoOf = ({ bpm, beatAt, bar }: Transport, origin: number): Tempo => ({
  bpm,
  since: beatAt - origin,
  bar,
});

/** The position as it is kept for a restart. @param now monotonic ms. @returns it with times in milliseconds since 1970, as those of a transport */
export function keptPosition(
  position: Pick<PositionView, 'kept'>,
  now: number,
  origin: number,
): PositionBefore {
  const before = position.kept(now);
  return { ...before, motion: moved(before.motion, origin) };
}

/** The position to restart from. */
export function positionBefore({ position }: Transport, origin: number): PositionBefore {
  const { motion, counts, chosen, callsOn, loop, ownSpeed, calledTo } = position;
  return { calledTo, motion: moved(motion, -origin), counts, chosen, callsOn, loop, ownSpeed };
}
