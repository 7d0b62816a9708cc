/** Places along the show's position between which motions run. */
import { DAY_MS, positionAt, reachedAt, STANDING, type Motion as Course } from '../time/position.js';
import type { FrameRate } from '../timecode/frame-rate.js';
import { msOf, readTimecode } from '../timecode/timecode.js';
import type { Motion } from '../show/motion.js';

/** In ms of the position. */
interface Place {
  from: number;
  until: number;
}

/** Instants are rounded, so what is this near to an end of a place, in ms, has reached it. */
const NEAR_MS = 0.01;

/** @returns null if a motion is not begun by the position, or its place can't be read or is empty */
export function readPlace({ begins, place: { from, until } }: Motion, rate: FrameRate): Place | null {
  if (begins !== 'position' || from === null) return null;
  const first = readTimecode(from, rate);
  const last = until === null ? null : readTimecode(until, rate);
  if (!first.ok || last?.ok === false) return null;
  const place = { from: msOf(first.value, rate), until: last ? msOf(last.value, rate) : DAY_MS };
  return place.until > place.from ? place : null;
}

/** Whether the position runs inside a place now. */
function isInside({ from, until }: Place, course: Course, now: number): boolean {
  const here = positionAt(course, now) + Math.sign(course.speed) * NEAR_MS;
  return course.speed !== 0 && here >= from && here < until;
}

/** When the position comes to an end of a place, in monotonic ms; Infinity if it does not. */
function crossesAt({ from, until }: Place, course: Course, now: number): number {
  const soonest = now + NEAR_MS / Math.abs(course.speed);
  return [from, until]
    .map((end) => reachedAt(course, end, now))
    .reduce((next, at) => (at > soonest ? Math.min(next, at) : next), Infinity);
}

/** How long ago the position came into a place if it has run as it does now, in ms. It is taken to come in at the beginning. */
const insideFor = ({ from }: Place, course: Course, now: number): number =>
  course.speed > 0 ? Math.max(0, (positionAt(course, now) - from) / course.speed) : 0;

interface Placed {
  source: Motion;
  /** Whether it may run. */
  live: boolean;
}

export interface Places<M extends Placed> {
  /** @param rate in which timecodes are written */
  load(motions: Iterable<M>, rate: FrameRate): void;
  /** Whether the position has changed, or has come to an end of a place. */
  isDue(course: Course, now: number): boolean;
  /** Begins what the position has come to, and ends what it has left. */
  settle(course: Course, now: number): void;
  /** Whether the position is in the place of a motion, by its id. */
  has(id: string): boolean;
  /** When the position comes to an end of a place. */
  wakeAt(): number;
}

/** @param enter called once when the position has come into a place, with how long ago that was. @param leave called once when it has left it */
export function createPlaces<M extends Placed>(
  enter: (motion: M, agoMs: number, now: number) => void,
  leave: (motion: M, now: number) => void,
): Places<M> {
  let placed: [motion: M, place: Place][] = [];
  let inside = new Set<string>();
  let before: Course = STANDING;
  let crossingAt = Infinity;
  return {
    load(motions, rate) {
      placed = [...motions].flatMap((motion): [M, Place][] => {
        const place = readPlace(motion.source, rate);
        return place ? [[motion, place]] : [];
      });
    },
    isDue: (course, now) => now >= crossingAt || course !== before,
    settle(course, now) {
      before = course;
      crossingAt = Infinity;
      const wereInside = inside;
      inside = new Set();
      for (const [motion, place] of placed) {
        const { id } = motion.source;
        crossingAt = Math.min(crossingAt, crossesAt(place, course, now));
        if (motion.live && isInside(place, course, now)) {
          inside.add(id);
          if (!wereInside.has(id)) enter(motion, insideFor(place, course, now), now);
        } else if (wereInside.has(id)) leave(motion, now);
      }
    },
    has: (id) => inside.has(id),
    wakeAt: () => crossingAt,
  };
}
