import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { makeSend } from '../sends.js';
import { makeMoment, makeMomentSend, type Moment, type MomentSend } from '../show/moment.js';
import { anyRing, ringOf } from './rings.js';

const calls = (momentId: string | null, more: object = {}): MomentSend =>
  makeMomentSend({
    kind: 'send',
    send: makeSend({ kind: 'call', lineId: null, momentId, act: 'run', ...more }),
    value: 1,
  });
const tap = makeMomentSend({ kind: 'send', send: makeSend({ kind: 'tap', lineId: null }), value: 1 });
const moment = (id: string, ...sends: MomentSend[]): Moment => makeMoment({ id, cue: '1', name: '', sends });

test('a ring is found at the thing by which it comes round, through any number of moments', () => {
  const two = moment('2', tap, calls('3'));
  const three = moment('3', calls(null), calls('1'));
  expect(ringOf([two, three], moment('1', tap, calls('2')))).toBe(1);
  expect(ringOf([], moment('1', calls('1')))).toBe(0);
});

test('there is none where a call waits, stops, or leads elsewhere, and where others go round by themselves', () => {
  expect(ringOf([moment('2', calls('1', { delayMs: 10 }))], moment('1', calls('2')))).toBe(-1);
  expect(ringOf([moment('2', calls('1', { act: 'stop' }))], moment('1', calls('2')))).toBe(-1);
  expect(ringOf([moment('2', tap, calls(null))], moment('1', calls('2'), calls('gone')))).toBe(-1);
  expect(ringOf([moment('2', calls('3')), moment('3', calls('2'))], moment('1', calls('2')))).toBe(-1);
});

test('one among many is found exactly where a moment comes round to itself', () => {
  const ids = ['1', '2', '3', '4', '5'];
  const calling = fc.array(fc.subarray(ids, { maxLength: 2 }), { minLength: 5, maxLength: 5 });
  fc.assert(
    fc.property(calling, (called) => {
      const all = ids.map((id, at) => moment(id, ...called[at]!.map((one) => calls(one))));
      const found = anyRing(all);
      if (found) expect(ringOf(all, found)).toBeGreaterThanOrEqual(0);
      else for (const one of all) expect(ringOf(all, one)).toBe(-1);
    }),
  );
});
