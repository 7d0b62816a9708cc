import { expect, test } from '@jest/globals';
import { makeSend, type Send } from '../sends.js';
import { makeMoment, makeMomentSend } from '../show/moment.js';
import type { Signal } from '../signal.js';
import { planMoment } from './plan.js';
import { createRampedPlaces } from './ramped-places.js';

const LINES: Record<string, number> = { water: 1, laser: 2 };

/** What is found in signals on a line, where a moment sends these in a time. */
function found(sends: [Send, number][], line: number, ...signals: Signal[]): [string, number][] {
  const moment = makeMoment({
    id: 'm',
    cue: '1',
    name: '',
    sends: sends.map(([send, fadeMs]) => makeMomentSend({ kind: 'send', send, value: 1, fadeMs })),
  });
  const places = createRampedPlaces();
  places.load([planMoment(moment)], (id) => (id === null ? -1 : (LINES[id] ?? -1)));
  const list: [string, number][] = [];
  for (const signal of signals) places.take(line, signal, (target, value) => list.push([target, value]));
  return list;
}
const osc = (address: string, ...values: (number | string)[]): Signal => ({
  kind: 'osc',
  address,
  args: values.map((value) => (typeof value === 'number' ? { type: 'f', value } : { type: 's', value })),
});
const cc = (channel: number, number: number, value: number): Signal => ({
  kind: 'controlChange',
  channel,
  number,
  value,
});
const fog = (lineId: string | null = 'water'): Send =>
  makeSend({
    kind: 'osc',
    lineId,
    address: '/fog',
    args: [
      { type: 's', value: 'x' },
      { type: 'f', value: 'shaped' },
    ],
  });
const control = makeSend({ kind: 'control', lineId: 'laser', channel: 3, number: 7 });

test('values that others send to a place on its way are found, with the argument that the moment sends', () => {
  expect(found([[fog(), 1000]], 1, osc('/fog', 'y', 0.5), osc('/sky', 'y', 0.7))).toEqual([
    ['water osc /fog', 0.5],
  ]);
  expect(found([[control, 1000]], 2, cc(3, 7, 90), cc(3, 8, 1), cc(4, 7, 2))).toEqual([
    ['laser control 3 7', 90],
  ]);
});

test('what has no number where the moment sends one is passed over', () => {
  expect(found([[fog(), 1000]], 1, osc('/fog', 'y', 'z'), osc('/fog', 'y'), osc('/fog'))).toEqual([]);
  const noValue: Signal = { kind: 'osc', address: '/fog', args: [{ type: 'T' }, { type: 'T' }] };
  expect(found([[fog(), 1000]], 1, noValue)).toEqual([]);
  const fixed = makeSend({
    kind: 'osc',
    lineId: 'water',
    address: '/fixed',
    args: [{ type: 'f', value: 3 }],
  });
  expect(found([[fixed, 1000]], 1, osc('/fixed', 0.5))).toEqual([]);
});

test('nothing is found on other lines, of what is there at once, and of what is no place', () => {
  expect(found([[fog(), 1000]], 2, osc('/fog', 'y', 0.5))).toEqual([]);
  expect(found([[fog(), 0]], 1, osc('/fog', 'y', 0.5))).toEqual([]);
  expect(found([[fog('gone'), 1000]], -1, osc('/fog', 'y', 0.5))).toEqual([]);
  const open = makeSend({
    kind: 'osc',
    lineId: 'water',
    address: '/{1}',
    args: [{ type: 'f', value: 'shaped' }],
  });
  expect(found([[open, 1000]], 1, osc('/{1}', 0.5))).toEqual([]);
  const both: [Send, number][] = [
    [fog(), 1000],
    [control, 1000],
  ];
  expect(
    found(both, 1, { kind: 'slot', slot: 7, level: 3 }, { kind: 'noteOn', channel: 3, number: 7, value: 1 }),
  ).toEqual([]);
});
