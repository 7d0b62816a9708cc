/** Moments that call or run each other in a ring without any time between: it would have no end, and is refused. */
import { delayOf } from './expand.js';
import type { Moment, MomentSend } from '../show/moment.js';
import type { Span } from '../time/span.js';

/** The next beat may be now. */
const isAtOnce = ({ ms, beats }: Span): boolean => (beats === null ? ms === 0 : beats.beats === 0);

const callsAtOnce = (given: MomentSend): string | null =>
  given.kind === 'send' && given.send.kind === 'call' && given.send.act !== 'stop' && isAtOnce(delayOf(given))
    ? given.send.momentId
    : null;

/** @returns the place of the thing in `sends` by which the moment comes round to itself; -1 for none */
export function ringOf(moments: readonly Moment[], { id, sends }: Moment): number {
  const byId = new Map(moments.map((moment) => [moment.id, moment]));
  function reaches(from: string, seen: Set<string>): boolean {
    if (from === id) return true;
    if (seen.has(from)) return false;
    seen.add(from);
    const next = byId.get(from)?.sends.map(callsAtOnce) ?? [];
    return next.some((one) => one !== null && reaches(one, seen));
  }
  return sends.findIndex((given) => {
    const first = callsAtOnce(given);
    return first !== null && reaches(first, new Set());
  });
}

/** @returns a moment that comes round to itself; null for none. Looks at each moment and each call once */
export function anyRing(moments: readonly Moment[]): Moment | null {
  const byId = new Map(moments.map((moment) => [moment.id, moment]));
  const done = new Set<string>();
  for (const start of moments) {
    // The way from `start` to where it is now, each with the calls that are still to be followed.
    const way: { moment: Moment; next: (string | null)[] }[] = [];
    const onWay = new Set<string>();
    const enter = (moment: Moment): void => {
      onWay.add(moment.id);
      way.push({ moment, next: moment.sends.map(callsAtOnce) });
    };
    if (!done.has(start.id)) enter(start);
    while (way.length > 0) {
      const { moment, next } = way.at(-1)!;
      const id = next.pop();
      if (id === undefined) {
        done.add(moment.id);
        onWay.delete(moment.id);
        way.pop();
      } else if (id !== null && onWay.has(id)) return byId.get(id)!;
      else if (id !== null && byId.has(id) && !done.has(id)) enter(byId.get(id)!);
    }
  }
  return null;
}
