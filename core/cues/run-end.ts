/** When a running moment is done. Times in beats follow the tempo, so that this may come sooner or later than it was thought at the call. */
import { endBeat, endOf, type Span, type TempoNow } from '../time/span.js';
import { timeOf, type Tempo } from '../time/tempo.js';
import { spansAfter, type Plan, type Planned } from './plan.js';

export interface RunEnd {
  /** When the last thing is done, as the tempo is now, in the running order's own time. Computed once for each tempo, not at each call. */
  at(): number;
  /** Something of the moment begins now. */
  began(planned: Planned, now: number): void;
}

/** The end of a span: at an instant, or on a beat. */
type End = { at: number } | { beat: number };

/** @param tempo returns a new object after each change */
export function createRunEnd({ sends, inBeats, lengthMs }: Plan, since: number, tempo: TempoNow): RunEnd {
  const fixed = since + lengthMs(tempo().bpm);
  if (!inBeats) return { at: () => fixed, began: () => undefined };

  const endFrom = ({ ms, beats }: Span, now: number): End =>
    beats === null ? { at: now + ms } : { beat: endBeat(beats, tempo(), now) };
  const comesAt = (end: End): number => ('at' in end ? end.at : timeOf(tempo(), end.beat));
  /** What has not begun yet, with the end of its delay. */
  const waiting = new Map(sends.map((planned) => [planned, endFrom(planned.delay, since)]));
  /** The last instant and the last beat at which something ends that has begun. */
  let lastAt = since;
  let lastBeat = -Infinity;
  let known: { tempo: Tempo; at: number } | null = null;

  function lastOfAll(): number {
    let last = lastAt;
    if (lastBeat !== -Infinity) last = Math.max(last, timeOf(tempo(), lastBeat));
    for (const [planned, begins] of waiting)
      for (const span of spansAfter(planned)) last = Math.max(last, endOf(span, tempo(), comesAt(begins)));
    return last;
  }

  return {
    at() {
      if (known?.tempo !== tempo()) known = { tempo: tempo(), at: lastOfAll() };
      return known.at;
    },
    began(planned, now) {
      known = null;
      waiting.delete(planned);
      for (const span of spansAfter(planned)) {
        const end = endFrom(span, now);
        if ('at' in end) lastAt = Math.max(lastAt, end.at);
        else lastBeat = Math.max(lastBeat, end.beat);
      }
    },
  };
}
