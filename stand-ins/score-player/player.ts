/** Plays a score. Returns what is due at a given time; reads no clock. */
import type { Score } from './score.js';

export interface Player {
  start(now: number): void;
  /** @returns the messages that release the sounding notes */
  stop(now: number): number[][];
  /** @param tempo beats a minute. What is played goes on from where it is. */
  setTempo(tempo: number, now: number): void;
  /** Returns everything that is due by now, in order. Starts again at the end. */
  due(now: number): number[][];
  readonly playing: boolean;
  readonly tempo: number;
  /** The position in milliseconds at the tempo of the score. */
  positionMs(now: number): number;
}

export function createPlayer(score: Score): Player {
  let playing = false;
  let tempo = score.tempo;
  let fromMs = 0; // place in the score …
  let fromAt = 0; // … at this time
  let next = 0;
  const sounding = new Set<number>();

  const position = (now: number): number =>
    playing ? fromMs + ((now - fromAt) * tempo) / score.tempo : fromMs;

  function track(bytes: number[]): void {
    const [status = 0, note = 0, velocity = 0] = bytes;
    const key = ((status & 0x0f) << 7) | note;
    if ((status & 0xf0) === 0x90 && velocity > 0) sounding.add(key);
    else if ((status & 0xf0) === 0x80 || (status & 0xf0) === 0x90) sounding.delete(key);
  }

  function silence(): number[][] {
    const releases = [...sounding].map((key) => [0x80 | (key >> 7), key & 0x7f, 64]);
    sounding.clear();
    return releases;
  }

  return {
    get playing() {
      return playing;
    },
    get tempo() {
      return tempo;
    },
    positionMs: position,
    start(now) {
      if (playing) return;
      playing = true;
      fromAt = now;
    },
    stop() {
      playing = false;
      fromMs = 0;
      next = 0;
      return silence();
    },
    setTempo(wanted, now) {
      fromMs = position(now);
      fromAt = now;
      tempo = wanted;
    },
    due(now) {
      const out: number[][] = [];
      if (!playing || score.messages.length === 0) return out;
      const until = position(now);
      for (; next < score.messages.length && score.messages[next]!.atMs <= until; next++) {
        const { bytes } = score.messages[next]!;
        track(bytes);
        out.push(bytes);
      }
      if (next === score.messages.length && until >= score.durationMs) {
        out.push(...silence());
        fromMs = 0;
        fromAt = now;
        next = 0;
      }
      return out;
    },
  };
}
