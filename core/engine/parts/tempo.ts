/** The tempo: as the show opens with, until it is typed or tapped; and restored after a restart. */
import { beatAt, createTapper, type Tempo } from '../../time/tempo.js';
import type { Part, Stage } from '../part.js';

export interface TempoPart extends Part {
  /** Returns a new object after each change, so that callers can compare by identity. */
  tempo(): Tempo;
}

export function createTempoPart({ arrivedAt }: Pick<Stage, 'arrivedAt'>): TempoPart {
  const tapper = createTapper();
  let tempo: Tempo = { bpm: 120, since: 0 };
  /** The tempo that the show opens with, when it was last loaded. */
  let ofTheShow: number | null = null;

  /** Changes the speed; the current beat stays. */
  function setSpeed(bpm: number, now: number): void {
    if (bpm !== tempo.bpm) tempo = { bpm, since: now - (beatAt(tempo, now) * 60_000) / bpm };
  }

  function tap(now: number): void {
    // The first tap moves the beat and leaves the speed as it is.
    tempo = tapper.tap(now) ?? { bpm: tempo.bpm, since: now };
  }

  return {
    tempo: () => tempo,
    load({ show: { settings }, whole }, now) {
      if (!whole) return;
      // Other edits of the show leave the tempo that was tapped or typed since.
      if (settings.tempo !== ofTheShow) setSpeed(settings.tempo, now);
      ofTheShow = settings.tempo;
    },
    act(act) {
      // A tap counts from when it arrived, so that waiting in a queue does not move the beat.
      if (act.do === 'tap') tap(arrivedAt());
    },
    take(input, now) {
      if (input.t === 'tap') tap(now);
      if (input.t === 'tempo') setSpeed(input.bpm, now);
      if (input.t === 'restore' && input.before.tempo !== null) ({ tempo } = input.before);
    },
  };
}
