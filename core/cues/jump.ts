/** Catching up to a moment as a jump that can be taken back: what it sends, and what brings every line back to how it was. */
import { catchUp } from './catch-up.js';
import type { Expanded } from './expand.js';
import type { RunnerStage } from './run.js';

export interface Jump {
  /** What stood by before it. */
  from: string | null;
  sends: readonly Expanded[];
  /** The levels that the slots have now, and what the moments before the jump left elsewhere. */
  back: readonly Expanded[];
}

/**
 * @param from what stands by before it
 * @param before what was played before the jump, by the running order
 * @param after what would have been played before the moment that is jumped to
 * @param fadeMs how long levels and ramps take
 */
export function planJump(
  stage: Pick<RunnerStage, 'levels' | 'lineOf'>,
  from: string | null,
  before: readonly (readonly Expanded[])[],
  after: readonly (readonly Expanded[])[],
  fadeMs: number,
): Jump {
  const sends = catchUp(after, fadeMs);
  const levels = sends.flatMap((given): Expanded[] => {
    if (given.kind !== 'levels') return [];
    const { line } = stage.lineOf(given.lineId);
    const now = given.levels.map(([slot]) => [slot, stage.levels.levelOf(line, slot)] as const);
    return [{ ...given, levels: now }];
  });
  return { from, sends, back: [...levels, ...catchUp(before).filter(({ kind }) => kind !== 'levels')] };
}

/** Returns the sends with another fade. */
export const overTime = (sends: readonly Expanded[], fadeMs: number): Expanded[] =>
  sends.map((given) => (given.kind === 'file' ? given : { ...given, fadeMs, fadeBeats: null }));
