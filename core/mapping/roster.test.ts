/** The mappings of a show, however it came about by edits. No source: our own rule. */
import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { makeHear } from '../hears.js';
import { runs } from '../runs.test-helper.js';
import { emptyShow, type Show } from '../show.js';
import { makeLine } from '../show/line.js';
import type { Mapping } from '../show/mapping.js';
import { newMapping } from './defaults.js';
import { placesOf } from './line-places.js';
import { createRoster, type Roster } from './roster.js';

const LINES = new Map([['pads', 0]]);
const NOTES = [60, 61, 62];

const newRoster = (): Roster =>
  createRoster(
    { forget: () => undefined, end: () => undefined, report: () => undefined, touch: () => undefined },
    1,
  );

/** Hears one note, or every message of its kind. */
const row = (id: string, note: number | null, on: boolean): Mapping => ({
  ...newMapping(
    id,
    makeHear({
      message: 'pressed',
      lineId: 'pads',
      channels: note === null ? 'any' : [9, 9],
      numbers: note === null ? 'any' : [note, note],
      values: 'any',
    }),
    null,
  ),
  on,
});

const rows = fc
  .uniqueArray(fc.record({ id: fc.nat(11), note: fc.constantFrom(null, ...NOTES), on: fc.boolean() }), {
    selector: ({ id }) => id,
    maxLength: 10,
  })
  .map((list) => list.map(({ id, note, on }) => row(`m${id}`, note, on)));
const added = fc
  .uniqueArray(fc.nat(4), { maxLength: 3 })
  .map((list) => list.map((id) => row(`added ${id}`, NOTES[id % NOTES.length]!, true)));

/** Who hears each note, in their order. */
const heardBy = (roster: Roster): string[][] =>
  NOTES.map((number) =>
    roster
      .index()
      .find(0, { kind: 'noteOn', channel: 9, number, value: 1 })
      .map(({ source }) => source.id),
  );

test('shows that are loaded one after the other hear in the same order as the last one alone', () => {
  // How many steps of it are made ready before it is loaded; some are made ready for lines that are elsewhere by then.
  const show = fc.tuple(rows, added, fc.nat(12), fc.boolean());
  fc.assert(
    fc.property(fc.array(show, { minLength: 2, maxLength: 6 }), (shows) => {
      const after = newRoster();
      const wholeOf = ([mappings]: (typeof shows)[number]): Show => ({
        ...emptyShow('Test'),
        lines: [makeLine({ id: 'pads', kind: 'midi-inside', name: 'Pads', port: 'Pads' })],
        mappings,
      });
      const loaded = (roster: Roster, one: (typeof shows)[number], whole = wholeOf(one)): Roster => {
        roster.load(whole, one[1], placesOf(whole, LINES), 0);
        return roster;
      };
      for (const one of shows) {
        const [, listeners, steps, isHere] = one;
        const whole = wholeOf(one);
        const making = after.prepare(
          whole,
          listeners,
          placesOf(whole, isHere ? LINES : new Map([['pads', 1]])),
        );
        for (let step = 0; step < steps; step++) making.next();
        loaded(after, one, whole);
        expect(heardBy(after)).toEqual(heardBy(loaded(newRoster(), one)));
      }
    }),
    { numRuns: runs(300) },
  );
});
