/** The tempo of the show: what its settings say, a tap, and where the beat was before a restart. */
import { beatAt, createTapper, type Tempo } from '../../time/tempo.js';
import type { Part } from '../part.js';

export interface TempoPart extends Part {
  /** Another object whenever it is another tempo. */
  tempo(): Tempo;
}

export function createTempoPart(): TempoPart {
  const tapper = createTapper();
  let tempo: Tempo = { bpm: 120, since: 0 };

  function tap(now: number): void {
    // The first tap says where the beat is, not how fast.
    tempo = tapper.tap(now) ?? { bpm: tempo.bpm, since: now };
  }

  return {
    tempo: () => tempo,
    load({ show: { settings }, whole }, now) {
      const bpm = settings.tempo;
      // The beat goes on from where it is.
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
