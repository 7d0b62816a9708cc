/** The time of the running order. While it is held, its time and its beats stand still; after that it is on the beat again. Given the time; reads no clock. */
import { type TempoNow } from '../time/span.js';
import { barOf, beatAt, type Tempo } from '../time/tempo.js';

export interface OwnTime {
  /** Its own time, in ms. @param now monotonic ms */
  at(now: number): number;
  /** The same instant in monotonic ms, if it is not held meanwhile. */
  real(own: number): number;
  /** The tempo in its own time. Returns a new object after each change, so that callers can compare by identity. */
  tempo(): Tempo;
  /** Since when it is held, in monotonic ms; null while it runs. */
  heldAt(): number | null;
  hold(now: number): void;
  resume(now: number): void;
}

export function createOwnTime(tempoNow: TempoNow): OwnTime {
  let heldAt: number | null = null;
  /** How long it was held in total. */
  let behind = 0;
  /** The whole beats that passed meanwhile, and its own beat when it was held last. */
  let beatsBehind = 0;
  let heldBeat = 0;

  const at = (now: number): number => (heldAt ?? now) - behind;
  let known: { real: Tempo; behind: number; own: Tempo } | null = null;

  function shifted(real: Tempo): Tempo {
    const { at: barAt, beats } = barOf(real);
    const since = real.since - behind + (beatsBehind * 60_000) / real.bpm;
    return { bpm: real.bpm, since, bar: { at: barAt - beatsBehind, beats } };
  }

  function tempo(): Tempo {
    const real = tempoNow();
    if (behind === 0) return real;
    if (known?.real !== real || known.behind !== behind) known = { real, behind, own: shifted(real) };
    return known.own;
  }
  return {
    at,
    real: (own) => own + behind,
    tempo,
    heldAt: () => heldAt,
    hold(now) {
      heldBeat = beatAt(tempo(), at(now));
      heldAt = now;
    },
    resume(now) {
      if (heldAt === null) return;
      behind += now - heldAt;
      heldAt = null;
      beatsBehind = Math.round(beatAt(tempoNow(), now) - heldBeat);
    },
  };
}
