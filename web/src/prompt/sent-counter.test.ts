/** What a moment has sent since it was called, as the prompt desk shows it. */
import { expect, test } from '@jest/globals';
import { viewOfList, type Passing } from '../live/traffic-log';
import { createSentCounter } from './sent-counter';

const STORM = 'storm';
const record = (at: number, given: Partial<Passing> = {}): Passing => ({
  seq: 1,
  cause: 0,
  later: false,
  at,
  lineId: 'deck-rig',
  senderId: STORM,
  direction: 'out',
  length: 3,
  bytes: Uint8Array.of(1, 2, 3),
  reason: '',
  ...given,
});
const many = (count: number, from: number): Passing[] =>
  Array.from({ length: count }, (_, n) => record(from + n));

test('all that a long fade sends is counted, however much it is', () => {
  const counter = createSentCounter();
  const call = { id: STORM, at: 1000 };
  const first = many(9000, 1000);
  expect(counter.of(call, viewOfList(first)).sent).toBe(9000);
  const then = [...first, ...many(500, 10_000), record(10_500, { lineId: 'fog', direction: 'heldBack' })];
  const done = counter.of(call, viewOfList(then));
  expect(done.sent).toBe(9500);
  expect([...done.lines]).toEqual(['deck-rig', 'fog']);
  expect([...done.withheld]).toEqual(['fog']);
});

test('neither what it sent when it was called before, nor what others send, is counted', () => {
  const counter = createSentCounter();
  const before = many(5, 1000);
  const first = counter.of({ id: STORM, at: 1000 }, viewOfList(before));
  // This browser may have come later than the call.
  expect(first).toMatchObject({ sent: 5, isWhole: false });
  const again = [...before, record(60_000), record(60_001, { senderId: 'fog-bank' }), record(60_002)];
  expect(counter.of({ id: STORM, at: 60_000 }, viewOfList(again))).toMatchObject({ sent: 2, isWhole: true });
});
