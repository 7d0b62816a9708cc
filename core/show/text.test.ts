import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { makeMoment } from './moment.js';
import { beginning, cutText, line, lines } from './text.js';
import { lineSchema } from './line.js';

const LONG = 'It is too long.';

// The Unicode Standard, 4.5, General Category: Cc control, Cs surrogate.
describe('text of one line', () => {
  test.each(['\u0000', 'a\u0000b', 'a\nb', '\u001b[31m', '\u007f', '\u0085', '\ud800', 'a\udc00b'])(
    'with what can’t be seen in it is refused: %j',
    (text) => {
      const { error } = line(20, LONG).safeParse(`x${text}x`);
      expect(error?.issues[0]?.message).toContain('can’t be seen');
    },
  );

  test.each(['Lamp lit', 'Künstlerseite', '漁火', '🎆 Finale', 'e\u0301'])('is kept as it is: %s', (text) => {
    expect(line(20, LONG).parse(` ${text} `)).toBe(text);
  });
});

test('text of several lines keeps their ends, however they were written', () => {
  expect(lines(20, LONG).parse('Slowly.\r\nThen\tfast.')).toBe('Slowly.\nThen\tfast.');
  expect(lines(20, LONG).safeParse('Slowly.\u0007').success).toBe(false);
});

describe('a name that is made fit', () => {
  test('is no longer than a row may have, and ends with a whole character', () => {
    expect(beginning('Lamp 🎆', 6)).toBe('Lamp');
    expect(beginning('Lamp 🎆', 7)).toBe('Lamp 🎆');
    expect(beginning('Lamp', 60)).toBe('Lamp');
  });

  test('is cut between characters and not within them', () => {
    expect(cutText('🎆🎆🎆', 2)).toBe('🎆🎆');
    expect(cutText('a\u0000\ud800b', 5)).toBe('ab');
  });

  test('is one that the database and every screen take, whatever it was', () => {
    const any = fc.string({ unit: 'binary', maxLength: 60 });
    fc.assert(
      fc.property(any, fc.nat(40), (text, most) => {
        const cut = cutText(text, most);
        expect(line(1000, LONG).parse(cut)).toBe(cut);
        expect([...cut].length).toBeLessThanOrEqual(most);
      }),
    );
  });
});

test('rows of the show use it: names of moments, their notes and the windows of keys', () => {
  const moment = { id: 'm', cue: '1', name: 'Fog', sends: [] };
  expect(() => makeMoment({ ...moment, name: 'Fog\u0000' })).toThrow('can’t be seen');
  expect(() => makeMoment({ ...moment, notes: 'Slow\u0000' })).toThrow('can’t be seen');
  const keys = { id: 'k', kind: 'keys-machine', name: 'Keys', windowTitle: 'Fog\u0000' };
  expect(lineSchema.safeParse(keys).success).toBe(false);
});
