/**
 * Reads linear timecode from sound, at any speed from a quarter to four times, forward and backward, at any level and polarity (SMPTE ST 12-1, from
 * memory). It finds transitions, sorts the times between them into long and short ones, and looks for the sync word in the bits.
 */
import { readWord, SYNC, WORD_BITS, type Word } from './word.js';

export interface LtcFrame extends Word {
  /** The sample at which its sound began, with a fraction, counted from the first one that was fed. */
  startSample: number;
  /** The sample at which its sound ended. */
  endSample: number;
  backward: boolean;
}

export interface LtcDecoder {
  feed(samples: Float32Array): void;
  /** Samples were lost: what is read goes on behind the gap. @param samples how many */
  skip(samples: number): void;
  /** Half of the way from the lowest to the highest sample, 0–1, over the last moments. */
  level(): number;
  /** The middle between them: a constant part of the signal. */
  offset(): number;
}

/** What is lower than this is silence: -46 dB. */
const SILENCE = 0.005;
const LOUDEST = 16;
/** The signal has to go beyond this part of its level to count as a transition, so that noise does not. */
const HYSTERESIS = 0.42;
/** How fast the highest and lowest samples are forgotten, in s. */
const FORGET_S = 0.05;
/** How much a new time between transitions changes what is expected. */
const FOLLOW = 0.12;
/** The number of times that are looked at to find out how long half a bit is; more and more of them while all are alike, as where a frame begins with zeros. */
const SAMPLE_OF_TIMES = 48;
const MORE_TIMES = 16;
const MOST_TIMES = 96;
/** A time is between short and long at one and a half. One beyond these is neither. */
const BETWEEN = 1.5;
const TOO_SHORT = 0.55;
const TOO_LONG = 2.7;
/** Times in a row that are neither short nor long, after which the speed is found anew. */
const MOST_MISFITS = 4;

/** @param frame called with each frame that was read, valid during the call */
export function createLtcDecoder(sampleRate: number, frame: (read: LtcFrame) => void): LtcDecoder {
  const forget = Math.exp(-1 / (FORGET_S * sampleRate));
  let high = 0;
  let low = 0;
  let now = 0;
  let before = 0;
  /** On which side of the middle the signal is: 1 above, -1 below, 0 unknown after silence, so that its first transition counts, up or down. */
  let side = 0;
  /** When the signal last went through its middle. */
  let crossedAt = 0;
  /** The last transition; negative before the first. */
  let lastEdge = -1;
  /** Samples in half a bit; 0 while unknown. */
  let halfBit = 0;
  /** The times between transitions while that is unknown. */
  const times: number[] = [];
  let misfits = 0;
  /** Whether the first half of a 1 was seen, and when it began. */
  let pending = -1;

  /** The last 80 bits, and when each began, as rings. */
  const bits = new Uint8Array(WORD_BITS);
  const starts = new Float64Array(WORD_BITS);
  let head = 0;
  let count = 0;
  const word = new Uint8Array(WORD_BITS);

  function startOver(): void {
    halfBit = 0;
    times.length = 0;
    misfits = 0;
    pending = -1;
    count = 0;
  }

  /** Finds how long half a bit is: there are two groups of times, and one is twice the other. Then the times are bits of the first frame. */
  function findHalfBit(endedAt: number): void {
    const sorted = times.toSorted((a, b) => a - b);
    let split = 0;
    let widest = 0;
    for (let at = 4; at < sorted.length - 2; at++) {
      const ratio = sorted[at]! / sorted[at - 1]!;
      if (ratio > widest) {
        widest = ratio;
        split = at;
      }
    }
    const mean = (list: number[]): number => list.reduce((sum, one) => sum + one, 0) / list.length;
    const short = mean(sorted.slice(0, split));
    const ratio = mean(sorted.slice(split)) / short;
    if (split > 0 && ratio > 1.6 && ratio < 2.4) halfBit = short;
    else if (times.length < MOST_TIMES) return;
    let at = endedAt - times.reduce((sum, one) => sum + one, 0);
    for (const time of times.splice(0)) {
      const startedAt = at;
      at += time;
      if (halfBit > 0) between(startedAt, at);
    }
  }

  function bit(value: number, startedAt: number, endedAt: number): void {
    bits[head] = value;
    starts[head] = startedAt;
    head = (head + 1) % WORD_BITS;
    if (count < WORD_BITS) count++;
    if (count === WORD_BITS) look(endedAt);
  }

  const bitAt = (at: number): number => bits[(head + at) % WORD_BITS]!;

  /** Forward, the sync word came last; backward, it came first, and everything is in reverse. */
  function look(endedAt: number): void {
    const last = WORD_BITS - SYNC.length;
    let forward = true;
    let backward = true;
    for (let at = 0; at < SYNC.length && (forward || backward); at++) {
      if (forward && bitAt(last + at) !== SYNC[at]) forward = false;
      if (backward && bitAt(SYNC.length - 1 - at) !== SYNC[at]) backward = false;
    }
    if (!forward && !backward) return;
    for (let at = 0; at < WORD_BITS; at++) word[at] = bitAt(forward ? at : WORD_BITS - 1 - at);
    const read = readWord(word);
    if (!read) return;
    frame({ ...read, startSample: starts[head]!, endSample: endedAt, backward: !forward });
    count = 0;
  }

  function transition(at: number): void {
    const since = at - lastEdge;
    const startedAt = lastEdge;
    lastEdge = at;
    if (startedAt < 0) return;
    if (halfBit === 0) {
      times.push(since);
      if (times.length >= SAMPLE_OF_TIMES && times.length % MORE_TIMES === 0) findHalfBit(at);
    } else between(startedAt, at);
  }

  /** Two transitions that follow each other: half a 1, or a 0. */
  function between(startedAt: number, at: number): void {
    const since = at - startedAt;
    const ratio = since / halfBit;
    if (ratio < TOO_SHORT || ratio > TOO_LONG) {
      pending = -1;
      count = 0;
      if (++misfits >= MOST_MISFITS) startOver();
      return;
    }
    misfits = 0;
    const isLong = ratio > BETWEEN;
    halfBit += FOLLOW * ((isLong ? since / 2 : since) - halfBit);
    if (isLong) {
      // A long one begins a bit. If half a 1 was waiting, the bits were counted from the wrong place.
      if (pending >= 0) count = 0;
      pending = -1;
      bit(0, startedAt, at);
    } else if (pending < 0) pending = startedAt;
    else {
      bit(1, pending, at);
      pending = -1;
    }
  }

  function silent(): void {
    side = 0;
    if (lastEdge < 0) return;
    lastEdge = -1;
    startOver();
  }

  return {
    feed(samples) {
      for (let at = 0; at < samples.length; at++) {
        // What is no sample, or far beyond full scale, counts as silence.
        const given = samples[at]!;
        const sample = Math.abs(given) <= LOUDEST ? given : 0;
        const middle = (high + low) / 2;
        high = sample > high ? sample : middle + (high - middle) * forget;
        low = sample < low ? sample : middle + (low - middle) * forget;
        const swing = (high - low) / 2;
        if (before < middle !== sample < middle)
          crossedAt = now - 1 + (sample === before ? 1 : (middle - before) / (sample - before));
        before = sample;
        if (swing < SILENCE) silent();
        else {
          const beyond =
            sample < middle - swing * HYSTERESIS ? -1 : sample > middle + swing * HYSTERESIS ? 1 : side;
          if (beyond !== side) {
            side = beyond;
            transition(crossedAt);
          }
        }
        now++;
      }
    },
    skip(samples) {
      now += samples;
      pending = -1;
      count = 0;
      lastEdge = -1;
    },
    level: () => (high - low) / 2,
    offset: () => (high + low) / 2,
  };
}
