/** A picture of what a motion makes, before it is shaped. */
import type { Motion } from '../show/motion.js';
import { STEADY } from '../time/span.js';
import { MAKES } from './makes.js';
import type { Run } from './run.js';

/** How long an envelope is drawn at its sustain, in ms. */
const HELD_MS = 300;
/** How many steps are drawn of what has no end. */
const STEPS_DRAWN = 16;

/** How long the picture is, in the ms of a steady tempo. */
function lengthOf({ makes, drive }: Motion): number {
  const every = drive.everyBeats === null ? drive.everyMs : drive.everyBeats * 500;
  if (makes.kind === 'wave') return every;
  if (makes.kind === 'steps') return every * makes.steps.reduce((sum, { length }) => sum + length, 0);
  return every * STEPS_DRAWN;
}

/** @param count how many values, at even distances; null where there is none */
export function previewOf(motion: Motion, count: number): (number | null)[] {
  const { makes } = motion;
  const stage = {
    drive: { ...motion.drive, by: 'time' as const, inStep: false },
    tempo: STEADY,
    seed: 1,
    form: () => null,
    look: () => 0.5,
    before: null,
  };
  const run = MAKES[makes.kind].run(makes, stage);
  run.press(0);
  if (MAKES[makes.kind].cycles) {
    const length = lengthOf(motion);
    return Array.from({ length: count }, (_, at) => run.value((at / count) * length));
  }
  return ownTimes(run, count);
}

/** An envelope is held for a while; an ease goes there. */
function ownTimes(run: Run, count: number): (number | null)[] {
  const seen: { at: number; value: number }[] = [];
  let now = 0;
  /** Looks often enough between two events to draw the way between them. */
  const walk = (to: number): void => {
    for (let n = 0; n <= 32; n++) {
      const at = now + ((to - now) * n) / 32;
      seen.push({ at, value: run.value(at) ?? 0 });
    }
    now = to;
    run.at?.(now);
  };
  for (let n = 0; n < 8 && run.nextAt(now) !== Infinity; n++) walk(run.nextAt(now));
  if (run.release) {
    walk(now + HELD_MS);
    run.release(now);
    for (let n = 0; n < 4 && run.nextAt(now) !== Infinity; n++) walk(run.nextAt(now));
  }
  const end = Math.max(now, 1);
  return Array.from({ length: count }, (_, at) => {
    const place = (at / Math.max(1, count - 1)) * end;
    return (seen.findLast((one) => one.at <= place) ?? seen[0])?.value ?? null;
  });
}
