/** The moments that will be called by themselves: those that follow another one, and those that wait for the beat. Given the time; reads no clock. */
import { endBeat, endOf, type Span } from '../time/span.js';
import { timeOf } from '../time/tempo.js';
import type { AskedBy } from './order.js';
import type { OwnTime } from './own-time.js';
import type { Run } from './run.js';

export const FOLLOWS: AskedBy = { of: 'follow' };

export interface Following {
  /**
   * @param from when the span begins, in the running order's own time; or the run at whose end it begins
   * @param by who called it: it follows, or it was asked to come on the beat
   */
  add(id: string, from: number | Run, span: Span, by: AskedBy): void;
  /** Whether somebody has called it, and it waits for the beat. */
  waits(id: string): boolean;
  /** Keeps only what `wanted` returns true for. */
  keep(wanted: (id: string) => boolean): void;
  /** Whether anything waits for a beat. */
  inBeats(): boolean;
  /** What is to come, each with its time in monotonic ms as the tempo is now. */
  list(): { id: string; at: number }[];
  /** When the first one is due, in own time; Infinity for none. */
  nextAt(): number;
  /** What is due by now, in own time. It stays until it is called or no longer kept. */
  due(now: number): { id: string; by: AskedBy }[];
}

/** When it is due: at an instant, on a beat, or some time after the end of a run, which the tempo may still move. */
type Due = { at: number } | { beat: number } | { after: Run; span: Span };

interface Next {
  id: string;
  by: AskedBy;
  due: Due;
}

export function createFollowing(own: OwnTime): Following {
  let nexts: Next[] = [];

  /** Beats are counted from where the span begins, at the tempo of then. */
  const dueFrom = ({ ms, beats }: Span, from: number): Due =>
    beats === null ? { at: from + ms } : { beat: endBeat(beats, own.tempo(), from) };

  function dueAt({ due }: Next): number {
    if ('at' in due) return due.at;
    return 'beat' in due ? timeOf(own.tempo(), due.beat) : endOf(due.span, own.tempo(), due.after.end.at());
  }
  return {
    add(id, from, span, by) {
      const due = typeof from === 'number' ? dueFrom(span, from) : { after: from, span };
      nexts = [...nexts.filter((one) => one.id !== id), { id, by, due }];
    },
    waits: (id) => nexts.some((one) => one.id === id && one.by !== FOLLOWS),
    keep(wanted) {
      nexts = nexts.filter(({ id }) => wanted(id));
    },
    inBeats: () => nexts.some(({ due }) => !('at' in due)),
    list: () => nexts.map((one) => ({ id: one.id, at: own.real(dueAt(one)) })),
    nextAt: () => nexts.reduce((first, one) => Math.min(first, dueAt(one)), Infinity),
    due(now) {
      for (const one of nexts)
        if ('after' in one.due && one.due.after.end.at() <= now)
          one.due = dueFrom(one.due.span, one.due.after.end.at());
      return nexts.filter((one) => dueAt(one) <= now);
    },
  };
}
