import { describe, expect, test } from '@jest/globals';
import { HEAR_MESSAGES, hearSchema, makeHear, hearAs, highOf, messagesOf } from '../hears.js';
import { SEND_KINDS, SENDS } from '../sends.js';
import { FIRST_MESSAGE, newMapping, shapeFor } from './defaults.js';

const MESSAGES = HEAR_MESSAGES;

describe('another message for a mapping', () => {
  test.each(MESSAGES)('%s can be kept, and keeps its line', (message) => {
    const made = hearAs(message, makeHear({ message: 'keyPressed', lineId: 'l', code: 'F4' }));
    expect(hearSchema.parse(made)).toEqual(made);
    expect([made.message, made.lineId]).toEqual([message, 'l']);
    expect(hearAs(message).lineId).toBeNull();
  });

  test('keeps what channels, numbers and keys it can', () => {
    const from = makeHear({
      message: 'pressed',
      lineId: 'l',
      channels: [2, 3],
      numbers: [30, 31],
      values: [1, 2],
    });
    expect(hearAs('control', from)).toEqual({
      message: 'control',
      lineId: 'l',
      channels: [2, 3],
      numbers: [30, 31],
      values: 'any',
    });
    expect(hearAs('control14', from)).toMatchObject({ channels: [2, 3], numbers: [30, 31] });
    expect(hearAs('control14', { ...from, numbers: [31, 32] } as typeof from)).toMatchObject({
      numbers: 'any',
    });
    expect(hearAs('program', from)).toEqual({
      message: 'program',
      lineId: 'l',
      channels: [2, 3],
      numbers: [30, 31],
    });
    expect(hearAs('bend', from)).toEqual({ message: 'bend', lineId: 'l', channels: [2, 3], values: 'any' });
    expect(hearAs('parameter', from)).toMatchObject({ channels: [2, 3], registered: false, parameter: 0 });
    const key = makeHear({ message: 'keyPressed', lineId: 'l', code: 'F4' });
    expect(hearAs('keyHeld', key)).toMatchObject({ code: 'F4' });
    expect(hearAs('keyHeld', from)).toMatchObject({ code: 'KeyA' });
    expect(hearAs('slot', from)).toMatchObject({ slots: 'any' });
    expect(hearAs('osc')).toMatchObject({ address: '/any/thing', argument: 0 });
  });
});

test('a new shape is the whole range of what is heard over the whole range of what is sent', () => {
  expect(shapeFor('pressed')).toMatchObject({ from: 'value', in: [0, 127], out: [0, 1] });
  expect(shapeFor('bend', 'slot')).toMatchObject({ from: 'value', in: [0, 16_383], out: [0, 255] });
  expect(shapeFor('program', 'note')).toMatchObject({ from: 'number', in: [0, 127], out: [0, 127] });
  expect(shapeFor('osc', 'key')).toMatchObject({ from: 'value', in: [0, 1], out: [0, 1] });
  for (const kind of SEND_KINDS)
    expect(shapeFor('slot', kind)).toMatchObject({ in: [0, 255], out: SENDS[kind].out });
  expect(MESSAGES.map(highOf)).toEqual([
    127, 127, 127, 127, 127, 127, 127, 16_383, 16_383, 16_383, 1, 1, 1, 255, 1, 1,
  ]);
});

test('a new mapping is on, hears what is wished, and sends to the line', () => {
  const hear = hearAs('pressed');
  expect(newMapping('m', hear, 'l')).toMatchObject({
    id: 'm',
    on: true,
    bankId: null,
    answer: null,
    hear,
    sends: [{ kind: 'osc', lineId: 'l' }],
  });
});

test('each protocol has its messages, and the one that people mean most often is among them', () => {
  for (const protocol of ['midi', 'osc', 'dmx', 'keys'] as const)
    expect(messagesOf(protocol)).toContain(FIRST_MESSAGE[protocol]);
  expect(messagesOf('keys')).toEqual(['keyPressed', 'keyHeld']);
  expect(messagesOf('osc')).toEqual(['osc']);
});
