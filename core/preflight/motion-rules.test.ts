/** What preflight says of motions, and what is said of them elsewhere. */
import { describe, expect, test } from '@jest/globals';
import { cc, motion, moves, OSC } from '../engine-motion.test-helper.js';
import { show } from '../engine.test-helper.js';
import { previewOf } from '../motion/preview.js';
import { motionRing, ringWords } from '../motion/rings.js';
import { beginWords, driveWords, makeTitle, movedMotions } from '../motion/words.js';
import { makeSend } from '../sends.js';
import type { Mapping } from '../show/mapping.js';
import type { Motion } from '../show/motion.js';
import type { Show } from '../show.js';
import { readCell, writeCell } from '../typed/moment-cell.js';
import { preflight } from './preflight.js';

function findings(
  motions: Motion[],
  mappings: Mapping[] = [],
  change: (made: Show) => void = () => undefined,
): string[] {
  const made = show(mappings, (one) => {
    one.motions = motions;
    change(one);
  });
  return preflight(made).map(
    ({ rule, weight, places }) => `${weight}, ${rule}: ${places.map(({ id }) => id).join(' ')}`,
  );
}
const moving = (id: string, motionId: string, more: object = {}): Motion =>
  motion({
    id,
    name: id,
    sends: [makeSend({ kind: 'motion', lineId: null, motionId, act: 'amount' })],
    ...more,
  });

describe('preflight finds', () => {
  test('nothing in motions that do something', () => {
    expect(
      findings(
        [motion(), motion({ id: 'lens', name: 'Lens', begins: 'asked' })],
        [moves('start', [36, 36], { motionId: 'lens' })],
      ),
    ).toEqual([]);
  });

  test('what nothing starts or steps, and what sends nothing', () => {
    expect(findings([motion({ begins: 'asked' })])).toEqual(['warning, a motion that nothing starts: tide']);
    for (const place of [{}, { from: '01:00:02:00', until: '01:00:01:00' }, { from: '01:00:02:29' }])
      expect(findings([motion({ begins: 'position', place })])).toEqual([
        'fault, a motion without a place: tide',
      ]);
    expect(findings([motion({ begins: 'position', place: { from: '01:00:02:00' } })])).toEqual([]);
    const stepped = motion({ makes: { kind: 'random' }, drive: { by: 'steps' } });
    expect(findings([stepped])).toEqual(['warning, a motion that nothing steps: tide']);
    expect(findings([stepped], [moves('next', [36, 36])])).toEqual([]);
    expect(findings([motion({ sends: [] })])).toEqual(['warning, a motion that sends nothing: tide']);
    expect(findings([motion({ sends: [], on: false })])).toEqual([]);
  });

  test('a table without numbers, a line, a bank and a motion that are gone', () => {
    expect(findings([motion({ makes: { kind: 'table', values: [null] } })])).toEqual([
      'fault, a table without numbers: tide',
    ]);
    expect(findings([motion({ sends: [{ ...OSC, lineId: 'gone' }] })])).toEqual([
      'fault, a send without a line: tide',
    ]);
    expect(findings([motion({ bankId: 'gone' })])).toEqual(['fault, a bank that is never on: tide']);
    expect(findings([moving('a', 'gone')])).toEqual(['fault, a send without a motion: a']);
  });

  test('a ring, once, with all that are in it', () => {
    expect(findings([moving('a', 'b'), moving('b', 'a')])).toEqual(['fault, motions in a ring: a b']);
  });

  test('more than a 5-pin cable carries', () => {
    const fivePin = (made: Show): void => {
      made.lines = made.lines.map((line) =>
        line.id === 'laser' ? { ...line, fivePin: true } : line,
      ) as never;
    };
    const many = [1, 2, 3].map((id) =>
      motion({ id: `m${id}`, name: `M${id}`, sends: Array.from({ length: 8 }, (_, at) => cc(at)) }),
    );
    // Three motions with eight controllers each, 50 times a second: 3,600 bytes a second, of 3,125 (MIDI 1.0).
    expect(findings(many, [], fivePin)).toEqual([
      'warning, motions too fast for a 5-pin cable: laser m1 m2 m3',
    ]);
    expect(findings(many.slice(1), [], fivePin)).toEqual([]);
  });
});

describe('a ring of motions', () => {
  test('is found through a hold too, and named', () => {
    const taker = motion({
      id: 'hold',
      name: 'Hold',
      makes: { kind: 'hold', of: { what: 'motion', motionId: 'a' } },
      sends: [makeSend({ kind: 'motion', lineId: null, motionId: 'a', act: 'speed' })],
    });
    const a = motion({ id: 'a', name: 'Tide' });
    const ring = motionRing([a, taker], a)!;
    expect(ringWords(ring)).toBe('Tide moves Hold, which moves Tide again: a ring without an end.');
    expect(ringWords([a])).toBe('Tide would move itself.');
    expect(motionRing([a], a)).toBeNull();
  });

  test('of many motions that lead to each other is looked through once', () => {
    const many = Array.from({ length: 300 }, (_, at) =>
      motion({
        id: `m${at}`,
        name: `M${at}`,
        sends: [1, 2, 3, 4].map((step) =>
          makeSend({ kind: 'motion', lineId: null, motionId: `m${at + step}`, act: 'amount' }),
        ),
      }),
    );
    expect(motionRing(many, many[0]!)).toBeNull();
    expect(motionRing([...many, moving('m300', 'm0')], many[0]!)).not.toBeNull();
  });
});

describe('words', () => {
  const made = show([moves('press', [70, 73])], (one) => {
    one.banks = [{ id: 'storm', name: 'Storm glass', on: true, group: '' }];
  });

  test.each([
    [motion({ drive: { everyBeats: 4 } }), 'sine', 'every 4 beats', 'always'],
    [motion({ bankId: 'storm', drive: { everyMs: 2000 } }), 'sine', 'every 2 s', 'with bank Storm glass'],
    [motion({ makes: { kind: 'random' }, drive: { by: 'steps' } }), 'new values', 'stepped', 'always'],
    [
      motion({ makes: { kind: 'envelope' }, begins: 'asked' }),
      'attack 50 ms, release 0.8 s',
      '',
      'by press 70',
    ],
    [motion({ id: 'other', begins: 'asked' }), 'sine', 'every 4 s', 'nothing starts it yet'],
    [motion({ begins: 'position' }), 'sine', 'every 4 s', 'at no place yet'],
    [
      motion({ begins: 'position', place: { from: '01:00:02:00' } }),
      'sine',
      'every 4 s',
      'from 01:00:02:00 on',
    ],
  ])('of a motion', (one, makes, drive, begins) => {
    expect(makeTitle(one)).toBe(makes.replace('0.8 s', '800 ms'));
    expect(driveWords(one)).toBe(drive);
    expect(beginWords(one, made).replace(/by .*/, 'by press 70')).toBe(begins);
  });
});

test.each([
  ['motion Tide start', 'start', 1],
  ['motion Tide back', 'back', 1],
  ['motion Tide amount = 40 %', 'amount', 0.4],
  ['motion Tide offset = -25 %', 'offset', -0.25],
] as const)('“%s” is typed into a cell, and written as it was typed', (text, act, value) => {
  const made = show([], (one) => void (one.motions = [motion()]));
  const read = readCell(text, null, made);
  if (!read.ok) throw new Error(read.reason);
  expect(read.value[0]).toMatchObject({
    kind: 'send',
    value,
    send: { kind: 'motion', motionId: 'tide', act },
  });
  expect(writeCell(read.value, made)).toBe(text);
  expect(readCell(text.replace('Tide', 'Ebb'), null, made)).toEqual({
    ok: false,
    reason: 'There is no motion “Ebb”. Make it first.',
  });
});

test('of what a mapping does to motions, and why nothing came of it', () => {
  const sends = ['tide', 'gone', 'off'].map((motionId) =>
    makeSend({ kind: 'motion', lineId: null, motionId, act: 'start' }),
  );
  const made = show([], (one) => {
    one.banks = [{ id: 'storm', name: 'Storm glass', on: false, group: '' }];
    one.motions = [motion({ bankId: 'storm', voices: 4 }), motion({ id: 'off', name: 'Fog', on: false })];
  });
  expect(movedMotions(sends, made)).toEqual([
    {
      id: 'tide',
      words: 'Tide: start, or trigger again, in a voice of its own',
      nothing: 'bank Storm glass is off',
    },
    { id: null, words: 'A motion', nothing: 'it is not there: choose another' },
    { id: 'off', words: 'Fog: start, or trigger again', nothing: 'it is switched off' },
  ]);
});

describe('a picture', () => {
  test('of each kind has as many values as are asked for, within 0 and 1', () => {
    const kinds = [
      motion(),
      motion({ makes: { kind: 'steps', steps: [{ value: 0 }, { value: 1, length: 3 }] } }),
      motion({ makes: { kind: 'envelope' } }),
      motion({ makes: { kind: 'ease', goes: 'toAndFro' } }),
      motion({ makes: { kind: 'table', values: [1, 2, 3] } }),
    ];
    for (const one of kinds) {
      const values = previewOf(one, 50);
      expect(values).toHaveLength(50);
      for (const value of values) {
        expect(value).toBeGreaterThanOrEqual(0);
        expect(value).toBeLessThanOrEqual(1);
      }
      expect(Math.max(...(values as number[]))).toBeGreaterThan(0.9);
    }
  });
});
