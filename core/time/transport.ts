/**
 * Where the music is, as it is told to people: state of the running show, which is neither a row nor an edit of it. The engine has it as `Tempo`, by
 * its own clock.
 */
import type { Tempo } from './tempo.js';

export interface Transport {
  /** Beats a minute. */
  bpm: number;
  /** When beat 0 was, in milliseconds since 1970. */
  beatAt: number;
}

/** @param origin when the engine's clock was 0, in milliseconds since 1970 */
export const transportOf = ({ bpm, since }: Tempo, origin: number): Transport => ({
  bpm,
  beatAt: origin + since,
});
export const tempoOf = ({ bpm, beatAt }: Transport, origin: number): Tempo => ({
  bpm,
  since: beatAt - origin,
});
