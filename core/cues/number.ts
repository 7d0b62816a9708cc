/** Cue numbers as the trade writes them: `4`, `4.5`, `12.1.3`. There is always one between any two. */

const CUE_NUMBER = /^\d{1,6}(?:\.\d{1,6}){0,7}$/;

export const isCueNumber = (text: string): boolean => CUE_NUMBER.test(text);

const partsOf = (cue: string): number[] => cue.split('.').map(Number);

/** Below 0 where `a` comes first. `4` is before `4.1`; each part is a whole number, so `4.9` is before `4.10`. */
export function compareCues(a: string, b: string): number {
  const [first, second] = [partsOf(a), partsOf(b)];
  for (let at = 0; at < Math.max(first.length, second.length); at++) {
    const difference = (first[at] ?? -1) - (second[at] ?? -1);
    if (difference !== 0) return difference;
  }
  return 0;
}

/**
 * A number between two others, as short as can be. @param before empty for the first. @param after empty for the last
 * @returns a number after `before` and before `after`, where they are in order
 */
export function cueBetween(before: string, after: string): string {
  if (before === '' && after === '') return '1';
  const next = before === '' ? '1' : String(partsOf(before)[0]! + 1);
  if (after === '' || compareCues(next, after) < 0) return next;
  if (before === '') return `0.${partsOf(after)[0] === 0 ? 0 : 5}`;
  // One part more: in the middle of ten, so that there is room on both sides.
  const depth = partsOf(before);
  for (let parts = depth.length; parts >= 1; parts--) {
    const bumped = [...depth.slice(0, parts - 1), depth[parts - 1]! + 1].join('.');
    if (compareCues(before, bumped) < 0 && compareCues(bumped, after) < 0) return bumped;
  }
  for (const last of [5, 1, 0]) {
    const longer = `${before}.${last}`;
    if (compareCues(longer, after) < 0) return longer;
  }
  return `${before}.0.5`;
}
