/** The running order as a table, out and in. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import Papa from 'papaparse';
import { show as showOf } from '../engine.test-helper.js';
import { makeMoment, makeMomentSend, momentSchema, type Moment, type MomentSend } from '../show/moment.js';
import { makeSend } from '../sends.js';
import type { Show } from '../show.js';
import { readCell, writeCell } from '../typed/moment-cell.js';
import { readMoments, takeOver, writeMoments } from './moments-csv.js';

const show: Show = showOf([], (made) => {
  made.groups = [{ id: 'deck', name: 'Deck', slots: [[1, 12]] }];
  made.looks = [{ id: 'warm', name: 'Deck warm', levels: [{ groupId: 'deck', level: 128 }] }];
  made.banks = [{ id: 'storm', name: 'Storm', on: true, group: '' }];
  made.moments = [makeMoment({ id: 'm4', cue: '4.5', name: 'Blackout', sends: [] })];
});
const cell = (text: string, lineId: string | null = 'rig'): MomentSend[] => {
  const read = readCell(text, lineId, show);
  if (!read.ok) throw new Error(read.reason);
  return read.value;
};

describe('a cell', () => {
  test('says levels, groups and looks with their fades', () => {
    expect(cell('1-12 at 50 % fade 4 s after 0.5 s; look Deck warm fade 2 s slow-ends')).toEqual([
      makeMomentSend({
        kind: 'levels',
        lineId: 'rig',
        fadeMs: 4000,
        delayMs: 500,
        levels: [{ slots: [1, 12], level: 128 }],
      }),
      makeMomentSend({ kind: 'look', lineId: 'rig', lookId: 'warm', fadeMs: 2000, curve: 'slow-ends' }),
    ]);
    expect(cell('Deck at full, 40 off')).toMatchObject([
      {
        levels: [
          { groupId: 'deck', level: 255 },
          { slots: [40, 40], level: 0 },
        ],
      },
    ]);
  });

  test('says times in beats', () => {
    expect(cell('1-12 at 50 % fade 4 beats on the bar after next beat')).toMatchObject([
      { fadeMs: 0, fadeBeats: { beats: 4, on: 'bar' }, delayMs: 0, delayBeats: { beats: 0, on: 'beat' } },
    ]);
    expect(cell('note 28 ch 6 at 90 for 1/2 beat after 2 bars', 'laser')).toMatchObject([
      { send: { lengthBeats: { beats: 0.5, on: null }, delayBeats: { beats: 8, on: null } } },
    ]);
    expect(() => cell('1-12 at 50 % fade 2000 beats')).toThrow('1/16 to 1024 beats');
  });

  test('says notes, controllers, addresses, keys, show control and other moments', () => {
    expect(cell('note 28 ch 6 at 90 for 2 s after 0.5 s', 'laser')).toMatchObject([
      { value: 90, send: { kind: 'note', number: 28, channel: 5, lengthMs: 2000, delayMs: 500 } },
    ]);
    expect(cell('note C4 ch 1 off')).toMatchObject([{ value: 0, send: { number: 60 } }]);
    expect(cell('cc 7 ch 1 = 64 fade 2 s')).toMatchObject([
      { value: 64, fadeMs: 2000, send: { kind: 'control', number: 7 } },
    ]);
    expect(cell('/fog/density 0.7\n/moment/storm/go')).toMatchObject([
      { value: 0.7, send: { address: '/fog/density', args: [{ value: 'shaped' }] } },
      { send: { address: '/moment/storm/go', args: [] } },
    ]);
    expect(cell('key F4')).toMatchObject([{ send: { kind: 'key', code: 'F4' } }]);
    expect(cell('show control go cue 4 list 1 format 16 device 5')).toMatchObject([
      { send: { command: 'go', cue: '4', list: '1', format: 16, device: 5 } },
    ]);
    expect(cell('run 4.5; bank Storm off; stop all', null)).toMatchObject([
      { send: { kind: 'call', act: 'run', momentId: 'm4' } },
      { send: { kind: 'bank', bankId: 'storm', act: 'off' } },
      { send: { kind: 'call', act: 'stop', momentId: null } },
    ]);
  });

  test.each([
    ['hello', '“hello”: Write like'],
    ['look Cold', 'There is no look “Cold”'],
    ['Bow at full', 'There is no group “Bow”'],
    ['1-600 at full', 'A slot is a number from 1 to 512'],
    ['note 28 ch 17 at 9', 'A channel is a number from 1 to 16'],
    ['run 99', 'There is no cue 99'],
    ['key Nonsense', '“Nonsense” is not a key'],
    ['{"kind":', 'can’t be read as JSON'],
    ['1 at full fade 9999 s', 'at most 3600 s'],
  ])('%s is refused in words', (text, words) => {
    const read = readCell(text, 'rig', show);
    expect(!read.ok && read.reason).toContain(words);
  });
});

const anySend: fc.Arbitrary<MomentSend> = fc
  .record({
    lineId: fc.constantFrom('rig', 'laser', 'water'),
    fadeMs: fc.nat(9000),
    delayMs: fc.nat(9000),
    curve: fc.constantFrom('straight' as const, 'slow-ends' as const),
    number: fc.nat(127),
    value: fc.oneof(fc.nat(127), fc.constant(0.25)),
    kind: fc.constantFrom('levels', 'look', 'note', 'control', 'osc', 'sysex', 'bank', 'call', 'slot'),
  })
  .map(({ lineId, fadeMs, delayMs, curve, number, value, kind }): MomentSend => {
    const sends = {
      note: () => makeSend({ kind: 'note', lineId, delayMs, channel: number & 15, number }),
      control: () => makeSend({ kind: 'control', lineId, delayMs, channel: number & 15, number }),
      osc: () =>
        makeSend({
          kind: 'osc',
          lineId,
          delayMs,
          address: '/tide/height',
          args: number > 60 ? [{ type: 'f', value: 'shaped' }] : [{ type: 's', value: 'a; "b"\nc' }],
        }),
      sysex: () => makeSend({ kind: 'sysex', lineId, delayMs, template: 'F0 7D 01 vv F7' }),
      bank: () => makeSend({ kind: 'bank', lineId: null, delayMs, bankId: 'storm', act: 'toggle' }),
      call: () => makeSend({ kind: 'call', lineId: null, delayMs, momentId: null, act: 'run' }),
      slot: () => makeSend({ kind: 'slot', lineId, delayMs, slot: number + 1, fine: true }),
    };
    if (kind === 'levels')
      return makeMomentSend({
        kind,
        lineId,
        fadeMs,
        delayMs,
        curve,
        levels: [{ groupId: number > 60 ? 'deck' : 'gone', level: number }],
      });
    if (kind === 'look') return makeMomentSend({ kind, lineId, fadeMs, delayMs, curve, lookId: 'warm' });
    return makeMomentSend({ kind: 'send', send: sends[kind as 'note'](), value, fadeMs, curve });
  });

test('what is written into a cell is read back as the same', () => {
  fc.assert(
    fc.property(fc.array(anySend, { maxLength: 4 }), (sends) => {
      for (const send of sends) {
        const lineId = send.kind === 'send' ? send.send.lineId : send.lineId;
        expect(cell(writeCell([send], show), lineId)).toEqual([send]);
      }
    }),
  );
});

describe('the table', () => {
  const moments: Moment[] = [
    makeMoment({
      id: 'a',
      cue: '1',
      name: 'House to half',
      notes: 'When the quay, "at last", is quiet.\nDoors are closed.',
      callers: [
        { message: 'pressed', lineId: 'pads', channels: [9, 9], numbers: [36, 36], values: 'any' },
        { message: 'pressed', lineId: 'pads', channels: [9, 9], numbers: [37, 37], values: [64, 127] },
      ],
      timecode: '01:00:00:00',
      sends: cell('1-12 at 50 % fade 4 s'),
    }),
    makeMoment({
      id: 'b',
      cue: '1.5',
      name: 'Slack water',
      parked: true,
      follow: { after: 'end', ms: 2500 },
      sends: [...cell('/tide/height 0.6', 'water'), ...cell('panic', null)],
    }),
  ];
  const full = { ...show, moments };

  // RFC 4180; read here by papaparse, as a spreadsheet would.
  test('has a row for each moment and a column for each line, and is read back as it was', () => {
    const table = writeMoments(full);
    const { data } = Papa.parse<Record<string, string>>(table, { header: true, skipEmptyLines: true });
    expect(data[0]).toMatchObject({
      cue: '1',
      'Lantern rig': '1-12 at 50 % fade 4 s',
      called: 'by Go',
      timecode: '01:00:00:00',
    });
    const [first, second] = data[0]!['called by']!.split('\n');
    expect(first).toBe('Pier pads: note 36 ch 10');
    expect(JSON.parse(second!)).toMatchObject({ channels: [10, 10], values: [64, 127] });
    expect(data[1]).toMatchObject({
      'Water screen': '/tide/height 0.6',
      'this show': 'panic',
      called: '2.5 s after end',
      parked: 'yes',
    });
    const read = readMoments(table, full);
    expect(read.bad).toEqual([]);
    expect(read.moments).toEqual(moments.map((moment) => momentSchema.omit({ id: true }).parse(moment)));
  });

  test('of version 1 is read as it was meant then: ms, levels of slots, channels from 0', () => {
    const controls =
      '[{""message"":""pressed"",""lineId"":""pads"",""channels"":[9,9],""numbers"":[51,51],""values"":""any""}]';
    const once = `cue,called,controls,Lantern rig\n1,250 after end,"${controls}",40-43 at 30 fade 500\n`;
    expect(readMoments(once, full)).toMatchObject({
      bad: [],
      moments: [
        {
          follow: { after: 'end', ms: 250 },
          callers: [{ channels: [9, 9], numbers: [51, 51] }],
          sends: [{ levels: [{ slots: [40, 43], level: 30 }], fadeMs: 500 }],
        },
      ],
    });
    const now = `cue,called,Lantern rig\n1,2 after end,40-43 at 30 fade 3\n`;
    expect(readMoments(now, full)).toMatchObject({
      moments: [{ follow: { ms: 2000 }, sends: [{ levels: [{ level: 77 }], fadeMs: 3000 }] }],
    });
  });

  test('takes the controls that call a moment as they are written, or says what is wrong', () => {
    const callers = (text: string): unknown => {
      const read = readMoments(`cue,called by\n1,"${text}"\n`, full);
      return read.bad[0]?.reason ?? read.moments[0]!.callers;
    };
    expect(callers('pier pads: note C2 ch 1-4\nPier pads: cc 21')).toMatchObject([
      { message: 'pressed', lineId: 'pads', channels: [0, 3], numbers: [36, 36] },
      { message: 'control', channels: 'any', numbers: [21, 21] },
    ]);
    expect(callers('Old pads: note 36')).toContain('does not begin with the name of a line');
    expect(callers('Pier pads: note 36 ch 17')).toContain('A channel is a number from 1 to 16');
    expect(callers('Pier pads: bang 36')).toContain('“bang 36” is not a control');
  });

  test('says whether a call waits for the beat, and how many beats a moment waits to follow', () => {
    const beats = { beats: 2, on: null };
    const one: Show = {
      ...show,
      moments: [
        makeMoment({ id: 'a', cue: '1', name: '', callOn: 'bar', sends: [] }),
        makeMoment({ id: 'b', cue: '2', name: '', follow: { after: 'end', ms: 0, beats }, sends: [] }),
      ],
    };
    const { moments, bad } = readMoments(writeMoments(one), one);
    expect(bad).toEqual([]);
    expect(moments.map(({ callOn, follow }) => [callOn, follow])).toEqual([
      ['bar', null],
      ['now', { after: 'end', ms: 0, beats }],
    ]);
    expect(readMoments('cue,called on\n1,sometime\n', show).bad[0]!.reason).toBe(
      'called on: “sometime” is not understood. Write at once, beat or bar.',
    );
  });

  test('bad rows are said with their lines, and the others are taken', () => {
    const text = [
      'cue,name,called,parked,Lantern rig',
      '1,House to half,by Go,no,1 at full',
      'one,Nothing,,,',
      '2,Slack water,sometime,,',
      '3,Fog bank,-1 s after end,,',
      '1,Again,,,',
      '4,Storm,,perhaps,',
      '5,Lamp lit,,,1 at 300',
      '6,Fine,2 s after start,,Deck at full',
    ].join('\n');
    const read = readMoments(text, show);
    expect(read.moments.map(({ cue }) => cue)).toEqual(['1', '6']);
    expect(read.bad.map(({ line, reason }) => `${line} ${reason.slice(0, 30)}`)).toEqual([
      '3 cue: “one” is not a cue number',
      '4 called: “sometime” is not unde',
      '5 called: Write a time like 3 s,',
      '6 cue: 1 is in the table twice.',
      '7 parked: “perhaps” is not yes o',
      '8 Lantern rig: “300” is more tha',
    ]);
  });

  test('of a moment that is there already, what no column says stays', () => {
    const { moments: read, columns } = readMoments('cue,name,Lantern rig\n1.5,Slack,2 at full', full);
    const merged = takeOver(moments[1]!, read[0]!, columns, full);
    expect(merged).toMatchObject({ id: 'b', name: 'Slack', parked: true, follow: { ms: 2500 } });
    expect(writeCell(merged.sends, full)).toBe('/tide/height 0.6\npanic\n2 at full');
  });

  test('a column of no line, and a table without cues, are refused whole', () => {
    expect(readMoments('cue,Smoke machine\n1,x', show).bad[0]?.reason).toContain(
      'There is no line “Smoke machine”',
    );
    expect(readMoments('name\nHouse', show).bad[0]?.reason).toContain('cue must be among them');
  });

  test('random text is moments or reasons, and never an error', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 200 }), (text) => {
        readMoments(`cue,Lantern rig,this show\n${text}`, show);
      }),
    );
  });
});
