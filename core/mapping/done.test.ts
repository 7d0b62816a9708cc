/** What a message did to the show itself, in words. No source: our own words. */
import { describe, expect, test } from '@jest/globals';
import { callersOf } from '../cues/callers.js';
import { makeSend, type Send } from '../sends.js';
import { emptyShow, type Show } from '../show.js';
import { makeMoment } from '../show/moment.js';
import { doneBy, mayAct } from './done.js';
import { newMapping } from './defaults.js';
import { makeHear } from '../hears.js';

const hear = makeHear({
  message: 'pressed',
  lineId: 'pads',
  channels: [9, 9],
  numbers: [36, 36],
  values: 'any',
});
const mapping = (id: string, ...sends: Send[]) => ({ ...newMapping(id, hear, null), sends });

const BASE = { lineId: null };
const show: Show = {
  ...emptyShow('Test'),
  banks: [{ id: 'storm', name: 'Storm', on: true, group: '' }],
  moments: [makeMoment({ id: 'fog', cue: '4', name: 'Fog bank', callers: [hear], sends: [] })],
  mappings: [
    mapping('toggles', makeSend({ kind: 'bank', ...BASE, bankId: 'storm', act: 'toggle' })),
    mapping('only', makeSend({ kind: 'bank', ...BASE, bankId: 'storm', act: 'only' })),
    mapping('taps', makeSend({ kind: 'tap', ...BASE }), makeSend({ kind: 'panic', ...BASE })),
    mapping('runs', makeSend({ kind: 'call', ...BASE, momentId: 'fog', act: 'run' })),
    mapping('gone', makeSend({ kind: 'call', ...BASE, momentId: 'nobody', act: 'stop' })),
    mapping('go', makeSend({ kind: 'call', ...BASE, momentId: null, act: 'call' })),
    mapping('plays', makeSend({ kind: 'position', ...BASE, act: 'playFrom', timecode: '01:00:00:00' })),
    mapping('sends', makeSend({ kind: 'osc', lineId: 'water', address: '/a', args: [] })),
  ],
};
const NOW = { isOn: (id: string | null): boolean => id === 'storm', bpm: 97.26 };
const said = (mappingId: string, shaped = 1, outcome: 'fired' | 'released' = 'fired', now = NOW): string[] =>
  doneBy(show, [{ mappingId, outcome, heard: 100, shaped }], now);

describe('what a message did', () => {
  test('is said as it came out', () => {
    expect(said('toggles')).toEqual(['bank Storm on']);
    expect(said('toggles', 1, 'fired', { ...NOW, isOn: () => false })).toEqual(['bank Storm off']);
    expect(said('only')).toEqual(['bank Storm only']);
    expect(said('taps')).toEqual(['tapped: 97.3', 'Panic']);
    expect(said('runs')).toEqual(['ran 4 · Fog bank']);
    expect(said('gone')).toEqual(['stopped a removed moment']);
    expect(said('go')).toEqual(['Go']);
    expect(said('plays')).toEqual(['play from 01:00:00:00']);
    expect(said(callersOf(show.moments[0]!)[0]!.id)).toEqual(['called 4 · Fog bank']);
  });

  test('is nothing for what sends on a line, for a release, and for a value that presses nothing', () => {
    expect(said('sends')).toEqual([]);
    expect(said('toggles', 1, 'released')).toEqual([]);
    expect(said('toggles', 0)).toEqual([]);
    expect(said('nobody')).toEqual([]);
  });
});

test('only lines that something listens to that acts are asked about', () => {
  expect(mayAct(show, 'pads')).toBe(true);
  expect(mayAct(show, 'water')).toBe(false);
  expect(mayAct({ ...show, mappings: [show.mappings.at(-1)!], moments: [] }, 'pads')).toBe(false);
  expect(mayAct({ ...show, mappings: [] }, 'pads')).toBe(true);
});
