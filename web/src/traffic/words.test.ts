import { expect, test } from '@jest/globals';
import { fogPacket as osc, madeUpShow, passing } from './passing.test-helper';
import { viewOfList } from '../live/traffic-log';
import { hexOf, sentFor, wordsOf } from './words';

const show = madeUpShow();

test('messages are said in words, channels from 1, notes by the show’s middle C', () => {
  expect(wordsOf(passing(1, {}), show)).toBe('note 36 (C2) ch 10 pressed, force 97');
  expect(wordsOf(passing(1, {}), { ...show, settings: { ...show.settings, middleC: 3 } })).toContain(
    '36 (C1)',
  );
  expect(wordsOf(passing(1, { bytes: Uint8Array.of(0xb1, 21, 90) }), show)).toBe('CC 21 ch 2 = 90');
  expect(wordsOf(passing(1, { bytes: Uint8Array.of(0xe0, 0, 0x40) }), show)).toBe('pitch bend ch 1 = 0');
  expect(wordsOf(passing(1, { lineId: 'water', bytes: osc }), show)).toBe('/fog/density 0.25');
  expect(wordsOf(passing(1, { direction: 'bad', reason: 'Not OSC: nothing.' }), show)).toBe(
    'Not OSC: nothing.',
  );
});

test('bytes are shown as they are, and a cut is said', () => {
  expect(hexOf(passing(1, {}))).toBe('99 24 61');
  expect(hexOf(passing(1, { length: 1000 }))).toBe('99 24 61 … 1000 bytes in all');
});

test('what left later is found with what it was sent for', () => {
  const heard = passing(1, {});
  const traffic = viewOfList([
    heard,
    passing(2, { cause: 1, lineId: 'water', direction: 'out', bytes: osc }),
    passing(3, { cause: 1, later: true, lineId: 'water', direction: 'out', bytes: osc, senderId: 'fog' }),
  ]);
  expect(sentFor(traffic, heard).map(({ seq }) => seq)).toEqual([2, 3]);
});
