/** The running order along time. What it says of moments that follow is compared with what the engine then does. */
import { expect, test } from '@jest/globals';
import { createEngine, LINES, show as showOf } from '../engine.test-helper.js';
import { makeMoment, makeMomentSend } from '../show/moment.js';
import { makeSend } from '../sends.js';
import { GO_GAP_MS, timelineOf } from './timeline.js';

const levels = (fadeMs: number, delayMs = 0) =>
  makeMomentSend({ kind: 'levels', lineId: 'rig', fadeMs, delayMs, levels: [{ slots: [1, 4], level: 128 }] });
const note = (lengthMs: number | null) =>
  makeMomentSend({
    kind: 'send',
    send: makeSend({ kind: 'note', lineId: 'laser', channel: 5, number: 28, lengthMs }),
    value: 90,
  });
const show = showOf([], (made) => {
  made.moments = [
    makeMoment({ id: 'm1', cue: '1', name: 'House to half', sends: [levels(4000, 500)] }),
    makeMoment({
      id: 'm2',
      cue: '2',
      name: 'Slack water',
      sends: [note(2000)],
      follow: { after: 'end', ms: 1000 },
    }),
    makeMoment({ id: 'm3', cue: '3', name: 'Not tonight', sends: [levels(9000)], parked: true }),
    makeMoment({
      id: 'm4',
      cue: '4',
      name: 'Fog bank',
      sends: [note(null)],
      follow: { after: 'start', ms: 250 },
    }),
    makeMoment({ id: 'm5', cue: '5', name: 'Storm glass breaks', sends: [levels(0)] }),
  ];
});

test('what follows begins at its time, what is called by hand after all of it, and parked moments are left out', () => {
  const rows = timelineOf(show);
  expect(rows.map(({ moment, startMs, endMs, byHand }) => [moment.id, startMs, endMs, byHand])).toEqual([
    ['m1', 0, 4500, true],
    ['m2', 5500, 7500, false],
    ['m4', 5750, 5750, false],
    ['m5', 7500 + GO_GAP_MS, 7500 + GO_GAP_MS, true],
  ]);
  expect(rows[0]!.bars).toEqual([
    { lineId: 'rig', words: '1–4 at 50 %', fromMs: 500, toMs: 4500, endless: false },
  ]);
  expect(rows[2]!.bars[0]).toMatchObject({ endless: true });
});

test('moments that follow are called by the engine when the timeline says', () => {
  const engine = createEngine();
  engine.load(show, LINES, 0);
  engine.order({ do: 'go' }, 0);
  const called: [string, number][] = [];
  for (let at = 0; at <= 10_000; at += 50) {
    engine.wake(at);
    for (const event of engine.orderEvents()) if (event.what === 'called') called.push([event.id!, at]);
  }
  const foretold = timelineOf(show).slice(0, 3);
  expect(called).toEqual(foretold.map(({ moment, startMs }) => [moment.id, startMs]));
});
