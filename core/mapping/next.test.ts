import { describe, expect, test } from '@jest/globals';
import { made } from '../engine.test-helper.js';
import { makeHear } from '../hears.js';
import { makeSend } from '../sends.js';
import type { Mapping } from '../show/mapping.js';
import { nextMapping } from './next.js';

const fader = (number: number, change: Partial<Mapping> = {}): Mapping => ({
  ...made({
    id: 'fader',
    hear: makeHear({
      message: 'control',
      lineId: 'pads',
      channels: [0, 0],
      numbers: [number, number],
      values: 'any',
    }),
    sends: [makeSend({ kind: 'note', lineId: 'laser', channel: 5, number: Math.min(127, number + 41) })],
  }),
  ...change,
});

describe('a copy to the next control', () => {
  test('hears the next controller and plays the next note', () => {
    expect(nextMapping(fader(70))).toMatchObject({
      name: '',
      hear: { numbers: [71, 71] },
      sends: [{ kind: 'note', number: 112, channel: 5 }],
    });
  });

  test('is named after the one it was made from, counted up', () => {
    expect(nextMapping(fader(70, { name: 'Fader 7' }))!.name).toBe('Fader 8');
    expect(nextMapping(fader(70, { name: 'Deck rail' }))!.name).toBe('');
  });

  test('counts up the last number of an address, the slot, and the lamp', () => {
    const sends = [
      makeSend({ kind: 'osc', lineId: 'water', address: '/layer/9/opacity', args: [] }),
      makeSend({ kind: 'slot', lineId: 'rig', slot: 511 }),
    ];
    const answer = {
      lineId: 'pads',
      kind: 'note' as const,
      channel: 9,
      number: 36,
      shows: 'value' as const,
      bankId: null,
      on: 5,
      off: 0,
      blinkBeats: 0 as const,
    };
    expect(nextMapping(fader(70, { sends, answer }))).toMatchObject({
      sends: [{ address: '/layer/10/opacity' }, { slot: 512 }],
      answer: { number: 37 },
    });
  });

  test('of a range is the range after it, which follows the heard number too', () => {
    const range = fader(70, {
      hear: makeHear({
        message: 'pressed',
        lineId: 'pads',
        channels: 'any',
        numbers: [36, 43],
        values: 'any',
      }),
      sends: [makeSend({ kind: 'note', lineId: 'laser', channel: 0, number: 60, follows: true })],
    });
    expect(nextMapping(range)).toMatchObject({
      hear: { numbers: [44, 51] },
      sends: [{ number: 68, follows: true }],
    });
  });

  test('is not there after the last controller or the last slot, or where nothing is counted', () => {
    expect(nextMapping(fader(127, { sends: [] }))).toBeNull();
    expect(
      nextMapping(fader(1, { sends: [makeSend({ kind: 'slot', lineId: 'rig', slot: 512 })] })),
    ).toBeNull();
    const any = makeHear({
      message: 'control',
      lineId: 'pads',
      channels: 'any',
      numbers: 'any',
      values: 'any',
    });
    expect(nextMapping(fader(1, { hear: any }))).toBeNull();
  });
});
