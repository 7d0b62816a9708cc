import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { levelsFrom, readLevels, readSlotList, writeLevels, writeSlotList } from './levels.js';
import { readTyping, writeTyping } from './typing.js';

describe('levels as people type them', () => {
  test.each([
    ['1-12 at 50 %', [{ slots: [1, 12], level: 128 }]],
    [
      '101 at full, 40-43 off',
      [
        { slots: [101, 101], level: 255 },
        { slots: [40, 43], level: 0 },
      ],
    ],
    ['40-43 at 30', [{ slots: [40, 43], level: 77 }]],
    ['5 @ 128/255', [{ slots: [5, 5], level: 128 }]],
    ['5 at 30 / 255', [{ slots: [5, 5], level: 30 }]],
    ['5 at half', [{ slots: [5, 5], level: 128 }]],
    ['7 = 10%', [{ slots: [7, 7], level: 26 }]],
  ])('%s', (text, value) => expect(readLevels(text)).toEqual({ ok: true, value }));

  test.each([
    ['', 'Write slots and levels'],
    ['1-12', '“1-12”: Write slots and levels'],
    ['600 at full', 'A slot is a number from 1 to 512'],
    ['5 at 300', '“300” is more than 100 %'],
    ['5 at 128', 'If you mean the level of a slot, write 128/255.'],
    ['5 at 300/255', 'write a whole number from 0 to 255'],
    ['5 at 101 %', '“101 %” is more than 100 %'],
    ['5 at bright', '“bright” is no level'],
    ['9-3 at full', 'runs backwards'],
  ])('%s is refused in words', (text, words) => {
    const read = readLevels(text);
    expect(!read.ok && read.reason).toContain(words);
  });

  test('a bare number in a table of an earlier version is the level of a slot', () =>
    expect(readLevels('40-43 at 30', [], 'slot')).toEqual({
      ok: true,
      value: [{ slots: [40, 43], level: 30 }],
    }));

  test('what is written is read as the same, whatever a bare number means', () => {
    const row = fc
      .record({ from: fc.integer({ min: 1, max: 400 }), width: fc.nat(100), level: fc.nat(255) })
      .map(({ from, width, level }) => ({ slots: [from, from + width] as [number, number], level }));
    fc.assert(
      fc.property(fc.array(row, { minLength: 1, maxLength: 6 }), (levels) => {
        expect(readLevels(writeLevels(levels))).toEqual({ ok: true, value: levels });
        expect(readLevels(writeLevels(levels), [], 'slot')).toEqual({ ok: true, value: levels });
      }),
    );
  });
});

describe('groups and looks', () => {
  const groups = [{ id: 'deck', name: 'Deck rail', slots: [[1, 12] as [number, number]] }];

  test('a group is written by its name, and one that is unknown is said with those that there are', () => {
    expect(readLevels('deck RAIL at 50 %, 20 at full', groups)).toEqual({
      ok: true,
      value: [
        { groupId: 'deck', level: 128 },
        { slots: [20, 20], level: 255 },
      ],
    });
    expect(writeLevels([{ groupId: 'deck', level: 0 }], groups)).toBe('Deck rail off');
    const read = readLevels('Bow at full', groups);
    expect(!read.ok && read.reason).toContain('There is no group “Bow”. The groups are Deck rail.');
  });

  test('the slots of a group', () => {
    expect(readSlotList('1-12, 20')).toEqual({
      ok: true,
      value: [
        [1, 12],
        [20, 20],
      ],
    });
    expect(
      writeSlotList([
        [1, 12],
        [20, 20],
      ]),
    ).toBe('1–12, 20');
    expect(readSlotList('').ok || readSlotList('0-4').ok).toBe(false);
  });

  test('what a line has becomes a look: neighbours together, what is off left out', () => {
    expect(levelsFrom([0, 9, 9, 0, 255])).toEqual([
      { slots: [2, 3], level: 9 },
      { slots: [5, 5], level: 255 },
    ]);
  });
});

describe('keys that are typed one after another', () => {
  test('with their chords and pauses', () => {
    expect(readTyping('Left Ctrl+S, 200 ms, Enter, KeyA')).toEqual({
      ok: true,
      value: [
        { codes: ['ControlLeft', 'KeyS'], pauseMs: 200 },
        { codes: ['Enter'], pauseMs: 50 },
        { codes: ['KeyA'], pauseMs: 50 },
      ],
    });
  });

  test.each([
    ['', 'Write keys and pauses'],
    ['200 ms, A', 'A pause comes after a key'],
    ['Left Ctrl+Banana', '“Banana” is not a key'],
  ])('“%s” is refused in words', (text, words) => {
    const read = readTyping(text);
    expect(!read.ok && read.reason).toContain(words);
  });

  test('what is written is read as the same', () => {
    const read = readTyping('Left Ctrl+Left Shift+S, 1 s, F4, 50 ms, Space');
    if (!read.ok) throw new Error(read.reason);
    expect(readTyping(writeTyping(read.value))).toEqual(read);
  });
});
