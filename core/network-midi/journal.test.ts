/** The recovery journal, octet by octet: RFC 6295, with the section or appendix beside each check. The octets are laid out by its figures. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { decodeJournal, encodeJournal, type Journal } from './journal.js';
import type { ChannelChapters } from './journal/channel-chapters.js';
import type { ParameterLog } from './journal/parameters.js';
import { SYSEX_STATES, type SystemChapters, type TimecodeParts } from './journal/system-chapters.js';
import { NetworkMidiError } from './rtp.js';

const hex = (text: string): Uint8Array =>
  Uint8Array.from(text.split(/\s+/).map((byte) => parseInt(byte, 16)));
const hexOf = (bytes: Uint8Array): string =>
  [...bytes].map((byte) => byte.toString(16).padStart(2, '0')).join(' ');

/** A journal of one channel with the given chapters. */
const ofChannel = (chapters: ChannelChapters): Journal => ({
  single: true,
  enhanced: false,
  checkpoint: 0x1234,
  system: null,
  channels: [{ single: true, channel: 9, enhanced: false, chapters }],
});
const ofSystem = (chapters: SystemChapters): Journal => ({
  single: true,
  enhanced: false,
  checkpoint: 0,
  system: { single: true, chapters },
  channels: [],
});
const plainLog: ParameterLog = {
  single: true,
  registered: true,
  number: 0,
  msb: null,
  lsb: null,
  buttons: null,
  buttonsSince: null,
  count: null,
  tellsValue: true,
  tellsCount: false,
};

describe('a recovery journal', () => {
  test('that is empty has three octets (section 5, figure 8)', () => {
    const empty = { single: true, enhanced: false, checkpoint: 0xabcd, system: null, channels: [] };
    expect(hexOf(encodeJournal(empty))).toBe('80 ab cd');
    expect(decodeJournal(hex('80 ab cd'))).toEqual(empty);
    expect(decodeJournal(hex('10 00 01'))).toMatchObject({ single: false, enhanced: true, checkpoint: 1 });
  });

  // Each: the header of the journal (figure 8), of the channel (figure 9: S, channel 9, length, chapters), and the chapter.
  test.each<[string, ChannelChapters, string]>([
    [
      'chapter P (A.2.1), with a bank that was chosen before controllers were reset',
      { program: { single: true, program: 5, bank: { msb: 1, lsb: 2, reset: true } } },
      'c8 06 80 85 81 82',
    ],
    ['chapter P without a bank', { program: { single: false, program: 5, bank: null } }, 'c8 06 80 05 00 00'],
    [
      'chapter C (A.3.1 to A.3.3): a value, toggles and a count',
      {
        controllers: {
          single: true,
          logs: [
            { single: true, number: 7, tool: 'value', value: 100 },
            { single: false, number: 64, tool: 'toggle', value: 3 },
            { single: true, number: 123, tool: 'count', value: 9 },
          ],
        },
      },
      'c8 0a 40 82 87 64 40 83 fb c9',
    ],
    [
      'chapter M (A.4.1, A.4.2): pitch bend range with both octets of data, in short form',
      {
        parameters: {
          single: true,
          pending: null,
          open: true,
          logs: [{ ...plainLog, msb: { value: 2, reset: false }, lsb: { value: 0, reset: true } }],
        },
      },
      'c8 09 20 b4 06 80 c2 02 80',
    ],
    [
      'chapter M with a number that has only begun, and steps of a parameter that is not registered (A.4.5 to A.4.7)',
      {
        parameters: {
          single: true,
          pending: { registered: false, msb: 3 },
          open: false,
          logs: [
            {
              ...plainLog,
              registered: false,
              number: 0x0181,
              buttons: { value: -5, reset: true },
              buttonsSince: 4,
              count: { value: 6, reset: false },
              tellsCount: true,
            },
          ],
        },
      },
      'c8 0e 20 c0 0b 83 81 83 3e c0 05 00 04 06',
    ],
    ['chapter W (A.5.1)', { bend: { single: true, value: 0x2000 } }, 'c8 05 10 80 40'],
    [
      'chapter N (A.6.1 to A.6.3): a note that is down, and two that were released',
      { notes: { single: false, on: [{ single: true, note: 60, play: true, velocity: 64 }], off: [36, 50] } },
      // Octets 4 to 6 of the releases: 36 is the fifth of the first, 50 the third of the last.
      'c8 0a 08 01 46 bc c0 08 00 20',
    ],
    [
      'chapter N without releases',
      { notes: { single: true, on: [{ single: true, note: 1, play: false, velocity: 1 }], off: [] } },
      'c8 07 08 81 f0 81 01',
    ],
    [
      'chapter E (A.7.1, A.7.2)',
      {
        extras: {
          single: true,
          logs: [
            { single: true, note: 60, what: 'count', value: 2 },
            { single: true, note: 61, what: 'velocity', value: 30 },
          ],
        },
      },
      'c8 08 04 81 bc 02 bd 9e',
    ],
    ['chapter T (A.8.1)', { pressure: { single: true, value: 77 } }, 'c8 04 02 cd'],
    [
      'chapter A (A.9.1, A.9.2)',
      { notePressures: { single: true, logs: [{ single: true, note: 60, off: true, value: 5 }] } },
      'c8 06 01 80 bc 85',
    ],
  ])('has %s', (_, chapters, text) => {
    const whole = `a0 12 34 ${text}`;
    expect(hexOf(encodeJournal(ofChannel(chapters)))).toBe(whole);
    expect(decodeJournal(hex(whole))).toEqual(ofChannel(chapters));
  });

  // Each: the header of the journal, of the system (figure 10: S, chapters, length), and the chapter.
  test.each<[string, SystemChapters, string]>([
    [
      'chapter D (B.1.1 to B.1.3)',
      {
        simple: {
          single: true,
          reset: { single: true, count: 1 },
          tune: { single: false, count: 2 },
          song: { single: true, value: 3 },
        },
      },
      'c0 06 f0 81 02 83',
    ],
    ['chapter V (B.2.1)', { activeSense: { single: true, count: 99 } }, 'a0 03 e3'],
    [
      'chapter Q (B.3.1): it runs, at clock 65537',
      { sequencer: { single: true, runs: true, played: true, clocks: 65_537, ms: null } },
      '90 05 f1 00 01',
    ],
    [
      'chapter Q at the start of the song, with a correction (B.3.2)',
      { sequencer: { single: true, runs: false, played: false, clocks: null, ms: 0x010203 } },
      '90 06 88 01 02 03',
    ],
    [
      'chapter F (B.4.1, B.4.2): eight quarter frames, and three of the next',
      {
        timecode: {
          single: true,
          backward: false,
          complete: { quarterFrames: true, octets: [0x12, 0x34, 0x56, 0x70] },
          partial: { point: 2, octets: [0x12, 0x30, 0, 0] },
        },
      },
      '88 0b f2 12 34 56 70 12 30 00 00',
    ],
    [
      'chapter F (B.4.3): a full frame, with the point that stands for none',
      {
        timecode: {
          single: true,
          backward: false,
          complete: { quarterFrames: false, octets: [1, 2, 3, 4] },
          partial: null,
        },
      },
      '88 07 c7 01 02 03 04',
    ],
    [
      'chapter X (B.5.1, B.5.2): a whole message, and the end of one that is coming',
      {
        sysex: [
          {
            single: true,
            state: 'finished',
            lists: true,
            typeCount: 1,
            count: 2,
            first: null,
            data: Uint8Array.of(0x7d, 0x01),
          },
          {
            single: false,
            state: 'unfinished',
            lists: false,
            typeCount: null,
            count: null,
            first: 200,
            data: Uint8Array.of(5),
          },
        ],
      },
      '84 0b ef 01 02 7d 81 18 81 48 85',
    ],
  ])('has %s', (_, chapters, text) => {
    const whole = `c0 00 00 ${text}`;
    expect(hexOf(encodeJournal(ofSystem(chapters)))).toBe(whole);
    expect(decodeJournal(hex(whole))).toEqual(ofSystem(chapters));
  });

  test('of all 128 notes has a length of its own (A.6.1)', () => {
    const on = (count: number): ChannelChapters => ({
      notes: {
        single: true,
        on: Array.from({ length: count }, (_, note) => ({ single: true, note, play: true, velocity: 1 })),
        off: [],
      },
    });
    for (const count of [126, 127, 128])
      expect(decodeJournal(encodeJournal(ofChannel(on(count))))).toEqual(ofChannel(on(count)));
    expect(hexOf(encodeJournal(ofChannel(on(127)))).slice(18, 23)).toBe('ff f1');
    expect(hexOf(encodeJournal(ofChannel(on(128)))).slice(18, 23)).toBe('ff f0');
    const both = { notes: { ...on(128).notes!, off: [3] } };
    expect(() => encodeJournal(ofChannel(both))).toThrow(RangeError);
  });

  test('passes over what MIDI has not defined, by its length (B.1.1, figures B.1.4 and B.1.5)', () => {
    // F4 with a count; FD with a count and an octet that is not defined yet; then chapter V.
    const read = decodeJournal(hex('c0 00 00 e0 0a 89 c0 03 07 63 00 05 e3'));
    expect(read.system!.chapters.activeSense).toEqual({ single: true, count: 0x63 });
  });

  test('goes on behind what is longer than we know, by its length (A.1)', () => {
    const read = decodeJournal(hex('a1 00 00 80 06 02 cd 11 22 88 04 02 4d'));
    expect(read.channels.map(({ channel, chapters }) => [channel, chapters.pressure])).toEqual([
      [0, { single: true, value: 77 }],
      [1, { single: false, value: 77 }],
    ]);
  });

  test.each([
    ['nothing', ''],
    ['no checkpoint', '80 00'],
    ['no channel', 'a0 00 00'],
    ['a channel that is shorter than its header', 'a0 00 00 80 02 00'],
    ['a channel that is longer than the packet', 'a0 00 00 80 08 02 cd'],
    ['a chapter that breaks off', 'a0 00 00 80 05 80 05 00'],
    ['releases from 9 to 3', 'a0 00 00 80 06 08 81 93 bc'],
    ['data without its end', 'c0 00 00 84 05 8b 01 02'],
    ['a place without its end', 'c0 00 00 84 08 9b ff ff ff ff 7f'],
  ])('with %s is refused', (_, text) =>
    expect(() => decodeJournal(text === '' ? new Uint8Array() : hex(text))).toThrow(NetworkMidiError),
  );

  test('that is too long is not written', () => {
    const data = new Uint8Array(1100);
    const log = {
      single: true,
      state: 'finished',
      lists: true,
      typeCount: null,
      count: null,
      first: null,
      data,
    } as const;
    expect(() => encodeJournal(ofSystem({ sysex: [log] }))).toThrow(RangeError);
    expect(() => encodeJournal(ofChannel({ controllers: { single: true, logs: [] } }))).toThrow(RangeError);
  });
});

const bit = fc.boolean();
const seven = fc.integer({ min: 0, max: 127 });
const octet = fc.integer({ min: 0, max: 255 });
const maybe = <T>(of: fc.Arbitrary<T>): fc.Arbitrary<T | null> => fc.option(of, { nil: null });
const since = fc.record({ value: seven, reset: bit });
const signed = fc.integer({ min: -16_383, max: 16_383 });
const logs = <T>(of: fc.Arbitrary<T>, most = 20) =>
  fc.record({ single: bit, logs: fc.array(of, { minLength: 1, maxLength: most }) });

const channelChapters: fc.Arbitrary<ChannelChapters> = fc.record(
  {
    program: fc.record({
      single: bit,
      program: seven,
      bank: maybe(fc.record({ msb: seven, lsb: seven, reset: bit })),
    }),
    controllers: logs(
      fc.oneof(
        fc.record({ single: bit, number: seven, tool: fc.constant('value' as const), value: seven }),
        fc.record({
          single: bit,
          number: seven,
          tool: fc.constantFrom('toggle' as const, 'count' as const),
          value: fc.integer({ min: 0, max: 63 }),
        }),
      ),
    ),
    parameters: fc.record({
      single: bit,
      pending: maybe(fc.record({ registered: bit, msb: seven })),
      open: bit,
      logs: fc.array(
        fc.record({
          single: bit,
          registered: bit,
          number: fc.oneof(seven, fc.integer({ min: 0, max: 16_383 })),
          msb: maybe(since),
          lsb: maybe(since),
          buttons: maybe(fc.record({ value: signed, reset: bit })),
          buttonsSince: maybe(signed),
          count: maybe(since),
          tellsValue: bit,
          tellsCount: bit,
        }),
        { maxLength: 12 },
      ),
    }),
    bend: fc.record({ single: bit, value: fc.integer({ min: 0, max: 16_383 }) }),
    notes: fc
      .tuple(
        bit,
        fc.uniqueArray(seven, { maxLength: 40 }),
        fc.array(fc.tuple(bit, bit, bit, seven), { minLength: 40, maxLength: 40 }),
      )
      .map(([single, numbers, kinds]) => {
        const of = numbers.map((note, at) => ({ note, kind: kinds[at]! }));
        return {
          single,
          on: of
            .filter(({ kind }) => kind[0])
            .map(({ note, kind }) => ({ single: kind[1], note, play: kind[2], velocity: kind[3] })),
          off: of
            .filter(({ kind }) => !kind[0])
            .map(({ note }) => note)
            .sort((one, other) => one - other),
        };
      }),
    extras: logs(
      fc.record({
        single: bit,
        note: seven,
        what: fc.constantFrom('count' as const, 'velocity' as const),
        value: seven,
      }),
    ),
    pressure: fc.record({ single: bit, value: seven }),
    notePressures: logs(fc.record({ single: bit, note: seven, off: bit, value: seven })),
  },
  { requiredKeys: [] },
);
const parts: fc.Arbitrary<TimecodeParts> = fc.tuple(octet, octet, octet, octet);
const counted = fc.record({ single: bit, count: seven });
const systemChapters: fc.Arbitrary<SystemChapters> = fc.record(
  {
    simple: fc.record({
      single: bit,
      reset: maybe(counted),
      tune: maybe(counted),
      song: maybe(fc.record({ single: bit, value: seven })),
    }),
    activeSense: counted,
    sequencer: fc.record({
      single: bit,
      runs: bit,
      played: bit,
      clocks: maybe(fc.integer({ min: 0, max: 2 ** 19 - 1 })),
      ms: maybe(fc.integer({ min: 0, max: 2 ** 24 - 1 })),
    }),
    timecode: fc.record({
      single: bit,
      backward: bit,
      complete: maybe(fc.record({ quarterFrames: bit, octets: parts })),
      partial: maybe(fc.record({ point: fc.integer({ min: 0, max: 7 }), octets: parts })),
    }),
    sysex: fc.array(
      fc.record({
        single: bit,
        state: fc.constantFrom(...SYSEX_STATES),
        lists: bit,
        typeCount: maybe(octet),
        count: maybe(octet),
        first: maybe(fc.integer({ min: 0, max: 2 ** 28 - 1 })),
        data: maybe(fc.array(seven, { minLength: 1, maxLength: 30 }).map((list) => Uint8Array.from(list))),
      }),
      { minLength: 1, maxLength: 8 },
    ),
  },
  { requiredKeys: [] },
);
const journal: fc.Arbitrary<Journal> = fc.record({
  single: bit,
  enhanced: bit,
  checkpoint: fc.integer({ min: 0, max: 65_535 }),
  system: maybe(fc.record({ single: bit, chapters: systemChapters })),
  channels: fc
    .uniqueArray(fc.integer({ min: 0, max: 15 }), { maxLength: 16 })
    .chain((channels) =>
      fc.tuple(
        ...channels.map((channel) =>
          fc.record({ single: bit, channel: fc.constant(channel), enhanced: bit, chapters: channelChapters }),
        ),
      ),
    ),
});

describe('any journal', () => {
  test('is read as it was written', () => {
    fc.assert(fc.property(journal, (one) => expect(decodeJournal(encodeJournal(one))).toEqual(one)));
  });

  test('that is damaged or cut throws nothing but what is expected', () => {
    fc.assert(
      fc.property(
        journal,
        fc.array(fc.tuple(fc.nat(), octet), { maxLength: 6 }),
        fc.nat(),
        (one, changes, cut) => {
          const octets = encodeJournal(one);
          for (const [at, value] of changes) octets[at % octets.length] = value;
          try {
            decodeJournal(octets.subarray(0, cut % (octets.length + 1)));
          } catch (error) {
            expect(error).toBeInstanceOf(NetworkMidiError);
          }
        },
      ),
      { numRuns: 300 },
    );
  });

  test('of random octets throws nothing but what is expected', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 120 }), (octets) => {
        try {
          decodeJournal(octets);
        } catch (error) {
          expect(error).toBeInstanceOf(NetworkMidiError);
        }
      }),
      { numRuns: 1000 },
    );
  });
});
