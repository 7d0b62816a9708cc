/** Files that are written and read: nothing of a show is lost on the way, and what is wrong is said where it is. */
import { name } from '../show/fields.js';
import { describe, expect, test } from '@jest/globals';
import Papa from 'papaparse';
import { made, show } from '../engine.test-helper.js';
import { makeHear } from '../hears.js';
import { makeMoment, makeMomentSend } from '../show/moment.js';
import { makeMotion } from '../show/motion.js';
import { makeSend } from '../sends.js';
import { mappingSchema, type Mapping } from '../show/mapping.js';
import type { Show } from '../show.js';
import {
  bankFile,
  type BankFile,
  freeName,
  layoutFile,
  readBankFile,
  readLayoutFile,
  readShowFile,
  takeBankFile,
  writeJson,
} from './json.js';
import { COLUMNS, readMappings, writeMappings } from './mappings-csv.js';

const storm = { id: 'storm', name: 'Storm glass', on: true, group: 'songs' };
const mappings: Mapping[] = [
  made({ id: 'plain', sends: [makeSend({ kind: 'control', lineId: 'laser', channel: 4, number: 7 })] }),
  made({
    id: 'rich',
    bankId: 'storm',
    hear: makeHear({ message: 'osc', lineId: 'water', address: '/deck/*/x', argument: 2 }),
    shape: { curve: 'formula', formula: 'value * 2', limits: [0, 5], texts: [['low', 0]] },
    when: { bankId: 'storm', crossing: { way: 'rises', at: 3, back: 1 } },
    sends: [
      makeSend({ kind: 'key', lineId: 'stream', code: 'KeyS', with: ['ControlLeft'], delayMs: 20 }),
      makeSend({ kind: 'note', lineId: 'laser', channel: 0, number: 60, lengthMs: 500, follows: true }),
    ],
    answer: {
      lineId: 'pads',
      kind: 'note',
      channel: 9,
      number: 36,
      shows: 'bank',
      bankId: 'storm',
      on: 5,
      off: 0,
      blinkBeats: 1,
    },
  }),
  // A mapping that was just learned sends nothing yet.
  made({ id: 'learned', sends: [] }),
  made({
    id: 'sysex',
    hear: makeHear({ message: 'sysex', lineId: 'pads', template: 'F0 7D vv F7' }),
    sends: [makeSend({ kind: 'slot', lineId: 'rig', slot: 12, fadeMs: 2000 })],
  }),
];
// Each as its schema keeps it.
const kept = mappings.map((mapping) => mappingSchema.parse(mapping));
const full = (): Show => show(kept, (made_) => (made_.banks = [storm]));
const withoutIds = (list: readonly Mapping[]): object[] =>
  list.map((mapping) => ({ ...mapping, id: undefined }));

describe('a show as JSON', () => {
  test('is read as what was written', () => {
    expect(readShowFile(writeJson(full()))).toEqual({ ok: true, value: full() });
  });

  test.each([
    ['{', 'This file is not JSON'],
    ['[]', 'This is not a Tawny Signal file'],
    [writeJson({ format: 'tawny-signal-bank' }), 'This file is a bank; a show is needed here'],
    [writeJson({ ...show([]), version: 3 }), 'newer version'],
    [writeJson({ ...show([]), version: undefined }), 'This file does not say its version'],
    [writeJson({ ...show([]), version: '2' }), 'This file does not say its version'],
    [writeJson({ ...show([]), settings: { name: '', middleC: 4 } }), 'settings, name: Give it a name.'],
    [writeJson({ ...show([]), banks: [storm, storm] }), 'The id storm is used twice'],
    [
      writeJson({ ...show([]), mappings: [{ ...mappings[0]!, shape: { ...mappings[0]!.shape, steps: 1 } }] }),
      'mappings, row 1, shape, steps: Steps are 2 or more',
    ],
  ])('%# that is none is refused with what is wrong', (text, words) => {
    const read = readShowFile(text);
    expect(!read.ok && read.reason).toContain(words);
  });

  test('counts channels from 1, as they are shown', () => {
    const file = JSON.parse(writeJson(full())) as { version: number; mappings: object[] };
    expect(file.version).toBe(2);
    expect(file.mappings[0]).toMatchObject({ sends: [{ kind: 'control', channel: 5, number: 7 }] });
    expect(file.mappings[1]).toMatchObject({ answer: { channel: 10, number: 36 } });
  });

  test('of version 1, which counted channels from 0, is read as it was meant', () => {
    const once = `${JSON.stringify({ ...full(), version: 1 })}\n`;
    expect(readShowFile(once)).toEqual({ ok: true, value: full() });
  });

  test('that is nested deeper than any show is refused, and not followed down', () => {
    const deep = `{"format":"tawny-signal-show","version":2,"mappings":${'['.repeat(50_000)}${']'.repeat(50_000)}}`;
    const read = readShowFile(deep);
    expect(read.ok).toBe(false);
  });

  test('that names what is not there opens without it', () => {
    const read = readShowFile(writeJson({ ...full(), lines: [], banks: [] }));
    expect(read).toMatchObject({
      ok: true,
      value: { mappings: [{ hear: { lineId: null } }, { bankId: null }, { sends: [] }, {}] },
    });
  });

  test('whose moments, routes and layouts name lines that are not there opens without those', () => {
    const moments = [
      makeMoment({
        id: 'm',
        cue: '1',
        name: '',
        sends: [makeMomentSend({ kind: 'levels', lineId: 'gone', levels: [{ slots: [1, 1], level: 1 }] })],
      }),
    ];
    const layouts = [{ id: 'l', name: 'Box', lineId: 'gone', controls: [] }];
    const read = readShowFile(writeJson({ ...full(), moments, layouts }));
    expect(read).toMatchObject({
      ok: true,
      value: { moments: [{ sends: [{ lineId: null }] }], layouts: [{ lineId: null }] },
    });
  });

  test('of an earlier version, with one send a mapping, is read', () => {
    const { sends, ...old } = mappings[0]!;
    const read = readShowFile(writeJson({ ...full(), mappings: [{ ...old, send: sends[0] }] }));
    expect(read).toMatchObject({ ok: true, value: { mappings: [{ sends: [{ number: 7 }] }] } });
  });
});

describe('a bank as a file', () => {
  test('is taken into another show: lines by their names, the bank under a free name', () => {
    const read = readBankFile(writeJson(bankFile(full(), storm)));
    if (!read.ok) throw new Error(read.reason);
    const elsewhere = show([], (other) => {
      other.banks = [storm];
      other.lines = other.lines
        .filter((line) => line.id !== 'stream')
        .map((line) => ({ ...line, id: `${line.id}-2` }));
    });
    let count = 0;
    const taken = takeBankFile(elsewhere, read.value, () => `new-${++count}`);
    expect(taken.bank).toMatchObject({ id: 'new-1', name: 'Storm glass 2' });
    expect(taken.missing).toEqual(['Quay stream']);
    expect(taken.mappings).toHaveLength(1);
    expect(taken.mappings[0]).toMatchObject({
      bankId: 'new-1',
      hear: { lineId: 'water-2' },
      when: { bankId: 'new-1' },
      sends: [{ lineId: null }, { lineId: 'laser-2' }],
      answer: { lineId: 'pads-2', bankId: 'new-1' },
    });
  });

  test('brings its motions, and those that they or its mappings move', () => {
    const wave = { kind: 'wave' as const };
    const sends = (motionId: string) => [makeSend({ kind: 'motion', lineId: null, motionId, act: 'amount' })];
    const here = show([made({ id: 'fader', bankId: 'storm', sends: sends('swell') })], (one) => {
      one.banks = [storm, { ...storm, id: 'calm', name: 'Calm' }];
      one.motions = [
        makeMotion({
          id: 'swell',
          name: 'Slow swell',
          makes: wave,
          sends: [...sends('tide'), ...sends('calm-only')],
        }),
        makeMotion({
          id: 'tide',
          name: 'Tide',
          makes: wave,
          sends: [makeSend({ kind: 'slot', lineId: 'laser', slot: 1 })],
        }),
        makeMotion({ id: 'fog', name: 'Fog', makes: wave, bankId: 'storm', sends: [] }),
        makeMotion({ id: 'calm-only', name: 'Calm only', makes: wave, bankId: 'calm', sends: [] }),
        makeMotion({ id: 'other', name: 'Other', makes: wave, sends: [] }),
      ];
    });
    const read = readBankFile(writeJson(bankFile(here, storm)));
    if (!read.ok) throw new Error(read.reason);
    expect(read.value.motions.map((motion) => motion.name)).toEqual(['Slow swell', 'Tide', 'Fog']);
    expect(read.value.lines.map((line) => line.id)).toContain('laser');
    let count = 0;
    const taken = takeBankFile(here, read.value, () => `new-${++count}`);
    const [swell, tide, fog] = taken.motions;
    expect(taken.motions.map((motion) => motion.name)).toEqual(['Slow swell 2', 'Tide 2', 'Fog 2']);
    expect(swell!.sends).toMatchObject([{ motionId: tide!.id }, { motionId: null }]);
    expect(fog!.bankId).toBe(taken.bank.id);
    expect(taken.mappings[0]!.sends).toMatchObject([{ motionId: swell!.id }]);
  });

  test('of an earlier version, without motions, is read', () => {
    const old: Partial<BankFile> = bankFile(full(), storm);
    delete old.motions;
    expect(readBankFile(writeJson(old))).toMatchObject({ ok: true, value: { motions: [] } });
  });

  test('a name that is used gets a number', () => {
    expect(freeName([{ name: 'House' }, { name: 'house 2' }], 'House')).toBe('House 3');
    // The longest name that can be saved, with a character of two halves where it is cut, can be brought in beside itself, however often.
    for (const wished of [`${'n'.repeat(54)}🎆`, 'n'.repeat(60), `${'n'.repeat(57)}🎆`]) {
      const rows = [{ name: name.parse(wished) }];
      for (let copy = 0; copy < 120; copy++) rows.push({ name: name.parse(freeName(rows, wished)) });
      expect(new Set(rows.map((row) => row.name)).size).toBe(121);
    }
  });
});

test('a layout as a file is read as what was written', () => {
  const controls = [
    {
      id: 'c',
      name: 'Pad 1',
      shape: 'pad' as const,
      kind: 'note' as const,
      channel: 9,
      number: 36,
      x: 0,
      y: 0,
      width: 1,
      height: 1,
      lamp: { on: 5, off: 0 },
    },
  ];
  const read = readLayoutFile(
    writeJson(layoutFile({ id: 'l', name: 'Small pads', lineId: 'pads', controls })),
  );
  expect(read).toMatchObject({ ok: true, value: { layout: { name: 'Small pads', controls } } });
});

describe('mappings as a table', () => {
  test('are read as what was written, whatever they are made of', () => {
    const read = readMappings(writeMappings(full()), full());
    expect(read.bad).toEqual([]);
    expect(withoutIds(read.mappings as Mapping[])).toEqual(withoutIds(kept));
  });

  // RFC 4180: lines end with CRLF, a field with a comma or quotation mark is in quotation marks.
  test('are a table that another reader reads, with CRLF', () => {
    const text = writeMappings(full());
    expect(text.split('\r\n')).toHaveLength(mappings.length + 2);
    expect(Papa.parse<string[]>(text.trim()).data[0]).toEqual([...COLUMNS]);
  });

  test('have JSON whose channels count from 1; in tables of version 1 they counted from 0', () => {
    const { data } = Papa.parse<Record<string, string>>(writeMappings(full()), { header: true });
    expect(JSON.parse(data[1]!['also']!)).toMatchObject({ answer: { channel: 10 }, sends: [{ channel: 1 }] });
    const once = [
      'hear,send,more',
      'pressed,osc,"{""answer"":{""lineId"":""pads"",""kind"":""note"",""channel"":9,""number"":36,""shows"":""value"",""bankId"":null,""on"":5,""off"":0,""blinkBeats"":0}}"',
    ].join('\n');
    expect(readMappings(once, full())).toMatchObject({ mappings: [{ answer: { channel: 9 } }], bad: [] });
  });

  const read = (...lines: string[]): ReturnType<typeof readMappings> =>
    readMappings(
      ['name,hear line,hear,channel,number,send line,send,to channel,to number', ...lines].join('\n'),
      full(),
    );

  test('that a person wrote are read with what is usual for the rest', () => {
    const { mappings: taken, bad } = read(
      'Wash,Pier pads,held,10,C2,Lantern rig,slot,,101',
      ',pier pads,control,"1, 3",21,,osc,,/fog',
    );
    expect(bad).toEqual([]);
    expect(taken).toMatchObject([
      {
        name: 'Wash',
        on: true,
        hear: { lineId: 'pads', message: 'held', channels: [9, 9], numbers: [36, 36], values: 'any' },
        sends: [{ kind: 'slot', lineId: 'rig', slot: 101 }],
        shape: { in: [0, 127], out: [0, 255] },
      },
      { hear: { message: 'control', channels: { of: [0, 2] } }, sends: [{ lineId: null, address: '/fog' }] },
    ]);
  });

  test('with bad lines: each is named with its number and what is wrong, and the others are taken', () => {
    const { mappings: taken, bad } = read(
      'Good,Pier pads,pressed,10,36,Lantern rig,slot,,1',
      'A,Pier pads,hit,10,36,Lantern rig,slot,,1',
      'B,Pier pads,pressed,17,36,Lantern rig,slot,,1',
      '',
      'C,Old pads,pressed,10,36,Lantern rig,slot,,1',
      'D,Pier pads,pressed,10,36,Lantern rig,slot,,600',
      'E,Pier pads,pressed,10,36,Water screen,osc,,no-slash',
      'F,Pier pads,keyPressed,,Banana,Water screen,osc,,/x',
    );
    expect(taken.map(({ name }) => name)).toEqual(['Good']);
    expect(bad.map(({ line, reason }) => `${line}: ${reason.slice(0, 40)}`)).toEqual([
      '3: hear: “hit” is not one of pressed, relea',
      '4: channel: A channel is a number from 1 to',
      '6: hear line: unknown line “Old pads”. Add ',
      '7: to number: A slot is a number from 1 to ',
      '8: sends 0 address: An OSC address begins w',
      '9: number: “Banana” is not a key. Write its',
    ]);
  });

  test('without the columns that matter are refused as a whole', () => {
    expect(readMappings('name,colour\nx,red', full())).toMatchObject({ mappings: [], bad: [{ line: 1 }] });
    expect(readMappings('', full()).bad[0]!.reason).toContain('hear and send must be among them');
  });
});
