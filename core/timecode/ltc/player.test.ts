/** The player is read back by our decoder, which ltc.test checks against an independent package. That package reads the player in e2e/sound.test. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { RATE_OF_CODE, RATES } from '../frame-rate.js';
import { frameOf, partsOf } from '../timecode.js';
import { createLtcDecoder, type LtcFrame } from './decoder.js';
import { createLtcPlayer, type LtcPlayer } from './player.js';
import { createRateFinder } from './rate.js';

const RATE = 48_000;
const HOUR = 90_000;

interface Rig {
  player: LtcPlayer;
  /** Plays so many samples, and reads them. */
  play(samples: number): Float32Array;
  read: { frame: number; start: number; end: number; backward: boolean; code: number }[];
}

function rig(code: number): Rig {
  const player = createLtcPlayer(RATE, -18);
  const finder = createRateFinder();
  const read: Rig['read'] = [];
  const decoder = createLtcDecoder(
    RATE,
    ({ parts, startSample: start, endSample: end, backward, drop, user }) =>
      read.push({
        frame: frameOf(parts, RATE_OF_CODE[code]!),
        start,
        end,
        backward,
        code: finder.take(
          { parts, drop, user, startSample: start, endSample: end, backward } as LtcFrame,
          (end - start) / RATE,
        ),
      }),
  );
  return {
    player,
    read,
    play(samples) {
      const all = new Float32Array(samples);
      // As the audio thread asks for it.
      for (let at = 0; at < samples; at += 128) player.fill(all.subarray(at, Math.min(samples, at + 128)));
      decoder.feed(all);
      return all;
    },
  };
}

describe('linear timecode that follows a position', () => {
  test.each([0, 1, 2, 3])('has each frame at its sample, at the rate of code %i', (code) => {
    const { fps } = RATES[RATE_OF_CODE[code]!];
    const { player, play, read } = rig(code);
    player.follow({ frame: HOUR, atSample: 1000, speed: fps / RATE, code });
    play(RATE * 3);
    expect(read.length).toBeGreaterThan(fps * 3 - 5);
    for (const { frame, start, backward } of read) {
      expect(backward).toBe(false);
      expect(start).toBeCloseTo(1000 + ((frame - HOUR) * RATE) / fps, -0.5);
    }
    expect(read.at(-1)!.code).toBe(code);
  });

  test.each([0.25, 0.5, 2, 4, -1, -2])('runs at %f times the speed', (speed) => {
    const { player, play, read } = rig(1);
    player.follow({ frame: HOUR, atSample: 0, speed: (25 * speed) / RATE, code: 1 });
    play(RATE * 4);
    expect(read.length).toBeGreaterThan(Math.abs(speed) * 100 * 0.8 - 3);
    for (const { frame, start, end, backward } of read) {
      expect(backward).toBe(speed < 0);
      const at = speed < 0 ? end : start;
      expect(Math.abs(at - ((frame - HOUR) * RATE) / 25 / speed)).toBeLessThan(8);
    }
  });

  test('comes back to a position that is told again and again, each time a little off', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: -0.2, max: 0.2, noNaN: true }), { minLength: 20, maxLength: 30 }),
        (offs) => {
          const { player, play, read } = rig(1);
          offs.forEach((off, at) => {
            player.follow({ frame: HOUR + at + off, atSample: at * 1920, speed: 25 / RATE, code: 1 });
            play(1920);
          });
          player.follow({
            frame: HOUR + offs.length,
            atSample: offs.length * 1920,
            speed: 25 / RATE,
            code: 1,
          });
          play(RATE * 2);
          const frames = read.map(({ frame }) => frame);
          // None is left out or played twice.
          frames.forEach((frame, at) => at > 0 && expect(frame).toBe(frames[at - 1]! + 1));
          const last = read.at(-1)!;
          expect(Math.abs(last.start - (last.frame - HOUR) * 1920)).toBeLessThan(4);
        },
      ),
      { numRuns: 8 },
    );
  });

  test('jumps at the end of a frame, falls silent, and begins again', () => {
    const { player, play, read } = rig(1);
    player.follow({ frame: HOUR, atSample: 0, speed: 25 / RATE, code: 1 });
    play(RATE);
    player.follow({ frame: 5000, atSample: RATE, speed: 25 / RATE, code: 1 });
    play(RATE);
    player.follow(null);
    const silence = play(RATE).subarray(4000);
    expect(silence.every((sample) => sample === 0)).toBe(true);
    player.follow({ frame: 100, atSample: RATE * 3, speed: 25 / RATE, code: 1 });
    play(RATE);
    const frames = read.map(({ frame }) => frame);
    expect(frames).toContain(HOUR + 20);
    expect(frames).toContain(5010);
    expect(frames.at(-1)).toBeGreaterThan(115);
    const odd = frames.filter((frame) => frame !== HOUR && (frame < 100 || (frame > 130 && frame < 5000)));
    expect(odd).toEqual([]);
  });

  test.each([[{ frame: NaN }], [{ speed: 1 }], [{ speed: 1e-9 }], [{ code: 7 }], [{ atSample: Infinity }]])(
    'is silent for %j',
    (change) => {
      const { player, play } = rig(1);
      player.follow({ frame: HOUR, atSample: 0, speed: 25 / RATE, code: 1, ...change });
      expect(play(10_000).every((sample) => sample === 0)).toBe(true);
    },
  );
});

describe('the rate of timecode in sound', () => {
  const take = (code: number, from: number, count: number, speed = 1): number[] => {
    const finder = createRateFinder();
    const rate = RATE_OF_CODE[code]!;
    return Array.from({ length: count }, (_, at) => {
      const parts = partsOf(from + at * Math.sign(speed), rate);
      const frame = {
        parts,
        drop: RATES[rate].drop,
        user: [],
        startSample: 0,
        endSample: 1,
        backward: speed < 0,
      };
      return finder.take(frame, 1 / RATES[rate].fps / Math.abs(speed));
    });
  };

  test.each([0, 1, 2, 3])('is known at once at full speed: code %i', (code) => {
    expect(new Set(take(code, 1000, 60))).toEqual(new Set([code]));
  });

  test.each([0.5, 0.8, 2, -1, -2])('is known after a second at %f times the speed', (speed) => {
    for (const code of [0, 1, 2, 3])
      expect(new Set(take(code, 5000, 90, speed).slice(35))).toEqual(new Set([code]));
  });
});
