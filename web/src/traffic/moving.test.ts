import { expect, test } from '@jest/globals';
import type { Signal } from '@tawny-signal/core/signal';
import { viewOfList } from '../live/traffic-log';
import { movingNow } from './moving';
import { madeUpShow, passing } from './passing.test-helper';

const cc = (number: number): Signal => ({ kind: 'controlChange', channel: 1, number, value: 1 });
const at = (time: number, number: number) =>
  passing(time, { at: time, bytes: Uint8Array.of(0xb1, number, 5) });

test('a control that moved lately moves by itself; the others on its line do not', () => {
  const moving = movingNow(viewOfList([at(100, 20), at(9500, 21), at(9900, 21)]), madeUpShow(), 10_000);
  expect([moving.has('pads', cc(21)), moving.has('pads', cc(20)), moving.has('water', cc(21))]).toEqual([
    true,
    false,
    false,
  ]);
  expect(moving.words).toBe('CC 21 ch 2 on Pier pads');
});

test('a line on which many controls move is played, all of it', () => {
  const moving = movingNow(
    viewOfList([21, 22, 23, 24].map((number) => at(9900, number))),
    madeUpShow(),
    10_000,
  );
  expect(moving.has('pads', cc(99))).toBe(true);
  expect(moving.words).toBe('all of Pier pads');
});
