import { describe, expect, test } from '@jest/globals';
import { makeSend, type Send } from '../sends.js';
import { makeHear, controlsOf } from '../hears.js';
import { byText, targetsOf } from './overlap.js';

const of = { lineId: 'l', channels: [0, 1] as [number, number], values: 'any' as const };

describe('the single controls that a mapping hears', () => {
  test.each<[Parameters<typeof makeHear>[0], string[]]>([
    [
      { ...of, message: 'pressed', numbers: [36, 37] },
      ['l note 0 36', 'l note 0 37', 'l note 1 36', 'l note 1 37'],
    ],
    [{ ...of, message: 'held', numbers: [36, 36] }, ['l note 0 36', 'l note 1 36']],
    [{ ...of, message: 'released', channels: { of: [3, 9] }, numbers: [1, 1] }, ['l note 3 1', 'l note 9 1']],
    [{ ...of, message: 'control', channels: [2, 2], numbers: [7, 7] }, ['l control 2 7']],
    [{ ...of, message: 'control14', channels: [2, 2], numbers: [7, 7] }, ['l control14 2 7']],
    [{ ...of, message: 'bend', channels: [2, 2] }, ['l bend 2 0']],
    [
      { message: 'parameter', lineId: 'l', channels: [2, 2], registered: true, parameter: 5, values: 'any' },
      ['l parameter 2 true 5'],
    ],
    [{ message: 'osc', lineId: 'l', address: '/fog' }, ['l osc /fog']],
    [{ message: 'slot', lineId: 'l', slots: [5, 6], values: 'any' }, ['l slot 5', 'l slot 6']],
    [{ message: 'keyPressed', lineId: 'l', code: 'KeyG' }, ['l key KeyG']],
    [{ message: 'keyHeld', lineId: 'l', code: 'KeyG' }, ['l key KeyG']],
    [{ message: 'sysex', lineId: 'l', template: '7D VV' }, ['l sysex 7d vv']],
    [
      { message: 'showControl', lineId: 'l', device: null, command: 'go', cue: '4', list: '' },
      ['l show control go 4  '],
    ],
    [
      { message: 'showControl', lineId: 'l', device: 5, command: 'go', cue: '4', list: '2' },
      ['l show control go 4 2 5'],
    ],
  ])('of %j', (hear, controls) => expect(controlsOf(makeHear(hear))).toEqual(controls));

  test('are up to 256; who hears more is meant to hear broadly', () => {
    const notes = (channels: [number, number], numbers: [number, number]): number =>
      controlsOf(makeHear({ ...of, message: 'pressed', channels, numbers })).length;
    expect([notes([0, 1], [0, 127]), notes([0, 2], [0, 127]), notes([0, 15], [0, 15])]).toEqual([
      256, 0, 256,
    ]);
    expect(notes([0, 15], [0, 16])).toBe(0);
    const slots = (to: number): number =>
      controlsOf(makeHear({ message: 'slot', lineId: 'l', slots: [1, to], values: 'any' })).length;
    expect([slots(256), slots(257)]).toEqual([256, 0]);
  });
});

describe('the places that a mapping sends to', () => {
  const hear = makeHear({ ...of, message: 'pressed', numbers: [36, 38] });
  const note = (follows: boolean, number = 60, channel = 0): Send =>
    makeSend({ kind: 'note', lineId: 's', channel, number, follows });

  test('are one, or one for each number that is heard, up to the last', () => {
    expect(targetsOf(hear, note(false))).toEqual(['s note 0 60']);
    expect(targetsOf(hear, note(true))).toEqual(['s note 0 60', 's note 0 61', 's note 0 62']);
    expect(targetsOf(hear, note(true, 127, 15))).toEqual(['s note 15 127']);
    const slots = makeHear({ message: 'slot', lineId: 'l', slots: [1, 2], values: 'any' });
    expect(targetsOf(slots, makeSend({ kind: 'slot', lineId: 's', slot: 9, follows: true }))).toEqual([
      's slot 9',
      's slot 10',
    ]);
    const every = makeHear({ message: 'slot', lineId: 'l', slots: 'any', values: 'any' });
    expect(targetsOf(every, makeSend({ kind: 'slot', lineId: 's', slot: 1, follows: true }))).toHaveLength(
      256,
    );
  });

  test('are none where it goes nowhere in particular', () => {
    expect(targetsOf(hear, makeSend({ kind: 'panic', lineId: null }))).toEqual([]);
  });
});

test('items are found by each of their texts, once, in their order', () => {
  const items = [['a', 'b', 'a'], ['b'], []];
  const found = byText(items, (item) => item);
  expect([...found]).toEqual([
    ['a', [items[0]]],
    ['b', [items[0], items[1]]],
  ]);
});
