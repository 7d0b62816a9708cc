/** What a moment will do is said before it does it, and is what it then does. */
import { describe, expect, test } from '@jest/globals';
import { createEngine, LINES, RIG, show as showOf } from '../engine.test-helper.js';
import { makeMoment, makeMomentSend, type MomentSend } from '../show/moment.js';
import { makeSend } from '../sends.js';
import type { Show } from '../show.js';
import { previewCall, previewCatchUp, stays, type PreviewRow } from './preview.js';

const levels = (what: [number, number] | string, level: number, fadeMs = 0, delayMs = 0): MomentSend =>
  makeMomentSend({
    kind: 'levels',
    lineId: 'rig',
    fadeMs,
    delayMs,
    levels: [typeof what === 'string' ? { groupId: what, level } : { slots: what, level }],
  });
const note = makeMomentSend({
  kind: 'send',
  send: makeSend({ kind: 'note', lineId: 'laser', channel: 5, number: 28, lengthMs: 2000 }),
  value: 90,
});
const bank = makeMomentSend({
  kind: 'send',
  send: makeSend({ kind: 'bank', lineId: null, bankId: 'storm', act: 'on' }),
  value: 1,
});

const show: Show = showOf([], (made) => {
  made.groups = [{ id: 'strobes', name: 'Strobes', slots: [[40, 43]] }];
  made.banks = [{ id: 'storm', name: 'Storm', on: false, group: '' }];
  made.moments = [
    makeMoment({ id: 'm1', cue: '1', name: 'House to half', sends: [levels([1, 12], 128, 4000)] }),
    makeMoment({
      id: 'm2',
      cue: '2',
      name: 'Storm glass breaks',
      sends: [bank, note, levels('strobes', 255), levels([1, 4], 0, 3000, 500)],
    }),
    makeMoment({ id: 'm3', cue: '3', name: 'Lamp lit', sends: [] }),
  ];
});
const dark = (): number => 0;
const words = (rows: PreviewRow[]): string[] =>
  rows.map(({ lineId, what, levels: level, when }) =>
    [lineId, what, level ? `${String(level.from)} to ${level.to}` : '', when].filter(Boolean).join(' | '),
  );

describe('what Go will do', () => {
  test('is a row for each group, range and message, by line, with its time', () => {
    expect(words(previewCall(show, 'm2', dark))).toEqual([
      'laser | note 28 (E1) ch 6 at 90 | for 2 s',
      'rig | Strobes | 0,0 to 255 | at once',
      'rig | slots 1–4 | 0,0 to 0 | after 0.5 s, over 3 s',
      'bank Storm on | at once',
    ]);
  });

  test('says from where to where levels go, and that a level stays', () => {
    const uneven = (_: string, slot: number): number => (slot === 40 ? 10 : 200);
    const [strobes] = previewCall(show, 'm2', uneven).filter(({ what }) => what === 'Strobes');
    expect(strobes!.levels).toEqual({ from: [10, 200], to: 255 });
    expect(stays(strobes!)).toBe(false);
    const [slots] = previewCall(show, 'm2', dark).filter(({ what }) => what === 'slots 1–4');
    expect(stays(slots!)).toBe(true);
    const [unknown] = previewCall(show, 'm1', () => null);
    expect(unknown!.levels!.from).toBeNull();
  });

  test('of a moment that is not there is nothing', () => expect(previewCall(show, 'gone', dark)).toEqual([]));
});

test('what catching up will do is what it then does, slot by slot', () => {
  const rows = previewCatchUp(show, 'm3', 0, dark);
  const engine = createEngine();
  engine.load(show, LINES, 0);
  engine.order({ do: 'standBy', id: 'm3', catchUp: true }, 1);
  const after = engine.levels(RIG);
  const foretold = rows.filter(({ levels: level }) => level !== null);
  expect(words(foretold)).toEqual([
    'rig | slots 5–12 | 0,0 to 128 | at once',
    'rig | Strobes | 0,0 to 255 | at once',
    'rig | slots 1–4 | 0,0 to 0 | at once',
  ]);
  expect([...after].slice(0, 12)).toEqual([0, 0, 0, 0, 128, 128, 128, 128, 128, 128, 128, 128]);
  expect([...after].slice(39, 43)).toEqual([255, 255, 255, 255]);
});
