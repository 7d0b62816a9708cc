import { expect, test } from '@jest/globals';
import { readMidiFile } from '@tawny-signal/core/midi/file';
import { viewOfList } from '../live/traffic-log';
import { EVERYTHING, filterTest } from './filter';
import { findAll } from './finder';
import { fogPacket as osc, madeUpShow, passing } from './passing.test-helper';
import { saveTraffic } from './save';

const show = madeUpShow('Water, "the screen"');
const START = Date.UTC(2026, 0, 1);

const traffic = [
  passing(1, { at: START + 0 }),
  passing(2, { at: START + 1, lineId: 'water', direction: 'out', bytes: osc, cause: 1 }),
  passing(3, { at: START + 500, bytes: Uint8Array.of(0xb1, 10, 5) }),
  passing(4, { at: START + 750, bytes: Uint8Array.of(0xb1, 1, 5) }),
  passing(5, { at: START + 1000, bytes: Uint8Array.of(0x89, 36, 64) }),
  passing(6, { at: START + 1001, direction: 'bad', reason: 'Not MIDI: a data byte without a status.' }),
];
const seqs = (given: Partial<typeof EVERYTHING>): number[] =>
  findAll(viewOfList(traffic), filterTest({ ...EVERYTHING, ...given }, show)).map(({ seq }) => seq);

test('traffic is filtered by line, way and text', () => {
  expect(seqs({})).toEqual([1, 2, 3, 4, 5, 6]);
  expect(seqs({ lineId: 'water' })).toEqual([2]);
  expect(seqs({ way: 'in' })).toEqual([1, 3, 4, 5, 6]);
  expect(seqs({ way: 'bad' })).toEqual([6]);
  expect(seqs({ text: '/FOG' })).toEqual([2]);
  expect(seqs({ text: 'ch 10' })).toEqual([1, 5]);
});

test('a number in the text is that number, not the beginning of another', () => {
  expect(seqs({ text: 'CC 1' })).toEqual([4]);
  expect(seqs({ text: 'cc 10' })).toEqual([3]);
});

test('JSON lines: an object a line, with what it was caused by', () => {
  const lines = (saveTraffic('jsonl', traffic, show).content as string)
    .trimEnd()
    .split('\n')
    .map((line) => JSON.parse(line) as Record<string, unknown>);
  expect(lines.length).toBe(6);
  expect(lines[1]).toMatchObject({
    seq: 2,
    cause: 1,
    later: false,
    way: 'out',
    message: '/fog/density 0.25',
    at: '2026-01-01T00:00:00.001Z',
  });
});

// RFC 4180: fields with commas or quotes are quoted, and quotes doubled.
test('CSV: quoted where it must be', () => {
  const { content, name } = saveTraffic('csv', traffic, show);
  const rows = (content as string).split('\r\n');
  expect(rows[0]).toBe('time,way,line,message,bytes');
  expect(rows[2]).toContain('out,"Water, ""the screen""",/fog/density 0.25,2F 66');
  expect(rows[1]).toContain(',"note 36 (C2) ch 10 pressed, force 97",99 24 61');
  expect(name).toBe('traffic-2026-01-01T00-00-01.csv');
});

test('a MIDI file: the messages at their times, a track for each line', () => {
  const dump = Uint8Array.of(0xf0, 0x7d, 1, 0xf7);
  const more = [
    ...traffic,
    passing(7, { at: START + 1250, bytes: dump }),
    // Its bytes are not all kept.
    passing(8, { at: START + 1300, bytes: dump, length: 300 }),
  ];
  const read = readMidiFile(saveTraffic('mid', more, show).content as Uint8Array);
  if (!read.ok) throw new Error(read.reason);
  expect(read.file.events.map(({ atMs, signal }) => [Math.round(atMs), signal.kind])).toEqual([
    [0, 'noteOn'],
    [500, 'controlChange'],
    [750, 'controlChange'],
    [1000, 'noteOff'],
    [1250, 'sysex'],
  ]);
  expect(read.file.trackNames).toContain('Pier pads');
});
