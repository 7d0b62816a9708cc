/** Where the moments of a table come. Without a source: the rules are ours. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { compareCues } from '@tawny-signal/core/cues/number';
import { applyOps, placeKey, type PlacedShow } from '@tawny-signal/core/edits';
import { readMoments } from '@tawny-signal/core/files/moments-csv';
import { emptyShow } from '@tawny-signal/core/show';
import { makeMoment } from '@tawny-signal/core/show/moment';
import { importOps, placesIn } from './import-moments.js';

const cue = fc
  .array(fc.integer({ min: 0, max: 12 }), { minLength: 1, maxLength: 3 })
  .map((parts) => parts.join('.'));

test('is behind the last moment with a lower cue, in an order that is sorted or not', () => {
  fc.assert(
    fc.property(fc.array(cue, { maxLength: 12 }), cue, (cues, one) => {
      expect(placesIn(cues)(one)).toBe(cues.findLastIndex((other) => compareCues(other, one) < 0));
    }),
  );
});

function shown(cues: readonly string[]): PlacedShow {
  const moments = cues.map((one) => makeMoment({ id: `m${one}`, cue: one, name: '', sends: [] }));
  const position = Object.fromEntries(cues.map((one, at) => [placeKey('moments', `m${one}`), at + 1]));
  return { show: { ...emptyShow('Pier'), moments }, position } as PlacedShow;
}

describe('a table', () => {
  test('is merged as if its moments came one by one', () => {
    const unique = fc.uniqueArray(cue, { maxLength: 8 });
    fc.assert(
      fc.property(unique, unique, (cues, given) => {
        const before = shown(cues);
        const read = readMoments(`cue\r\n${given.join('\r\n')}`, before.show);
        const after = applyOps(before, importOps(before, read)).show.moments.map((one) => one.cue);
        const oneByOne = given.reduce<string[]>(
          (list, one) => {
            if (list.includes(one)) return list;
            const at = list.findLastIndex((other) => compareCues(other, one) < 0) + 1;
            return list.toSpliced(at, 0, one);
          },
          [...cues],
        );
        expect(after).toEqual(oneByOne);
      }),
    );
  });

  test('whose moments would call each other without end is refused', () => {
    const before = shown(['1', '2']);
    const table = 'cue,this show\r\n1,run cue 2\r\n2,run cue 1';
    const read = readMoments(table, before.show);
    expect(read.bad).toEqual([]);
    expect(() => importOps(before, read)).toThrow('would call itself again without any delay');
  });

  test('has at most 10,000 rows, and is read to the end', () => {
    const { show } = shown([]);
    const rows = (count: number): string =>
      ['cue', ...Array.from({ length: count }, (_, at) => String(at + 1))].join('\r\n');
    const most = readMoments(`${rows(10_000)}\r\n`, show);
    expect([most.moments.length, most.bad.length]).toEqual([10_000, 0]);
    expect(readMoments(rows(10_001), show)).toMatchObject({
      moments: [],
      bad: [{ reason: 'A table has at most 10000 rows. Divide it, and import one part after the other.' }],
    });
  });
});
