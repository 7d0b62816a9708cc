/** Whether what somebody sent can be written again by a recursive function. */

/** How deep the state of a stand-in may be. */
export const DEEPEST_STATE = 32;

/** Checks how deeply a parsed value is nested: to `DEEPEST_STATE` levels at most. */
export function isShallow(value: unknown): boolean {
  let level: unknown[] = [value];
  for (let depth = 0; level.length > 0; depth++) {
    if (depth > DEEPEST_STATE) return false;
    level = level.flatMap((one) =>
      typeof one === 'object' && one !== null ? (Object.values(one) as unknown[]) : [],
    );
  }
  return true;
}
