/**
 * Plays linear timecode that follows a position: its speed is that of the position, forward and backward, so that each frame ends where the position
 * says that it does. Its time is the sample, so that it is as even as the sound card's clock.
 */
import { RATE_OF_CODE } from '../frame-rate.js';
import { amplitudeOf, RISE_PART, RISE_S } from './encoder.js';
import { WORD_BITS, writeWord } from './word.js';

export interface LtcPosition {
  /** The frame, with its fraction, at a sample. */
  frame: number;
  atSample: number;
  /** Frames in one sample; negative backward, 0 to fall silent. */
  speed: number;
  /** 0–3, as core/timecode/frame-rate lists it: how frames are numbered. */
  code: number;
}

export interface LtcPlayer {
  /** The position goes on from here; null for silence after this frame. A jump begins at its next frame. */
  follow(position: LtcPosition | null): void;
  /** Fills with what comes next; silence while it stands. */
  fill(into: Float32Array): void;
}

const CELLS = WORD_BITS * 2;
/** A frame is made this much longer or shorter at most, to come nearer to the position. */
const MOST_BENT = 0.1;
/** A position that is further away than this, in frames, is a jump. */
const JUMP_FRAMES = 1.5;
/** The fastest and slowest speed, in frames a second. */
const FASTEST = 4 * 30;
const SLOWEST = 5;

/** @param sampleRate samples a second. @param levelDb dB below full scale, 0 or less. @param from the number of the first sample */
export function createLtcPlayer(sampleRate: number, levelDb: number, from = 0): LtcPlayer {
  const amplitude = amplitudeOf(levelDb);
  const half = ((RISE_S / RISE_PART) * sampleRate) / 2;
  const bits = new Uint8Array(WORD_BITS);
  let position: LtcPosition | null = null;
  /** The next sample. */
  let now = from;
  /** The frame that is being played; null in silence. */
  let frame: number | null = null;
  let way = 1;
  /** The next half bit of the frame, where it begins, and how long each is, in samples. */
  let cell = 0;
  let cellAt = 0;
  let cellLength = 0;
  let side = -1;
  /** The centre of the last transition, in samples. */
  let edge = -Infinity;

  function isPlayable({ frame: place, atSample, speed, code }: LtcPosition): boolean {
    const aSecond = Math.abs(speed) * sampleRate;
    const known = Number.isFinite(place + atSample) && RATE_OF_CODE[code] !== undefined;
    return known && aSecond >= SLOWEST && aSecond <= FASTEST;
  }

  const sampleOf = ({ frame: from, atSample, speed }: LtcPosition, place: number): number =>
    atSample + (place - from) / speed;

  /** Begins a frame at a sample. Backward, its sound runs from its end to its beginning. */
  function begin(next: number, at: number, to: LtcPosition): void {
    frame = next;
    const plain = 1 / Math.abs(to.speed);
    const end = sampleOf(to, way > 0 ? next + 1 : next);
    const length = Math.max(plain * (1 - MOST_BENT), Math.min(plain * (1 + MOST_BENT), end - at));
    writeWord(next, RATE_OF_CODE[to.code]!, bits);
    if (way < 0) bits.reverse();
    cell = 0;
    cellAt = at;
    cellLength = length / CELLS;
  }

  /** The first frame that has not begun at a sample. @returns where it begins */
  function beginAnew(from: number, to: LtcPosition): void {
    way = Math.sign(to.speed);
    const place = to.frame + (from - to.atSample) * to.speed;
    const next = way > 0 ? Math.ceil(place - 1e-6) : Math.floor(place + 1e-6) - 1;
    begin(next, Math.max(from, sampleOf(to, way > 0 ? next : next + 1)), to);
  }

  /** A frame is over at `cellAt`: the next one, another place, or silence. */
  function goOn(): void {
    const at = cellAt;
    const to = position;
    if (!to || frame === null) {
      frame = null;
      return;
    }
    const here = to.frame + (at - to.atSample) * to.speed;
    const next = frame + way;
    const wanted = way > 0 ? next : next + 1;
    if (Math.sign(to.speed) !== way || Math.abs(here - wanted) > JUMP_FRAMES) beginAnew(at, to);
    else begin(next, at, to);
  }

  function transitions(sample: number): void {
    while (frame !== null && cellAt - half <= sample) {
      const isBit = cell % 2 === 0;
      if (isBit || bits[cell >> 1] === 1) {
        side = -side;
        edge = cellAt;
      }
      cell++;
      cellAt += cellLength;
      if (cell === CELLS) goOn();
    }
  }

  return {
    follow(next) {
      position = next && isPlayable(next) ? next : null;
      if (position && frame === null) beginAnew(now, position);
    },
    fill(into) {
      for (let at = 0; at < into.length; at++) {
        const sample = now + at;
        transitions(sample);
        const off = (sample - edge) / Math.min(half, cellLength / 2 || half);
        const silent = frame === null && off >= 1;
        const shape = off >= 1 ? 1 : Math.sin((Math.max(-1, off) * Math.PI) / 2);
        into[at] = silent || edge === -Infinity ? 0 : amplitude * side * shape;
      }
      now += into.length;
    },
  };
}
