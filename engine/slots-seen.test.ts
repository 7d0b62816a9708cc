/** What is told of the slots of a universe: what was heard, and who set each. */
import { expect, test } from '@jest/globals';
import { bytesOfBase64 } from '@tawny-signal/core/base64';
import { gatherSetBy } from '@tawny-signal/core/live/set-by';
import { setByOf } from '@tawny-signal/core/live/slots';
import { createSlotsWatch } from './slots-seen.js';

const RIG = 3;
const idOf = (line: number): string | undefined => (line === RIG ? 'rig' : undefined);

test('each change is told once, with everything that is known of its line', () => {
  const slots = createSlotsWatch();
  expect(slots.drain(idOf)).toBeNull();
  slots.heard(RIG, 12, 200);
  slots.sent(RIG, 1, 7);
  slots.sent(RIG, 512, 0);
  const told = slots.drain(idOf)!['rig']!;
  expect(bytesOfBase64(told.heard!)![11]).toBe(200);
  const setBy = setByOf(told.setBy!);
  expect([setBy[0], setBy[1], setBy[511]]).toEqual([7, null, 0]);
  expect(slots.drain(idOf)).toBeNull();
  // A fade of the same moment changes the levels, and not who set them.
  slots.sent(RIG, 1, 7);
  expect(slots.drain(idOf)).toBeNull();
  slots.sent(RIG, 1, undefined);
  expect(setByOf(slots.drain(idOf)!['rig']!.setBy!)[0]).toBeNull();
});

test('a server that comes later is told all, but for lines that are gone', () => {
  const slots = createSlotsWatch();
  slots.sent(RIG, 1, 7);
  slots.sent(4, 1, 7);
  slots.drain(idOf);
  slots.tellAll();
  expect(Object.keys(slots.drain(idOf)!)).toEqual(['rig']);
});

test('slots that the same one set are gathered', () => {
  expect(gatherSetBy([null, 'fog', 'fog', 'lamp', 'fog', null])).toEqual([
    {
      senderId: 'fog',
      slots: [
        [2, 3],
        [5, 5],
      ],
    },
    { senderId: 'lamp', slots: [[4, 4]] },
  ]);
});
