/** How a source of timecode is followed. The expected positions follow from the frame rate and the speed that the test plays at. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { dice as createDice } from '../dice.js';
import { createChase, type Chase, type ChaseEvent } from './chase.js';

const QUARTER = 0.25;

interface Playing {
  chase: Chase;
  /** Plays quarter frames for some time, and returns what became of them. @param late how late each one is, in ms */
  play(forMs: number, speed?: number, late?: () => number): ChaseEvent[];
  jump(frame: number): void;
  silence(ms: number): void;
  now(): number;
  frame(): number;
}

function playing(fps = 25, lockFrames = 4): Playing {
  const chase = createChase(fps, lockFrames);
  let now = 1000;
  let frame = 90_000;
  let last = 0;
  return {
    chase,
    play(forMs, speed = 1, late = () => 0) {
      const events: ChaseEvent[] = [];
      const between = 250 / fps / Math.abs(speed);
      const count = Math.round(forMs / between);
      for (let i = 0; i < count; i++) {
        now += between;
        frame += QUARTER * Math.sign(speed);
        // Bytes on a line never overtake each other.
        last = Math.max(last, now + late());
        events.push(chase.heard(frame, QUARTER, last));
      }
      return events;
    },
    jump: (to) => void (frame = to),
    silence: (ms) => void (now += ms),
    now: () => now,
    frame: () => frame,
  };
}

describe('a source of timecode', () => {
  test('is locked after four good frames, and says where it began', () => {
    const { chase, play } = playing();
    const events = play(400);
    expect(events.indexOf('locked')).toBe(4 / QUARTER - 1);
    expect(events.filter((event) => event === 'locked')).toHaveLength(1);
    expect(chase.began()).toBe(90_000.25);
  });

  test.each([0.25, 0.5, 0.999, 1, 1.04, 2, 4, -1, -2])('is followed at a speed of %d', (speed) => {
    const { chase, play, now, frame } = playing();
    play(4000, speed);
    expect(chase.speed()).toBeCloseTo(speed, 6);
    expect(chase.frameAt(now())).toBeCloseTo(frame(), 6);
  });

  test('jitter of 5 ms moves the position by less than 2 ms and the speed by less than 1 %', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1e6 }), (seed) => {
        const roll = createDice(seed);
        const { chase, play, now, frame } = playing();
        play(3000, 1, () => roll() * 10);
        const offMs = (chase.frameAt(now() + 5)! - frame()) * 40;
        expect(Math.abs(offMs)).toBeLessThan(2);
        expect(Math.abs(chase.speed() - 1)).toBeLessThan(0.01);
      }),
      { numRuns: 50 },
    );
  });

  test('a lone number that is somewhere else changes nothing', () => {
    const { chase, play, jump, frame, now } = playing();
    play(1000);
    const before = frame();
    jump(5);
    expect(play(10)).toEqual(['none']);
    jump(before + QUARTER);
    expect(play(500)).not.toContain('jumped');
    expect(chase.frameAt(now())).toBeCloseTo(frame(), 3);
  });

  test('a number that is one frame off is jitter', () => {
    const { play, jump, frame } = playing();
    play(1000);
    jump(frame() + 1);
    expect(play(500)).not.toContain('jumped');
  });

  test('numbers that go on from somewhere else are a jump, once', () => {
    const { chase, play, jump, frame, now } = playing();
    play(1000);
    jump(120_000);
    const events = play(1000);
    expect(events.indexOf('jumped')).toBe(4 / QUARTER - 1);
    expect(events.filter((event) => event === 'jumped')).toHaveLength(1);
    expect(chase.began()).toBe(120_000.25);
    expect(chase.frameAt(now())).toBeCloseTo(frame(), 6);
  });

  test('frames that are lost in a gap are counted, and the place is kept', () => {
    const { chase, play, jump, silence, frame } = playing();
    play(1000);
    silence(400);
    jump(frame() + 10);
    expect(play(1000)).not.toContain('jumped');
    expect(chase.quality().lost).toBe(10);
    expect(chase.quality().longestGapMs).toBeCloseTo(410, 0);
  });

  test('a ramp from full to double speed within a second is followed within a frame', () => {
    const { chase, play, now, frame } = playing();
    play(2000);
    for (let step = 0; step < 50; step++) {
      play(20, 1 + step / 50);
      expect(Math.abs(chase.frameAt(now())! - frame())).toBeLessThan(1);
    }
    play(1000, 2);
    expect(chase.speed()).toBeCloseTo(2, 2);
  });

  test('a turn keeps the lock', () => {
    const { chase, play, now, frame } = playing();
    play(1000);
    expect(play(1000, -1)).not.toContain('jumped');
    expect(chase.frameAt(now())).toBeCloseTo(frame(), 3);
    expect(chase.speed()).toBeCloseTo(-1, 3);
  });

  test('a thousandth too slow is told over a long time, in spite of jitter', () => {
    const roll = createDice(7);
    const { chase, play } = playing(30);
    play(12_000, 1000 / 1001, () => roll() * 4);
    expect(chase.quality().longSpeed! * 1e6).toBeGreaterThan(998_700);
    expect(chase.quality().longSpeed! * 1e6).toBeLessThan(999_300);
  });

  test('a slip of a sound card is not taken for a speed', () => {
    const { chase, play } = playing();
    play(6000);
    for (let part = 0; part < 40; part++) {
      play(500, 1, () => 10);
      expect(Math.abs((chase.quality().longSpeed ?? 1) - 1)).toBeLessThan(3e-4);
    }
    expect(chase.quality().longSpeed).not.toBeNull();
  });

  test('a source that is lost locks again from anywhere', () => {
    const { chase, play, jump, silence } = playing();
    play(1000);
    chase.lose();
    expect([chase.isLocked(), chase.frameAt(0)]).toEqual([false, null]);
    silence(2000);
    jump(10);
    expect(play(1000)).toContain('locked');
  });

  test('a source that is lost while it goes on from another place locks there, and began where that did', () => {
    const { chase, play, jump, now } = playing();
    play(1000);
    jump(120_000);
    play(100);
    expect(chase.lose(now() - 50)).toBe(true);
    const events = play(100);
    expect(events.indexOf('locked')).toBe(5);
    expect(chase.began()).toBe(120_000.25);
    jump(5);
    play(100);
    expect(chase.lose(now() + 1)).toBe(false);
  });
});
