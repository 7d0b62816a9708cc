/** How much passes through each route. */
import type { Passing } from '../live/store';

const WINDOW_MS = 1000;

/** Messages that each sender sent in the last second, by its id. @param now milliseconds since 1970 */
export function passedPerSecond(traffic: readonly Passing[], now: number): Map<string, number> {
  const counts = new Map<string, number>();
  for (let at = traffic.length - 1; at >= 0; at--) {
    const record = traffic[at]!;
    if (record.at < now - WINDOW_MS) break;
    if (record.direction === 'out' && record.senderId !== null)
      counts.set(record.senderId, (counts.get(record.senderId) ?? 0) + 1);
  }
  return counts;
}
