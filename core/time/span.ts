/** Lengths of time: in ms, or in beats, which follow the tempo while it runs. Given the time; reads no clock. */
import { z } from 'zod';
import { barOf, beatAt, timeOf, type Tempo } from './tempo.js';

const BEATS = 'Write 1/16 to 1024 beats.';
export const MOST_BEATS = 1024;
/** The shortest span in beats, which bounds how often something repeats. */
export const SHORTEST_BEATS = 1 / 16;

/**
 * A span in beats.
 * - `on` null: exactly so many beats
 * - `on` a beat or a bar: it ends on one, so many beats from now, to the nearest; with 0 beats, on the next one
 */
export const beatSpanSchema = z.object({
  beats: z
    .number(BEATS)
    .max(MOST_BEATS, BEATS)
    .refine((beats) => beats === 0 || beats >= SHORTEST_BEATS, BEATS),
  on: z.enum(['beat', 'bar']).nullable().default(null),
});
export type BeatSpan = z.infer<typeof beatSpanSchema>;

export interface Span {
  ms: number;
  /** If not null, these count, and `ms` does not. */
  beats: BeatSpan | null;
}

export const inMs = (ms: number): Span => ({ ms, beats: null });
/** Whether it takes no time. */
export const isNone = ({ ms, beats }: Span): boolean =>
  beats === null ? ms === 0 : beats.beats === 0 && beats.on === null;

/** Returns the tempo as it is now. */
export type TempoNow = () => Tempo;
/** A tempo for what knows no other. */
export const STEADY: TempoNow = () => ({ bpm: 120, since: 0 });

/** Beats are compared with this tolerance, so that what begins on a beat is on it. */
const ROUNDING = 1e-6;

/** The beat on which a span ends that begins now. */
export function endBeat({ beats, on }: BeatSpan, tempo: Tempo, now: number): number {
  const here = beatAt(tempo, now);
  if (on === null) return here + beats;
  const bar = on === 'bar' ? barOf(tempo) : { at: 0, beats: 1 };
  const places = (beat: number): number => (beat - bar.at) / bar.beats;
  if (beats === 0) return bar.at + Math.ceil(places(here) - ROUNDING) * bar.beats;
  // So many beats are never none.
  const after = Math.floor(places(here) + ROUNDING) + 1;
  const wanted = Math.max(after, Math.round(places(here + beats)));
  return bar.at + wanted * bar.beats;
}

/** When a span ends that begins now, if the tempo stays as it is. In monotonic ms. */
export const endOf = ({ ms, beats }: Span, tempo: Tempo, now: number): number =>
  beats === null ? now + ms : timeOf(tempo, endBeat(beats, tempo, now));

/** How long a span is at a tempo, for what is drawn and said. The next beat or bar is taken to be at once. */
export const lengthAt = ({ ms, beats }: Span, bpm: number): number =>
  beats === null ? ms : (beats.beats * 60_000) / bpm;

/** The way from the beginning of a span to its end. */
export interface Pace {
  /** How much of it has passed: 0–1. */
  part(now: number): number;
  /** When it ends, as the tempo is now. In monotonic ms. */
  endsAt(): number;
  /** The beat at which it ends; Infinity if it is in ms. */
  endBeat: number;
}

/** When a beat comes; Infinity for no beat. */
export const beatComesAt = (beat: number, tempo: TempoNow): number =>
  beat === Infinity ? Infinity : timeOf(tempo(), beat);

/** The way of a span that begins now. */
export function paceOf({ ms, beats }: Span, now: number, tempo: TempoNow): Pace {
  if (beats === null) {
    const end = now + ms;
    return {
      part: (at) => (at >= end ? 1 : Math.max(0, (at - now) / ms)),
      endsAt: () => end,
      endBeat: Infinity,
    };
  }
  const from = beatAt(tempo(), now);
  const to = endBeat(beats, tempo(), now);
  return {
    part(at) {
      const passed = beatAt(tempo(), at);
      return passed >= to - ROUNDING ? 1 : Math.max(0, (passed - from) / (to - from));
    },
    endsAt: () => timeOf(tempo(), to),
    endBeat: to,
  };
}
