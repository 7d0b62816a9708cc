/** Two states of a show, row by row: what is said to differ, and the edit that leads from one to the other. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { applyOps, positionsOf } from '../edits.js';
import { emptyShow, type Show } from '../show.js';
import { mapping, show as showOf } from '../engine.test-helper.js';
import { makeMoment } from '../show/moment.js';
import { TABLE_NAMES } from '../show/tables.js';
import { runs } from '../runs.test-helper.js';
import { opsTo } from './ops.js';
import { compareShows } from './rows.js';

const words = (before: Show, after: Show): string[] =>
  compareShows(before, after).map(({ table, name, what, members }) =>
    [
      `${table}: ${name} ${what}`,
      ...members.map(({ member, before: from, after: to }) => `${member} ${from} → ${to}`),
    ].join(' | '),
  );
const moment = (cue: string, name = '') => makeMoment({ id: `m${cue}`, cue, name, sends: [] });
const withMoments = (...moments: ReturnType<typeof moment>[]): Show => ({ ...emptyShow('Pier'), moments });

describe('the differences', () => {
  test('of a show and itself are none', () => {
    const show = showOf([mapping('storm', {}, { name: 'Storm' })]);
    expect(compareShows(show, structuredClone(show))).toEqual([]);
  });

  test('are rows that were added, removed and moved, the fewest that can have moved', () => {
    const before = withMoments(moment('1', 'House'), moment('2', 'Fog'), moment('3', 'Storm'), moment('4'));
    const after = withMoments(
      moment('4'),
      moment('1', 'House'),
      moment('3', 'Storm'),
      moment('5', 'Lamp lit'),
    );
    expect(words(before, after)).toEqual([
      'moments: 2 · Fog removed',
      'moments: 4 moved',
      'moments: 5 · Lamp lit added',
    ]);
  });

  test('are the members of a row, with channels from 1 and lines by their names', () => {
    const before = showOf([
      mapping(
        'storm',
        { lineId: 'pads', channels: [9, 9], numbers: [36, 36] } as never,
        {
          name: 'Storm',
          sends: [
            {
              kind: 'note',
              lineId: 'laser',
              channel: 5,
              number: 28,
              follows: false,
              lengthMs: null,
              delayMs: 0,
              range: null,
            },
          ],
        } as never,
      ),
    ]);
    const after = structuredClone(before);
    after.settings.name = 'Pier, second night';
    const [storm] = after.mappings;
    storm!.hear = { ...storm!.hear, channels: [8, 8] } as never;
    storm!.sends = [{ ...storm!.sends[0]!, lineId: 'pads', number: 29 } as never];
    const [settings, row] = words(before, after);
    expect(settings).toMatch(/^settings: Settings changed \| name .* → Pier, second night$/);
    expect(row).toBe(
      'mappings: Storm changed | hear, channels 10 → 9 | sends 1, line Fog laser → Pier pads | sends 1, number 28 → 29',
    );
  });

  test('of a send that became another kind is the send', () => {
    const before = showOf([mapping('fog', {}, { name: 'Fog' })]);
    const after = structuredClone(before);
    after.mappings[0]!.sends = [];
    expect(words(before, after)).toEqual(['mappings: Fog changed | sends 1 /fog → none']);
  });

  test('are bounded for each row', () => {
    const slots = (level: number) =>
      Array.from({ length: 512 }, (_, at) => ({ slots: [at + 1, at + 1] as [number, number], level }));
    const before = {
      ...emptyShow('Pier'),
      looks: [{ id: 'l', name: 'Warm', levels: slots(1) }],
    } as unknown as Show;
    const after = {
      ...emptyShow('Pier'),
      looks: [{ id: 'l', name: 'Warm', levels: slots(2) }],
    } as unknown as Show;
    expect(compareShows(before, after)[0]!.members).toHaveLength(24);
  });
});

test('the edit between two states makes one of the other, and touches nothing that is the same', () => {
  const cues = fc.uniqueArray(fc.integer({ min: 1, max: 12 }), { maxLength: 8 });
  const names = fc.array(fc.constantFrom('Fog', 'Storm'), { minLength: 12, maxLength: 12 });
  const state = fc
    .record({ cues, names })
    .map(({ cues: some, names: called }) =>
      withMoments(...some.map((cue) => moment(String(cue), called[cue - 1]))),
    );
  fc.assert(
    fc.property(state, state, (before, after) => {
      const placed = { show: before, position: positionsOf(before, TABLE_NAMES) };
      const ops = opsTo(placed, after);
      expect(applyOps(placed, ops).show).toEqual(after);
      expect(opsTo(applyOps(placed, ops), after)).toEqual([]);
      expect(compareShows(applyOps(placed, ops).show, after)).toEqual([]);
      if (compareShows(before, after).length === 0) expect(ops).toEqual([]);
    }),
    { numRuns: runs(300) },
  );
});
