/** Counts the cycles of a motion from its beginning, in time or in beats, so that nothing drifts. Given the time; reads no clock. */
import type { TempoNow } from '../time/span.js';
import { beatAt, songBeatAt, timeOf, barOf } from '../time/tempo.js';
import type { Drive } from './drive.js';

export interface CycleClock {
  /** Begins anew. */
  begin(now: number): void;
  /** Cycles since the beginning, with their fraction. */
  at(now: number): number;
  /** When the cycles get to a number, as the tempo is now, in monotonic ms; Infinity if they stand or run the other way. */
  timeOf(cycles: number, now: number): number;
  /** Changes how fast it runs: 1 is as written. The cycle that it is in stays. */
  setSpeed(speed: number, now: number): void;
}

export function createCycleClock({ everyMs, everyBeats, phase, inStep }: Drive, tempo: TempoNow): CycleClock {
  const every = everyBeats ?? everyMs;
  /** The place that cycles are counted by: ms, beats, or beats of the song. */
  const place = (now: number): number => {
    if (everyBeats === null) return now;
    return inStep ? songBeatAt(tempo(), now) : beatAt(tempo(), now);
  };
  const timeOfPlace = (to: number): number => {
    if (everyBeats === null) return to;
    return timeOf(tempo(), inStep ? to + barOf(tempo()).at : to);
  };
  let base = phase;
  let from = 0;
  let speed = 1;
  const at = (now: number): number => base + ((place(now) - from) * speed) / every;
  return {
    begin(now) {
      base = phase;
      from = everyBeats !== null && inStep ? 0 : place(now);
    },
    at,
    timeOf(cycles, now) {
      if (speed === 0 || (cycles - at(now)) * speed < 0) return Infinity;
      return timeOfPlace(from + ((cycles - base) * every) / speed);
    },
    setSpeed(next, now) {
      if (next === speed) return;
      base = at(now);
      from = place(now);
      speed = next;
    },
  };
}
