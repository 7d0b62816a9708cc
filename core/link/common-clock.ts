/**
 * The time that the engine and the web server tell each other: milliseconds since 1970 by the clock of the machine as it was when all of it was started.
 * Somebody may set that clock while a show runs: an engine that takes the place of another then must not count by another time than those who are there.
 */

/** The variable in which the launcher says it: the clock minus the time since the machine started, in ms. */
export const CLOCK_VARIABLE = 'TAWNY_CLOCK';

/**
 * When the monotonic clock of a process was 0, by that time.
 * @param said what the variable has. @param machineMs since the machine started, and `now` by the monotonic clock of the process, both in this instant
 * @param own what holds where nothing was said
 */
export function commonOrigin(said: string | undefined, machineMs: number, now: number, own: number): number {
  const offset = said === undefined || said === '' ? NaN : Number(said);
  return Number.isFinite(offset) ? offset + machineMs - now : own;
}
