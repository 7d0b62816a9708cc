/** Counts how much passes through each route. */
import type { TrafficView } from '../live/traffic-log';

const WINDOW_MS = 1000;

/** Returns the number of messages that each sender sent in the last second, by id. @param now milliseconds since 1970 */
export function passedPerSecond(traffic: TrafficView, now: number): Map<string, number> {
  const counts = new Map<string, number>();
  for (let n = traffic.end - 1; n >= traffic.first; n--) {
    const record = traffic.at(n);
    if (record.at < now - WINDOW_MS) break;
    if (record.direction === 'out' && record.senderId !== null)
      counts.set(record.senderId, (counts.get(record.senderId) ?? 0) + 1);
  }
  return counts;
}
