import { expect, test } from '@jest/globals';
import { makeSend } from '../sends.js';
import { makeMoment, makeMomentSend, type Moment, type MomentSend } from '../show/moment.js';
import { ringOf } from './rings.js';

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
