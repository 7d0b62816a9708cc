/**
 * Plays linear timecode to a program that plays what it is given. Only a little is given ahead, so that a stop is heard at once: how much is known from
 * how far the program says that it is, which is the sound card's own clock.
 */
import type { Writable } from 'node:stream';
import type { TimecodeSignal } from '@tawny-signal/core/signal';
import { createSampleClock } from '@tawny-signal/core/time/sample-clock';
import { createHeading } from '@tawny-signal/core/timecode/ltc/heading';
import { createLtcPlayer } from '@tawny-signal/core/timecode/ltc/player';
import { SAMPLE_RATE, type Progress } from './sound-programs.js';

const BYTES = 2;
/** Timecode is the same on both. */
export const PLAYED_CHANNELS = 2;
const FULL_SCALE = 32_767;
const SIZE = BYTES * PLAYED_CHANNELS;
const PER_MS = SAMPLE_RATE / 1000;
/** How often sound is given, and how much of it is ahead of where the program is, in ms. */
const EVERY_MS = 10;
const AHEAD_MS = 80;
/** What is played falls silent if no frame came for this long. */
const ALONE_MS = 1000;
/** The most bytes that wait for a program that has stopped reading. */
const MOST_WAITING = 1 << 16;

export interface Player {
  /** The position is at a frame now; or it stands. */
  play(told: TimecodeSignal, now: number): void;
  /** The program has said something. @param now when, in monotonic ms */
  said(text: string, now: number): void;
  stop(): void;
}

/** @param progress how far the program is. @param goesOn called each time when the program says how far it is */
export function createPlayer(
  stdin: Writable,
  levelDb: number,
  progress: Progress,
  goesOn: () => void = () => undefined,
): Player {
  const heading = createHeading();
  const player = createLtcPlayer(SAMPLE_RATE, levelDb);
  let clock = createSampleClock(SAMPLE_RATE);
  let written = 0;
  let askedAt = -Infinity;

  /** The sample at which the program is; the first one until it has begun. */
  const here = (now: number): number => clock.sampleAt(now) ?? 0;

  /** Everything was played, and more was not there in time: it goes on from here. */
  function ranDry(now: number): void {
    clock = createSampleClock(SAMPLE_RATE);
    clock.saw(written, now);
  }

  function give(): void {
    const now = performance.now();
    if (now - askedAt > ALONE_MS) player.follow(null);
    if (stdin.writableLength > MOST_WAITING) return;
    if (here(now) > written) ranDry(now);
    const count = Math.floor(here(now) + AHEAD_MS * PER_MS - written);
    if (count <= 0) return;
    const block = new Float32Array(count);
    player.fill(block);
    const bytes = Buffer.alloc(count * SIZE);
    for (let i = 0; i < count; i++) {
      const sample = Math.round(block[i]! * FULL_SCALE);
      for (let channel = 0; channel < PLAYED_CHANNELS; channel++)
        bytes.writeInt16LE(sample, i * SIZE + channel * BYTES);
    }
    written += count;
    stdin.write(bytes);
  }

  give();
  const timer = setInterval(give, EVERY_MS);
  return {
    play(told, now) {
      askedAt = now;
      const place = heading.take(told, now);
      if (!place) return player.follow(null);
      const { frame, perMs, code } = place;
      const atSample = here(now) - progress.afterMs * PER_MS;
      player.follow({ frame, atSample, speed: perMs / PER_MS, code });
    },
    said(text, now) {
      const samples = progress.take(text);
      if (samples === null) return;
      goesOn();
      clock.saw(samples, now);
    },
    stop: () => clearInterval(timer),
  };
}
