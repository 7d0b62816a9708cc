import { describe, expect, test } from '@jest/globals';
import { control, mapping, press, show } from '../engine.test-helper.js';
import { writeMidiFile } from '../midi/file.js';
import { newRoute } from '../routes/words.js';
import { ALWAYS } from '../show/when.js';
import { base64Of } from '../base64.js';
import { makeMoment, type Moment } from '../show/moment.js';
import { timeOutputSchema, timeSourceSchema } from '../time/ways.js';
import { makeSend, type Send } from '../sends.js';
import type { Hear } from '../hears.js';
import type { Mapping } from '../show/mapping.js';
import type { Route } from '../show/route.js';
import type { Show } from '../show.js';
import type { SeenLately } from './finding.js';
import { NOTHING_SEEN, preflight } from './preflight.js';

const bells = {
  id: 'bells',
  name: 'Bells',
  data: base64Of(
    writeMidiFile(
      [{ name: '', events: [{ tick: 0, signal: { kind: 'noteOn', channel: 0, number: 60, value: 9 } }] }],
      120,
    ),
  ),
};
const one = (id: string, hear: Partial<Hear>, sends?: Send[], change: Partial<Mapping> = {}): Mapping => ({
  ...mapping(id, { channels: [9, 9], numbers: [36, 36], ...hear } as Partial<Hear>),
  name: id,
  ...(sends && { sends }),
  ...change,
});
const note = (number: number, given: object = {}): Send =>
  makeSend({ kind: 'note', lineId: 'laser', channel: 5, number, ...given });
const slot = (number: number): Send => makeSend({ kind: 'slot', lineId: 'rig', slot: number });

function findings(
  mappings: Mapping[],
  change?: (made: Show) => void,
  seen: Partial<SeenLately> = {},
): string[] {
  return preflight(show(mappings, change), { ...NOTHING_SEEN, ...seen }).map(
    ({ rule, weight, places }) => `${weight}, ${rule}: ${places.map(({ id }) => id).join(' ')}`,
  );
}

test('a show without faults has no findings', () => {
  expect(findings([one('a', {}), one('b', { numbers: [37, 37] })])).toEqual([]);
});

describe('is found:', () => {
  test('two mappings on one control, in the same bank; not a press beside its release, nor where a shift pad tells them apart', () => {
    expect(findings([one('a', {}), one('b', { numbers: [30, 40] })])).toEqual([
      'warning, one control, several mappings: a b',
    ]);
    expect(findings([one('a', {}), one('b', { message: 'released' })])).toEqual([]);
    const shifted = one('b', {}, undefined, { when: { ...ALWAYS, shift: { channel: 9, number: 40 } } });
    expect(findings([one('a', {}), shifted])).toEqual([]);
    expect(findings([one('a', {}), one('b', {}, undefined, { on: false })])).toEqual([]);
  });

  test('a note that is pressed and never released, and a key that would repeat without an end', () => {
    expect(findings([one('a', {}, [note(28)])])).toEqual(['fault, a press without a release: a']);
    expect(findings([one('a', { message: 'held' }, [note(28)])])).toEqual([]);
    expect(findings([one('a', {}, [note(28, { lengthMs: 500 })])])).toEqual([]);
    const repeat = makeSend({ kind: 'key', lineId: 'stream', code: 'KeyA', repeatMs: 100 });
    expect(findings([one('a', {}, [repeat])])).toEqual(['fault, a repeat without an end: a']);
  });

  test('an exact force', () => {
    expect(findings([one('a', { values: [97, 97] })])).toEqual(['warning, an exact force: a']);
    expect(findings([one('a', { values: [90, 127] })])).toEqual([]);
  });

  test('a missing line, at a mapping’s ends and a route’s; a muted line', () => {
    expect(
      findings([one('a', { lineId: 'gone' }, [slot(1), makeSend({ kind: 'slot', lineId: null, slot: 2 })])]),
    ).toEqual(['fault, a missing line: a', 'fault, a missing line: a']);
    expect(
      findings([], (made) => void (made.routes = [{ ...newRoute('midi', 'pads', null), id: 'r' } as Route])),
    ).toEqual(['fault, a missing line: r']);
    const mute = (made: Show): void =>
      void (made.lines = made.lines.map((line) => ({ ...line, muted: line.id === 'rig' })));
    expect(findings([], mute)).toEqual(['warning, a muted line: rig']);
  });

  test('an address or a slot that is sent from two places', () => {
    expect(findings([one('a', {}, [slot(5)]), one('b', { numbers: [37, 37] }, [slot(6), slot(5)])])).toEqual([
      'warning, sent from two places: a b',
    ]);
  });

  test('a loop through mappings, named in its order', () => {
    const a = one('a', { message: 'held' }, [
      makeSend({ kind: 'note', lineId: 'laser', channel: 0, number: 1 }),
    ]);
    const b = one('b', { message: 'held', lineId: 'laser', channels: [0, 0], numbers: [1, 1] }, [
      makeSend({ kind: 'note', lineId: 'pads', channel: 9, number: 36 }),
    ]);
    expect(findings([a, b])).toEqual(['warning, a loop: a b']);
    expect(findings([a])).toEqual([]);
  });

  test('a channel off by one against what has been seen', () => {
    const heard = [{ lineId: 'pads', signal: press(36, 90, 8) }];
    expect(findings([one('a', {})], undefined, { heard })).toEqual(['fault, a channel off by one: a']);
    expect(
      findings([one('a', {})], undefined, {
        heard: [...heard, { lineId: 'pads', signal: press(36, 90, 9) }],
      }),
    ).toEqual([]);
    expect(
      findings([one('a', {})], undefined, { heard: [{ lineId: 'pads', signal: control(36, 1, 8) }] }),
    ).toEqual([]);
  });

  // MIDI 1.0: 31,250 baud and ten bits a byte are 3,125 bytes a second.
  test('a 5-pin line that is asked for more than it can carry', () => {
    const fivePin = (made: Show): void =>
      void (made.lines = made.lines.map((line) =>
        line.id === 'laser' ? { ...line, fivePin: true } : line,
      ) as Show['lines']);
    expect(findings([], fivePin, { outBytes: { laser: 3126, score: 9000 } })).toEqual([
      'fault, too much for a 5-pin cable: laser',
    ]);
    expect(findings([], fivePin, { outBytes: { laser: 3125 } })).toEqual([]);
  });
});

describe('of the running order', () => {
  const pad = {
    message: 'pressed',
    lineId: 'pads',
    channels: [9, 9],
    numbers: [51, 51],
    values: 'any',
  } as const;
  const moment = (cue: string, more: object = {}): Moment =>
    makeMoment({ id: `m${cue}`, cue, name: '', sends: [], ...more });
  const rig = { kind: 'levels', lineId: 'rig', levels: [{ slots: [1, 1], level: 255 }] };

  test('a control that calls two moments, and a moment for a line that is not there', () => {
    const change = (made: Show): void => {
      made.moments = [
        moment('1', { callers: [{ ...pad }], sends: [rig] }),
        moment('2', { callers: [{ ...pad, message: 'held' }], sends: [{ ...rig, lineId: 'gone' }] }),
        moment('3', { callers: [{ ...pad }], parked: true }),
      ];
    };
    expect(findings([], change)).toEqual([
      'fault, a missing line: m2',
      'warning, a control that calls two moments: m1',
      'warning, a control that calls two moments: m2',
    ]);
  });

  test('what is named and gone, a ring, a file without an end, and a first one that follows', () => {
    const call = (act: string, momentId: string | null): object => ({
      kind: 'send',
      value: 1,
      send: { kind: 'call', lineId: null, act, momentId },
    });
    const file = { kind: 'file', lineId: 'laser', fileId: 'bells', tracks: 'all', times: 0 };
    const change = (made: Show): void => {
      made.midiFiles = [bells];
      made.moments = [
        moment('1', { follow: { after: 'start', ms: 0 }, sends: [file] }),
        moment('2', { sends: [call('run', 'm3'), { kind: 'look', lineId: 'rig', lookId: 'gone' }] }),
        moment('3', { sends: [call('run', 'm2'), call('call', 'gone')] }),
        moment('4', { sends: [{ ...rig, levels: [{ groupId: 'gone', level: 1 }] }] }),
        moment('5', { sends: [{ ...file, fileId: 'gone', times: 1 }] }),
      ];
    };
    expect(findings([], change).sort()).toEqual([
      'fault, a moment that calls itself: m2',
      'fault, a moment that calls itself: m3',
      'fault, something removed: m2',
      'fault, something removed: m3',
      'fault, something removed: m4',
      'fault, something removed: m5',
      'warning, a file without an end: m1',
      'warning, nothing to follow: m1',
    ]);
    const stopped = (made: Show): void => {
      change(made);
      made.moments = [made.moments[0]!, moment('9', { sends: [call('stop', 'm1')] })];
    };
    expect(findings([], stopped)).toEqual(['warning, nothing to follow: m1']);
  });
});

test('of the time: timecodes that do not exist or are of another rate, and what has no line', () => {
  const at = (cue: string, timecode: string): Moment =>
    makeMoment({ id: cue, cue, name: cue, timecode, sends: [] });
  const found = findings([], (made) => {
    made.moments = [at('1', '01:00:00:24'), at('2', '01:00:00:29'), at('3', '01:00:00;10')];
    made.timeSources = [timeSourceSchema.parse({ id: 'gone', kind: 'mtc', lineId: 'nobody' })];
    made.timeOutputs = [timeOutputSchema.parse({ id: 'osc', kind: 'osc', lineId: 'water' })];
  });
  expect(found).toEqual([
    'fault, a timecode that does not exist: 2',
    'fault, time without a line: ',
    'warning, timecodes of another frame rate: 3',
  ]);
});

test('faults come before warnings', () => {
  const weights = preflight(show([one('a', { values: [97, 97] }, [note(1)]), one('b', {}, [note(2)])])).map(
    ({ weight }) => weight,
  );
  expect(weights).toEqual(['fault', 'fault', 'warning', 'warning']);
});

test('ten thousand mappings are read in one go', () => {
  const many = Array.from({ length: 10_000 }, (_, at) =>
    one(`m${at}`, {
      numbers: [at % 128, at % 128],
      channels: [Math.floor(at / 128) % 16, Math.floor(at / 128) % 16],
      lineId: `l${Math.floor(at / 2048)}`,
    }),
  );
  expect(preflight(show(many)).every(({ rule }) => rule === 'a missing line')).toBe(true);
});
