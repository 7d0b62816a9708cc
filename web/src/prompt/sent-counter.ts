/** Counts what the moment that was called last has sent, from the traffic. */
import type { TrafficView } from '../live/traffic-log';
import type { OrderNow } from '../order/use-order';

/** A record may seem to be this much older than the call that it belongs to. */
const CLOCKS_DIFFER_MS = 100;

export interface Sent {
  sent: number;
  /** False if the call is older than the traffic that is known, so that it may have sent more. */
  isWhole: boolean;
  lines: Set<string>;
  /** Names of lines on which something was withheld. */
  withheld: Set<string>;
}

const nothingSent = (): Sent => ({
  sent: 0,
  isWhole: false,
  lines: new Set(),
  withheld: new Set(),
});
export const NOTHING_SENT = nothingSent();

/** Counts what calls have sent. Each record of the traffic is read once. */
export interface SentCounter {
  /** Counts what has come since it was last asked. Starts again for another call. */
  of(call: Call, traffic: TrafficView): Sent;
}

type Call = OrderNow['lastCalls'][number];

/** @param openedAt when this page began to hear the traffic, in ms since 1970 */
export function createSentCounter(openedAt = performance.timeOrigin): SentCounter {
  let counted: Call = { id: '', at: 0 };
  let readTo = 0;
  let done: Sent = nothingSent();
  return {
    of(call, traffic) {
      const isNew = call.id !== counted.id || call.at !== counted.at;
      if (isNew) [counted, done] = [call, nothingSent()];
      if (isNew) done.isWhole = openedAt < call.at && traffic.first === 0;
      const from = Math.max(traffic.first, isNew ? traffic.first : readTo);
      for (let n = traffic.end - 1; n >= from; n--) {
        const record = traffic.at(n);
        if (record.at < call.at - CLOCKS_DIFFER_MS) {
          done.isWhole = true;
          break;
        }
        if (record.senderId !== call.id || record.direction === 'in') continue;
        if (record.direction === 'heldBack') done.withheld.add(record.lineId);
        else done.sent++;
        done.lines.add(record.lineId);
      }
      readTo = traffic.end;
      return done;
    },
  };
}
