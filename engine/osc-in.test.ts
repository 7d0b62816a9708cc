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
    take: (work: (until: number) => boolean) => work(Infinity),
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

test('of a bundle that is held each message keeps its own bytes only', () => {
  const kept: number[] = [];
  const listener = {
    heard: (_: Signal, bytes: Uint8Array) => kept.push(bytes.buffer.byteLength),
    bad: (reason: string) => bad.push(reason),
    take: (work: (until: number) => boolean) => work(Infinity),
  };
  const timers = { later: (ms: number, act: () => void) => due.push({ ms, act }), stop: () => undefined };
  const many = Array.from({ length: 500 }, () => bell);
  createOscIn(listener, timers, () => NOW).hear(encodeOscBundle(many, msToTimeTag(NOW + 1000)));
  for (const { act } of due) act();
  expect(new Set(kept)).toEqual(new Set([20])); // the address padded to 16, and the type tags (OSC 1.0)
});

test('bundles for later are held up to a bound on their bytes, which is free again once they were heard', () => {
  const large: OscSignal = {
    kind: 'osc',
    address: '/bell/score',
    args: [{ type: 'b', value: new Uint8Array(60_000) }],
  };
  for (let i = 0; i < 100; i++) into.hear(encodeOscBundle([large], msToTimeTag(NOW + 1000)));
  expect(due).toHaveLength(69); // of 60,032 bytes each, in 4 MiB
  expect(new Set(bad)).toEqual(new Set(['A bundle for later, and 4 MB are held already.']));
  for (const { act } of due) act();
  into.hear(encodeOscBundle([large], msToTimeTag(NOW + 1000)));
  expect(due).toHaveLength(70);
});

test('a pattern that is too open is refused in words, and the rest of its bundle is heard', () => {
  into.hear(encodeOscBundle([{ ...bell, address: '/*'.repeat(17) }, bell]));
  expect([heard, bad]).toEqual([[bell], ['Not OSC: an address pattern with 17 open parts; 16 is the most.']]);
});
