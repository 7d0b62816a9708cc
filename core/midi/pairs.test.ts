/** Worked after MIDI 1.0, "Control Change" and "Registered and Non-Registered Parameter Numbers" (from memory). */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { compileSend, makeSend } from '../sends.js';
import { byHand } from '../mapping/heard.js';
import type { ChannelSignal } from '../signal.js';
import { createParameters, createPairs } from './pairs.js';

describe('fourteen bits out of two controllers', () => {
  test('the high part alone is a value with nothing in its low part', () => {
    expect(createPairs().take(0, 1, 64)).toEqual({ number: 1, value: 8192 });
  });

  test('once the low part has come, a high part waits for it, and each place is said once', () => {
    const pairs = createPairs();
    pairs.take(0, 7, 100);
    expect(pairs.take(0, 39, 5)).toEqual({ number: 7, value: 100 * 128 + 5 });
    expect(pairs.take(0, 7, 101)).toBeNull();
    expect(pairs.take(0, 39, 0)).toEqual({ number: 7, value: 101 * 128 });
  });

  test('channels and controllers are kept apart; others are no pair', () => {
    const pairs = createPairs();
    pairs.take(0, 7, 1);
    pairs.take(1, 7, 2);
    expect(pairs.take(0, 39, 3)).toEqual({ number: 7, value: 131 });
    expect(pairs.take(1, 8, 9)).toEqual({ number: 8, value: 9 * 128 });
    expect(pairs.take(0, 64, 127)).toBeNull();
  });
});

describe('parameters', () => {
  test('registered parameter 0 (bend range) is set to 12 semitones and 0 cents', () => {
    const parameters = createParameters();
    expect(parameters.take(0, 101, 0)).toBeNull();
    expect(parameters.take(0, 100, 0)).toBeNull();
    expect(parameters.take(0, 6, 12)).toEqual({ registered: true, number: 0, value: 12 * 128 });
    expect(parameters.take(0, 38, 0)).toEqual({ registered: true, number: 0, value: 12 * 128 });
  });

  test('one more and one less move it; parameter 127 127 is none', () => {
    const parameters = createParameters();
    parameters.take(2, 99, 1);
    parameters.take(2, 98, 8);
    parameters.take(2, 6, 1);
    expect(parameters.take(2, 96, 0)).toEqual({ registered: false, number: 136, value: 129 });
    expect(parameters.take(2, 97, 0)).toEqual({ registered: false, number: 136, value: 128 });
    parameters.take(2, 101, 127);
    parameters.take(2, 100, 127);
    expect(parameters.take(2, 6, 1)).toBeNull();
  });

  test('nothing is set before a parameter is chosen', () => {
    expect(createParameters().take(0, 6, 5)).toBeNull();
  });
});

test('what is sent as a pair or a parameter is heard as the same number and value', () => {
  const values = fc.array(fc.nat(16_383), { minLength: 1, maxLength: 20 });
  fc.assert(
    fc.property(fc.nat(31), fc.nat(16_382), fc.boolean(), values, (number, parameter, registered, sent) => {
      const pairs = createPairs();
      const parameters = createParameters();
      const pairSend = compileSend(makeSend({ kind: 'control14', lineId: null, channel: 3, number }));
      const parameterSend = compileSend(
        makeSend({ kind: 'parameter', lineId: null, channel: 3, registered, number: parameter }),
      );
      for (const value of sent) {
        pairSend.fill(value, byHand(0, 0));
        parameterSend.fill(value, byHand(0, 0));
        const heard = (pairSend.signals as ChannelSignal[]).map((one) =>
          pairs.take(3, one.number, one.value),
        );
        expect(heard.at(-1)).toEqual({ number, value });
        const set = (parameterSend.signals as ChannelSignal[]).map((one) =>
          parameters.take(3, one.number, one.value),
        );
        expect(set.at(-1)).toEqual({ registered, number: parameter, value });
      }
    }),
  );
});

describe('the edges of pairs and parameters', () => {
  test('controllers 0 and 31 are pairs with 32 and 63; channel 15 has its own', () => {
    const pairs = createPairs();
    pairs.take(15, 31, 1);
    pairs.take(15, 0, 2);
    expect(pairs.take(15, 63, 7)).toEqual({ number: 31, value: 135 });
    expect(pairs.take(15, 32, 7)).toEqual({ number: 0, value: 263 });
    expect(pairs.take(14, 32, 7)).toEqual({ number: 0, value: 7 });
  });

  test('one more stops at 16,383, one less at 0', () => {
    const parameters = createParameters();
    parameters.take(0, 101, 0);
    parameters.take(0, 100, 1);
    expect(parameters.take(0, 97, 0)).toEqual({ registered: true, number: 1, value: 0 });
    parameters.take(0, 6, 127);
    parameters.take(0, 38, 127);
    expect(parameters.take(0, 96, 0)).toEqual({ registered: true, number: 1, value: 16_383 });
  });

  test('a low part moves nothing of the high part, and a high part waits for it from then on', () => {
    const parameters = createParameters();
    parameters.take(0, 99, 1);
    parameters.take(0, 98, 0);
    parameters.take(0, 6, 5);
    expect(parameters.take(0, 38, 9)).toEqual({ registered: false, number: 128, value: 5 * 128 + 9 });
    expect(parameters.take(0, 38, 1)).toEqual({ registered: false, number: 128, value: 5 * 128 + 1 });
    expect(parameters.take(0, 6, 6)).toBeNull();
    expect(parameters.take(0, 38, 0)).toEqual({ registered: false, number: 128, value: 6 * 128 });
  });

  test.each([
    ['another high part', 99, 2, 2 * 128],
    ['another low part', 98, 3, 128 + 3],
  ])(
    '%s is another parameter, which begins at 0 and waits for no low part',
    (_, controller, value, number) => {
      const parameters = createParameters();
      parameters.take(0, 99, 1);
      parameters.take(0, 98, 0);
      parameters.take(0, 6, 5);
      parameters.take(0, 38, 9);
      parameters.take(0, controller, value);
      expect(parameters.take(0, 96, 0)).toEqual({ registered: false, number, value: 1 });
      expect(parameters.take(0, 6, 4)).toEqual({ registered: false, number, value: 4 * 128 });
    },
  );

  test('the same parameter chosen again goes on from where it is; as a registered one it is another', () => {
    const parameters = createParameters();
    parameters.take(0, 99, 1);
    parameters.take(0, 98, 0);
    parameters.take(0, 6, 5);
    parameters.take(0, 99, 1);
    parameters.take(0, 98, 0);
    expect(parameters.take(0, 96, 0)!.value).toBe(5 * 128 + 1);
    parameters.take(0, 101, 1);
    expect(parameters.take(0, 96, 0)).toEqual({ registered: true, number: 128, value: 1 });
  });

  test('other controllers set nothing', () => {
    const parameters = createParameters();
    parameters.take(0, 101, 0);
    parameters.take(0, 100, 0);
    for (const controller of [5, 7, 37, 39, 95, 102]) expect(parameters.take(0, controller, 1)).toBeNull();
  });
});
