/** The tempo: set by the show's settings or by taps, and restored after a restart. */
import { beatAt, createTapper, type Tempo } from '../../time/tempo.js';
import type { Part } from '../part.js';

export interface TempoPart extends Part {
  /** Returns a new object after each change, so that callers can compare by identity. */
  tempo(): Tempo;
}

export function createTempoPart(): TempoPart {
  const tapper = createTapper();
  let tempo: Tempo = { bpm: 120, since: 0 };

  function tap(now: number): void {
    // The first tap moves the beat and leaves the speed as it is.
    tempo = tapper.tap(now) ?? { bpm: tempo.bpm, since: now };
  }

  return {
    tempo: () => tempo,
    load({ show: { settings }, whole }, now) {
      const bpm = settings.tempo;
      // The speed changes and the current beat stays.
      if (whole && bpm !== tempo.bpm) tempo = { bpm, since: now - (beatAt(tempo, now) * 60_000) / bpm };
    },
    act(act, _, now) {
      if (act.do === 'tap') tap(now);
    },
    take(input, now) {
      if (input.t === 'tap') tap(now);
      if (input.t === 'restore' && input.before.beatSince !== null)
        tempo = { bpm: tempo.bpm, since: input.before.beatSince };
    },
  };
}
