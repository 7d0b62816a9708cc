/** When a running moment is done. Times in beats follow the tempo, so that this may come sooner or later than it was thought at the call. */
import { endBeat, endOf, type Span, type TempoNow } from '../time/span.js';
import { timeOf } from '../time/tempo.js';
import { spansAfter, type Plan, type Planned } from './plan.js';

export interface RunEnd {
  /** When the last thing is done, as the tempo is now, in the running order's own time. */
  at(): number;
  /** Something of the moment begins now. */
  began(planned: Planned, now: number): void;
}

/** The end of a span: at an instant, or on a beat. */
type End = { at: number } | { beat: number };

export function createRunEnd({ sends, inBeats, lengthMs }: Plan, since: number, tempo: TempoNow): RunEnd {
  const fixed = since + lengthMs(tempo().bpm);
  if (!inBeats) return { at: () => fixed, began: () => undefined };

  const endFrom = ({ ms, beats }: Span, now: number): End =>
    beats === null ? { at: now + ms } : { beat: endBeat(beats, tempo(), now) };
  const comesAt = (end: End): number => ('at' in end ? end.at : timeOf(tempo(), end.beat));
  /** What has not begun yet, with the end of its delay; and the ends of what has. */
  const waiting = new Map(sends.map((planned) => [planned, endFrom(planned.delay, since)]));
  const ends: End[] = [];

  return {
    at() {
      let last = since;
      for (const end of ends) last = Math.max(last, comesAt(end));
      for (const [planned, begins] of waiting)
        for (const span of spansAfter(planned)) last = Math.max(last, endOf(span, tempo(), comesAt(begins)));
      return last;
    },
    began(planned, now) {
      waiting.delete(planned);
      for (const span of spansAfter(planned)) ends.push(endFrom(span, now));
    },
  };
}
