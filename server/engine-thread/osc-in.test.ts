import { beforeEach, expect, test } from '@jest/globals';
import { encodeOscBundle } from '@tawny-signal/core/osc/packet';
import { msToTimeTag } from '@tawny-signal/core/osc/time-tag';
import type { OscSignal, Signal } from '@tawny-signal/core/signal';
import { createOscIn, type OscIn } from './drivers/osc-in.js';

const bell: OscSignal = { kind: 'osc', address: '/bell/ripple', args: [] };
const NOW = 1_800_000_000_000;
let heard: Signal[];
let bad: string[];
let due: { ms: number; act: () => void }[];
let into: OscIn;

beforeEach(() => {
  heard = [];
  bad = [];
  due = [];
  const listener = {
    heard: (signal: Signal) => heard.push(signal),
    bad: (reason: string) => bad.push(reason),
  };
  into = createOscIn(
    listener,
    { later: (ms, act) => due.push({ ms, act }), stop: () => undefined },
    () => NOW,
  );
});

test('a bundle for now, or for a time that is past, is heard at once', () => {
  into.hear(encodeOscBundle([bell]));
  into.hear(encodeOscBundle([bell], msToTimeTag(NOW - 1000)));
  expect([heard.length, due.length]).toEqual([2, 0]);
});

test('a bundle for later is held until then', () => {
  into.hear(encodeOscBundle([bell, bell], msToTimeTag(NOW + 30_000)));
  expect(heard).toEqual([]);
  expect(due.map(({ ms }) => Math.round(ms))).toEqual([30_000, 30_000]);
  for (const { act } of due) act();
  expect(heard).toEqual([bell, bell]);
});

test('a bundle for a time too far away is refused, with a guess at why', () => {
  into.hear(encodeOscBundle([bell], msToTimeTag(NOW + 3_600_000)));
  expect([heard.length, due.length]).toEqual([0, 0]);
  expect(bad[0]).toBe('A bundle for 3600 s from now; 60 s is the most. Is the sender’s clock right?');
});

test('no more than a thousand are held at once', () => {
  for (let i = 0; i < 1100; i++) into.hear(encodeOscBundle([bell], msToTimeTag(NOW + 10_000)));
  expect([due.length, bad.length]).toEqual([1000, 100]);
  due[0]!.act();
  into.hear(encodeOscBundle([bell], msToTimeTag(NOW + 10_000)));
  expect(due.length).toBe(1001);
});
