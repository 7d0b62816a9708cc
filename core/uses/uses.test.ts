/** What uses what: the controls of a layout, and the rows of a show. */
import { describe, expect, test } from '@jest/globals';
import { anyNote, made, show as showOf } from '../engine.test-helper.js';
import { makeHear } from '../hears.js';
import { makeSend } from '../sends.js';
import type { Layout, LayoutControl } from '../show/layout.js';
import { makeMoment, makeMomentSend } from '../show/moment.js';
import { routeSchema } from '../show/route.js';
import type { Show } from '../show.js';
import { usesOfControls } from './controls.js';
import { renamed, usesOf, usesWords } from './rows.js';

const pad = (number: number): LayoutControl => ({
  id: `pad-${number}`,
  name: `Pad ${number - 35}`,
  shape: 'pad',
  kind: 'note',
  channel: 9,
  number,
  x: 0,
  y: 0,
  width: 1,
  height: 1,
  lamp: null,
});
const fader: LayoutControl = { ...pad(21), id: 'fader', name: 'Fader 1', kind: 'control', channel: 0 };
const layout: Layout = {
  id: 'l',
  name: 'Small pads',
  lineId: 'pads',
  controls: [36, 37, 38, 39, 40].map(pad).concat(fader),
};
const note = (number: number, message: 'pressed' | 'held' = 'pressed') =>
  makeHear({ message, lineId: 'pads', channels: [9, 9], numbers: [number, number], values: 'any' });
const toLaser = makeSend({ kind: 'control', lineId: 'laser', channel: 0, number: 1 });

const freeIn = (show: Show): string[] => {
  const uses = usesOfControls(show, layout);
  return layout.controls.filter(({ id }) => !uses.has(id)).map(({ name }) => name);
};

describe('a control of a layout is free', () => {
  test('only if no mapping, moment, shift pad, feedback or route uses it', () => {
    const show = showOf(
      [
        {
          ...made({ id: 'storm', hear: note(36), sends: [toLaser] }),
          name: 'Storm glass breaks',
        },
        {
          ...made({
            id: 'bell',
            hear: note(36, 'held'),
            when: { shift: { channel: 9, number: 38 } },
            sends: [toLaser],
            answer: {
              lineId: 'pads',
              kind: 'note',
              channel: 9,
              number: 39,
              shows: 'value',
              bankId: null,
              on: 5,
              off: 0,
              blinkBeats: 0,
            },
          }),
          name: 'Bell four',
        },
      ],
      (made_) => {
        made_.moments = [makeMoment({ id: 'm', cue: '3', name: 'Fog bank', callers: [note(37)], sends: [] })];
      },
    );
    expect(freeIn(show)).toEqual(['Pad 5', 'Fader 1']);
    expect(usesOfControls(show, layout).get('pad-37')).toEqual([
      { of: 'moment', id: 'm', words: 'calls 3 · Fog bank' },
    ]);
    expect(usesOfControls(show, layout).get('pad-39')![0]!.words).toBe('feedback of Bell four');
  });

  test('not if a mapping hears every note, and not if a route passes its channel on', () => {
    const all = showOf([made({ hear: { ...anyNote(), lineId: 'pads' } as never, sends: [toLaser] })]);
    expect(freeIn(all)).toEqual(['Fader 1']);
    const route = routeSchema.parse({
      id: 'r',
      on: true,
      fromId: 'pads',
      toId: 'laser',
      carries: 'midi',
      channels: [{ from: [0, 0], to: null }],
      kinds: ['notes', 'controls'],
      notes: 'any',
      transpose: 0,
    });
    const routed = showOf([], (made_) => (made_.routes = [route]));
    expect(freeIn(routed)).toEqual(['Pad 1', 'Pad 2', 'Pad 3', 'Pad 4', 'Pad 5']);
  });
});

describe('the rows that use a row', () => {
  const show = showOf(
    [
      made({ id: 'a', hear: note(36), sends: [toLaser] }),
      made({ id: 'b', hear: note(37), sends: [toLaser, toLaser] }),
    ],
    (made_) => {
      made_.looks = [{ id: 'warm', name: 'Warm', levels: [{ groupId: 'deck', level: 9 }] }];
      made_.groups = [{ id: 'deck', name: 'Deck', slots: [[1, 4]] }];
      made_.moments = [
        makeMoment({
          id: 'm',
          cue: '1',
          name: 'House to half',
          sends: [
            makeMomentSend({ kind: 'look', lineId: 'rig', lookId: 'warm' }),
            makeMomentSend({ kind: 'send', send: toLaser, value: 1 }),
          ],
        }),
      ];
    },
  );

  test('are counted in words, by their kind', () => {
    expect(usesWords(usesOf(show, 'lines', 'laser'))).toBe('2 mappings and 1 moment');
    expect(usesWords(usesOf(show, 'looks', 'warm'))).toBe('1 moment');
    expect(usesWords(usesOf(show, 'groups', 'deck'))).toBe('1 look');
    expect(usesWords(usesOf(show, 'lines', 'water'))).toBe('');
    // A line and a look may have the same id.
    expect(usesWords(usesOf(show, 'lines', 'warm'))).toBe('');
  });

  test('can use another one instead, in every place', () => {
    const moved = renamed(show.mappings[1]!, 'lines', 'laser', 'score');
    expect(moved.sends.map(({ lineId }) => lineId)).toEqual(['score', 'score']);
    expect(moved.hear).toEqual(show.mappings[1]!.hear);
  });
});
