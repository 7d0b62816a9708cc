import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { createFrames, LEAST_MS, REPEAT_MS } from './frames.js';
import { isStale } from './sacn.js';
import { decodeSlot, encodeSlot } from './slot.js';

describe('the frames of a universe', () => {
  test('nothing is sent before a level was set', () => expect(createFrames().dueAt()).toBe(Infinity));

  test('the first level is sent at once, and the same one again only about a second later', () => {
    const frames = createFrames();
    frames.set(1, 0);
    expect(frames.dueAt()).toBeLessThanOrEqual(0);
    frames.take(100);
    frames.set(1, 0);
    expect(frames.dueAt()).toBe(100 + REPEAT_MS);
  });

  test('a frame that could not leave is due again as soon as one may', () => {
    const frames = createFrames();
    frames.set(1, 1);
    frames.take(100);
    frames.lost();
    expect(frames.dueAt()).toBe(100 + LEAST_MS);
  });

  // DMX512-A (ANSI E1.11), from memory: a full frame takes 22.7 ms, so there are at most 44 a second.
  test('however often levels change, there are at most 44 frames a second', () => {
    const frames = createFrames();
    let sent = 0;
    for (let now = 0; now < 10_000; now++) {
      frames.set(1 + (now % 512), now % 251);
      if (frames.dueAt() > now) continue;
      frames.take(now);
      sent++;
    }
    expect(sent).toBeGreaterThan(400);
    expect(sent).toBeLessThanOrEqual(440);
    expect(LEAST_MS).toBeGreaterThan(22.7);
  });

  // ANSI E1.31, 6.6.2 (from memory): unchanged levels are repeated each 800 to 1000 ms.
  test('an unchanged universe is repeated about once a second', () => {
    expect(REPEAT_MS).toBeGreaterThanOrEqual(800);
    expect(REPEAT_MS).toBeLessThanOrEqual(1000);
  });

  // Art-Net 4, "ArtDmx" (from memory): 0 would say that sequences are not used.
  test('sequences go from 1 to 255 and round again, without 0', () => {
    const frames = createFrames();
    frames.set(1, 1);
    const sequences = Array.from({ length: 256 }, (_, at) => frames.take(at).sequence);
    expect(sequences.slice(0, 2)).toEqual([1, 2]);
    expect(sequences.slice(-2)).toEqual([255, 1]);
  });
});

// ANSI E1.31, 6.7.2 (from memory): a frame is passed over whose sequence is up to 20 behind the last one.
test('a source that is started again is heard by those who knew it, whatever its last sequence was', () => {
  for (let before = 0; before < 256; before++) {
    let last = before;
    const frames = createFrames(true);
    frames.set(1, 9);
    const first = frames.take(0).sequence;
    expect(frames.dueAt()).toBeLessThanOrEqual(LEAST_MS);
    const second = frames.take(LEAST_MS).sequence;
    expect(frames.dueAt()).toBe(LEAST_MS + REPEAT_MS);
    const heard = [first, second].filter((sequence) => {
      if (isStale(last, sequence)) return false;
      last = sequence;
      return true;
    });
    expect(heard.length).toBeGreaterThan(0);
    expect(isStale(last, frames.take(100).sequence)).toBe(false);
  }
});

test('a slot comes back as it went in, and other bytes are none', () => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 512 }), fc.nat(255), (slot, level) => {
      const signal = { kind: 'slot' as const, slot, level };
      expect(decodeSlot(encodeSlot(signal))).toEqual(signal);
    }),
  );
  for (const bytes of [[], [0, 0, 1], [2, 1, 1], [0, 1], [0, 1, 2, 3]])
    expect(decodeSlot(Uint8Array.from(bytes))).toBeNull();
});
