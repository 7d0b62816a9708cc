/** The time of the machine that Tawny Signal runs on, which may differ from that of the browser's machine. What the server tells is timed by it. */

/** What has to be added to `performance.now()`, in ms. The browser's own clock, until the server was asked. */
let offset = performance.timeOrigin;

/** Milliseconds since 1970 on the server's machine, with fractions. */
export const serverNow = (): number => performance.now() + offset;

/** @param there the server's time at the browser's `performance.now()` of `at` */
export function setServerClock(there: number, at: number): void {
  offset = there - at;
}
