/** Packets of network MIDI, byte by byte: RFC 3550 and RFC 6295, with the section beside each check. What random bytes and commands do is our own. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  decodeCommandSection,
  encodeCommandSection,
  LONGEST_DELTA,
  type TimedCommand,
} from './command-section.js';
import { decodeRtp, encodeRtp, NetworkMidiError } from './rtp.js';
import {
  decodeSessionCommand,
  encodeSessionCommand,
  HELLOS,
  isSessionCommand,
  LONGEST_NAME,
  type SessionCommand,
} from './session-command.js';
import { createSysexJoiner, splitSysex } from './sysex-segments.js';

const hex = (text: string): Uint8Array =>
  Uint8Array.from(text.split(/\s+/).map((byte) => parseInt(byte, 16)));
const hexOf = (bytes: Uint8Array): string =>
  [...bytes].map((byte) => byte.toString(16).padStart(2, '0')).join(' ');
const list = (text: string): string[] =>
  decodeCommandSection(hex(text)).commands.map(({ after, bytes }) => `${after}: ${hexOf(bytes)}`);
const bytes = fc.uint8Array({ maxLength: 80 });
const data = fc.integer({ min: 0, max: 127 });

describe('an RTP packet', () => {
  // RFC 3550, section 5.1, and RFC 6295, section 2.1, figure 1.
  const plain = hex('80 61 12 34 00 01 02 03 de ad be ef 43 90 3c 40');

  test('is read and written octet by octet', () => {
    const packet = decodeRtp(plain);
    expect(packet).toMatchObject({
      marker: false,
      payloadType: 0x61,
      sequence: 0x1234,
      timestamp: 0x10203,
      ssrc: 0xdeadbeef,
    });
    expect(hexOf(packet.payload)).toBe('43 90 3c 40');
    expect(hexOf(encodeRtp(packet))).toBe(hexOf(plain));
    expect(hexOf(encodeRtp({ ...packet, marker: true }).subarray(0, 2))).toBe('80 e1');
  });

  test('has its payload behind contributors and an extension, and before the padding (5.1, 5.3.1)', () => {
    const full = hex(
      'b2 e1 00 01 00 00 00 02 00 00 00 03 0a 0a 0a 0a 0b 0b 0b 0b be de 00 01 01 02 03 04 00 00 00 03',
    );
    expect(decodeRtp(full)).toMatchObject({ marker: true, payload: Uint8Array.of(0) });
  });

  test.each([
    ['an octet too short', '80 61 12 34 00 01 02 03 de ad be'],
    ['of version 1', '40 61 12 34 00 01 02 03 de ad be ef'],
    ['with more contributors than octets', '81 61 12 34 00 01 02 03 de ad be ef'],
    ['with an extension that breaks off', '90 61 12 34 00 01 02 03 de ad be ef be de 00 02 00 00 00 00'],
    ['with padding that counts nothing', 'a0 61 12 34 00 01 02 03 de ad be ef 01 00'],
    ['with more padding than octets', 'a0 61 12 34 00 01 02 03 de ad be ef 01 0f'],
  ])('%s is refused', (_, text) => expect(() => decodeRtp(hex(text))).toThrow(NetworkMidiError));
});

describe('a list of commands', () => {
  test('has a header of one octet for up to 15, and of two beyond (RFC 6295, section 3, figure 2)', () => {
    const notes = (count: number): TimedCommand[] =>
      Array.from({ length: count }, (_, at) => ({ after: 0, bytes: Uint8Array.of(0x90 + at, 60, 64) }));
    expect(hexOf(encodeCommandSection(notes(1), false))).toBe('03 90 3c 40');
    // Four notes with three delta times are 15 octets.
    expect(hexOf(encodeCommandSection(notes(4), true).subarray(0, 2))).toBe('4f 90');
    expect(hexOf(encodeCommandSection(notes(5), true).subarray(0, 2))).toBe('c0 13');
    expect(hexOf(encodeCommandSection([], true))).toBe('40');
  });

  test('has delta times of one to four octets (section 3.1, figure 4)', () => {
    const written = (after: number): string =>
      hexOf(encodeCommandSection([{ after, bytes: Uint8Array.of(0xf8) }], false)).slice(3, -3);
    expect([0x7f, 0x80, 0x3fff, 0x4000, 0x1f_ffff, 0x20_0000, LONGEST_DELTA].map(written)).toEqual([
      '7f',
      '81 00',
      'ff 7f',
      '81 80 00',
      'ff ff 7f',
      '81 80 80 00',
      'ff ff ff 7f',
    ]);
    // The four ways of 0.
    for (const zero of ['00', '80 00', '80 80 00', '80 80 80 00'])
      expect(list(`${(0x20 + zero.split(' ').length + 1).toString(16)} ${zero} f8`)).toEqual(['0: f8']);
    expect(decodeCommandSection(hex('25 80 80 80 80 f8')).bad).toBe('a delta time without its end');
  });

  test('adds its delta times up, and may end with time alone (section 3.1)', () => {
    expect(list('28 05 90 3c 40 10 80 3c 00')).toEqual(['5: 90 3c 40', '21: 80 3c 00']);
    expect(list('05 90 3c 40 81 00')).toEqual(['0: 90 3c 40']);
    expect(decodeCommandSection(hex('22 81 00'))).toMatchObject({ commands: [], bad: null });
    expect(decodeCommandSection(hex('00'))).toMatchObject({ commands: [], bad: null, journal: null });
  });

  test('has running status within it, which system common cancels and real-time does not (section 3.2)', () => {
    expect(list('0b 90 3c 40 00 3e 41 00 f8 00 40 42')).toEqual([
      '0: 90 3c 40',
      '0: 90 3e 41',
      '0: f8',
      '0: 90 40 42',
    ]);
    const cancelled = decodeCommandSection(hex('09 90 3c 40 00 f6 00 3e 41 00'));
    expect(cancelled).toMatchObject({ bad: 'a data byte without a status' });
    expect(cancelled.commands).toHaveLength(2);
    const begins = decodeCommandSection(hex('52 3c 40 aa'));
    expect(begins).toMatchObject({ commands: [], phantom: true, bad: 'a data byte without a status' });
    expect(hexOf(begins.journal!)).toBe('aa');
  });

  test.each([
    ['a note without its force', '02 90 3c', 'a command that breaks off'],
    ['a status within a command', '06 90 3c f8 40 00 00', 'a command that breaks off'],
    ['an undefined status', '01 f4', 'an undefined status byte'],
    [
      'a system-exclusive message without its end',
      '03 f0 01 02',
      'a system-exclusive message that breaks off',
    ],
    ['one with real-time within', '05 f0 01 f8 02 f7', 'a system-exclusive message that breaks off'],
  ])('%s is told in words, and what was before it is there (section 3.2)', (_, text, bad) => {
    const [header, ...rest] = text.split(' ');
    const longer = `${(parseInt(header!, 16) + 3).toString(16).padStart(2, '0')} c0 05 00 ${rest.join(' ')}`;
    const section = decodeCommandSection(hex(longer));
    expect(section.bad).toBe(bad);
    expect(hexOf(section.commands[0]!.bytes)).toBe('c0 05');
  });

  test('that is longer than its packet is refused', () => {
    for (const text of ['04 90 3c 40', '80', '8f ff 90 3c 40'])
      expect(() => decodeCommandSection(hex(text))).toThrow(NetworkMidiError);
    expect(() => decodeCommandSection(new Uint8Array())).toThrow(NetworkMidiError);
  });

  test('is read as it was written, whatever the commands and times are', () => {
    const two = fc.tuple(fc.integer({ min: 0x80, max: 0xbf }), data, data);
    const one = fc.tuple(fc.integer({ min: 0xc0, max: 0xdf }), data);
    const system = fc.constantFrom<number[][]>(
      [0xf6],
      [0xf8],
      [0xfa],
      [0xfe],
      [0xf1, 3],
      [0xf2, 4, 5],
      [0xf3, 9],
    );
    const exclusive = fc.array(data, { maxLength: 12 }).map((inner) => [0xf0, ...inner, 0xf7]);
    const command = fc.record({
      later: fc.oneof(fc.constant(0), fc.integer({ min: 0, max: 100_000 })),
      bytes: fc.oneof<fc.Arbitrary<number[]>[]>(two, one, system, exclusive),
    });
    fc.assert(
      fc.property(fc.array(command, { maxLength: 60 }), fc.boolean(), (given, hasJournal) => {
        let after = 0;
        const commands = given.map(({ later, bytes: of }) => ({
          after: (after += later),
          bytes: Uint8Array.from(of),
        }));
        const read = decodeCommandSection(encodeCommandSection(commands, hasJournal));
        expect(read).toEqual({
          commands,
          phantom: false,
          bad: null,
          journal: hasJournal ? new Uint8Array() : null,
        });
      }),
    );
  });

  test('that is too long, or lasts too long, is not written', () => {
    const bulky = { after: 0, bytes: new Uint8Array(4096).fill(0xf0, 0, 1) };
    expect(() => encodeCommandSection([bulky], false)).toThrow(RangeError);
    const late = { after: LONGEST_DELTA + 1, bytes: Uint8Array.of(0xf8) };
    expect(() => encodeCommandSection([late], false)).toThrow(RangeError);
  });

  test('of any bytes throws nothing else, and holds no more than it was given', () => {
    fc.assert(
      fc.property(bytes, (payload) => {
        try {
          const { commands } = decodeCommandSection(payload);
          const octets = commands.reduce((sum, one) => sum + one.bytes.length, 0);
          // Each command has an octet of its own at least; running status adds one.
          expect(octets).toBeLessThanOrEqual(payload.length * 2);
        } catch (error) {
          expect(error).toBeInstanceOf(NetworkMidiError);
        }
      }),
      { numRuns: 2000 },
    );
  });
});

// What the package rtpmidi 1.0.0 from the npm registry wrote; it was not made by us, and is not installed here.
test('a packet that another package writes is read', () => {
  const packet = decodeRtp(hex('80 61 12 34 11 22 33 44 0a 0b 0c 0d 0b 90 3c 64 00 b0 07 5a 00 80 3c 40'));
  expect(packet).toMatchObject({
    payloadType: 97,
    sequence: 0x1234,
    timestamp: 0x1122_3344,
    ssrc: 0xa0b0c0d,
  });
  const { commands, journal } = decodeCommandSection(packet.payload);
  expect(journal).toBeNull();
  expect(commands.map(({ after, bytes: one }) => `${after}: ${hexOf(one)}`)).toEqual([
    '0: 90 3c 64',
    '0: b0 07 5a',
    '0: 80 3c 40',
  ]);
});

describe('a system-exclusive message in parts', () => {
  // RFC 6295, section 3.2, figure 6.
  const message = hex('f0 01 02 03 04 05 06 07 08 f7');
  const figure6 = [
    ['f0 01 02 03 04 f0', 'f7 05 06 07 08 f7'],
    ['f0 01 f0', 'f7 02 03 04 05 06 07 08 f7'],
    ['f0 01 02 f0', 'f7 03 04 f0', 'f7 05 06 07 08 f7'],
    ['f0 01 f0', 'f7 02 f0', 'f7 03 f0', 'f7 04 f0', 'f7 05 f0', 'f7 06 f0', 'f7 07 f0', 'f7 08 f0', 'f7 f7'],
  ];

  test.each(figure6.map((parts) => [parts.length, parts] as const))('%d parts are joined', (_, parts) => {
    const joiner = createSysexJoiner(1000);
    const taken = parts.map((part) => joiner.take(hex(part)));
    expect(taken.slice(0, -1).every((one) => one === null)).toBe(true);
    expect(taken.at(-1)).toEqual(message);
  });

  test('is split as in the first of them, and stays whole where it fits', () => {
    expect(splitSysex(message, 6).map(hexOf)).toEqual(figure6[0]);
    expect(splitSysex(message, 10)).toEqual([message]);
    expect(() => splitSysex(message, 2)).toThrow(RangeError);
  });

  test('is cancelled, and a dropped F7 is put back (figure 5)', () => {
    const joiner = createSysexJoiner(1000);
    expect(joiner.take(hex('f0 01 f0'))).toBeNull();
    expect(joiner.take(hex('f7 f4'))).toBeNull();
    expect(joiner.take(hex('f7 02 f7'))).toBe('a part of a system-exclusive message without its beginning');
    expect(joiner.take(hex('f7 f4'))).toBe('the end of a message that never began');
    expect(joiner.take(hex('f0 01 02 f5'))).toEqual(hex('f0 01 02 f7'));
  });

  test('is forgotten where parts were lost, and where it is too long', () => {
    const joiner = createSysexJoiner(6);
    joiner.take(hex('f0 01 f0'));
    expect(joiner.lose()).toBe(true);
    expect(joiner.lose()).toBe(false);
    joiner.take(hex('f0 01 02 f0'));
    expect(joiner.take(hex('f7 03 04 05 f0'))).toBe('a system-exclusive message that is too long');
    expect(joiner.take(hex('f7 06 f7'))).toBe('a part of a system-exclusive message without its beginning');
  });

  test('is joined as it was split, whatever it holds and however long parts are', () => {
    fc.assert(
      fc.property(fc.array(data, { maxLength: 300 }), fc.integer({ min: 3, max: 50 }), (inner, room) => {
        const whole = Uint8Array.from([0xf0, ...inner, 0xf7]);
        const parts = splitSysex(whole, room);
        const joiner = createSysexJoiner(1000);
        const taken = parts.map((part) => {
          expect(part.length).toBeLessThanOrEqual(room);
          const { commands } = decodeCommandSection(encodeCommandSection([{ after: 0, bytes: part }], false));
          return joiner.take(commands[0]!.bytes);
        });
        expect(taken.at(-1)).toEqual(whole);
      }),
    );
  });
});

describe('a command of the session', () => {
  // The layout is that which programs have in common; from memory, without a published text.
  const cases: [string, SessionCommand][] = [
    [
      'ff ff 49 4e 00 00 00 02 00 00 00 07 de ad be ef 50 69 65 72 00',
      { kind: 'invitation', token: 7, ssrc: 0xdeadbeef, name: 'Pier' },
    ],
    ['ff ff 4f 4b 00 00 00 02 00 00 00 07 00 00 00 01 00', { kind: 'accepted', token: 7, ssrc: 1, name: '' }],
    ['ff ff 4e 4f 00 00 00 02 00 00 00 07 00 00 00 01 00', { kind: 'refused', token: 7, ssrc: 1, name: '' }],
    ['ff ff 42 59 00 00 00 02 00 00 00 07 00 00 00 01', { kind: 'goodbye', token: 7, ssrc: 1, name: '' }],
    [
      'ff ff 43 4b 00 00 00 01 01 00 00 00 00 00 00 00 00 00 00 0a 00 00 00 01 00 00 00 00 00 00 00 00 00 00 00 00',
      { kind: 'clock', ssrc: 1, count: 1, times: [10n, 0x1_0000_0000n, 0n] },
    ],
    ['ff ff 52 53 00 00 00 01 12 34 00 00', { kind: 'feedback', ssrc: 1, sequence: 0x1234 }],
    ['ff ff 52 4c 00 00 00 01 00 00 7d 00', { kind: 'bitrate', ssrc: 1, bits: 32_000 }],
  ];

  test.each(cases)('%s', (text, command) => {
    expect(decodeSessionCommand(hex(text))).toEqual(command);
    expect(hexOf(encodeSessionCommand(command))).toBe(text);
    expect(isSessionCommand(hex(text))).toBe(true);
  });

  // What the package rtpmidi 1.0.0 from the npm registry wrote for these; it was not made by us, and is not installed here.
  test.each<[string, object]>([
    [
      'ff ff 49 4e 00 00 00 02 01 02 03 04 0a 0b 0c 0d 53 74 61 67 65 00',
      { kind: 'invitation', token: 0x1020304, ssrc: 0xa0b0c0d, name: 'Stage' },
    ],
    [
      'ff ff 4f 4b 00 00 00 02 01 02 03 04 0a 0b 0c 0d 46 72 6f 6e 74 20 6f 66 20 68 6f 75 73 65 00',
      { kind: 'accepted', token: 0x1020304, ssrc: 0xa0b0c0d, name: 'Front of house' },
    ],
    [
      'ff ff 4e 4f 00 00 00 02 01 02 03 04 0a 0b 0c 0d 00',
      { kind: 'refused', token: 0x1020304, ssrc: 0xa0b0c0d, name: '' },
    ],
    // It ends a goodbye with a 0, too.
    [
      'ff ff 42 59 00 00 00 02 01 02 03 04 0a 0b 0c 0d 00',
      { kind: 'goodbye', token: 0x1020304, ssrc: 0xa0b0c0d, name: '' },
    ],
    ['ff ff 52 53 0a 0b 0c 0d 12 34 00 00', { kind: 'feedback', ssrc: 0xa0b0c0d, sequence: 0x1234 }],
    [
      'ff ff 43 4b 0a 0b 0c 0d 02 00 00 00 00 00 00 00 00 00 00 64 00 00 00 00 00 00 00 c8 00 00 00 00 00 00 01 2c',
      { kind: 'clock', ssrc: 0xa0b0c0d, count: 2, times: [100n, 200n, 300n] },
    ],
  ])('that another package writes is read: %s', (text, command) => {
    expect(decodeSessionCommand(hex(text))).toEqual(command);
  });

  test('is never taken for an RTP packet', () => {
    expect(isSessionCommand(encodeRtp(decodeRtp(hex('80 61 12 34 00 01 02 03 de ad be ef'))))).toBe(false);
    for (const [text] of cases) expect(() => decodeRtp(hex(text))).toThrow(NetworkMidiError);
  });

  test('without the end of its name is read, and a longer name is cut between two characters', () => {
    expect(decodeSessionCommand(hex('ff ff 49 4e 00 00 00 02 00 00 00 07 00 00 00 01 51'))).toMatchObject({
      name: 'Q',
    });
    const written = encodeSessionCommand({ kind: 'accepted', token: 1, ssrc: 1, name: '\u00e9'.repeat(300) });
    expect(written).toHaveLength(16 + LONGEST_NAME);
    expect(decodeSessionCommand(written)).toMatchObject({ name: '\u00e9'.repeat(127) });
  });

  test('that breaks off, is of another version, or is unknown is refused', () => {
    for (const [text] of cases)
      for (let length = 0; length < Math.min(hex(text).length, 10); length++)
        expect(() => decodeSessionCommand(hex(text).subarray(0, length))).toThrow(NetworkMidiError);
    expect(() => decodeSessionCommand(hex('ff ff 49 4e 00 00 00 03 00 00 00 07 00 00 00 01 00'))).toThrow(
      'version',
    );
    expect(() => decodeSessionCommand(hex('ff ff 58 58 00 00 00 02'))).toThrow('nobody knows');
  });

  test('is read as it was written', () => {
    const u32 = fc.integer({ min: 0, max: 0xffff_ffff });
    const time = fc.bigInt({ min: 0n, max: 2n ** 64n - 1n });
    const name = fc.string({ unit: 'grapheme', maxLength: 40 }).map((text) => text.replaceAll('\0', ''));
    const command: fc.Arbitrary<SessionCommand> = fc.oneof(
      fc.record({ kind: fc.constantFrom(...HELLOS.slice(0, 3)), token: u32, ssrc: u32, name }),
      fc.record({
        kind: fc.constant('clock' as const),
        ssrc: u32,
        count: fc.constantFrom(0 as const, 1 as const, 2 as const),
        times: fc.tuple(time, time, time),
      }),
    );
    fc.assert(
      fc.property(command, (one) => expect(decodeSessionCommand(encodeSessionCommand(one))).toEqual(one)),
    );
  });

  test('of any bytes throws nothing else', () => {
    fc.assert(
      fc.property(bytes, fc.constantFrom('IN', 'OK', 'NO', 'BY', 'CK', 'RS', 'RL'), (rest, letters) => {
        const given = Uint8Array.from([0xff, 0xff, letters.charCodeAt(0), letters.charCodeAt(1), ...rest]);
        try {
          decodeSessionCommand(given);
        } catch (error) {
          expect(error).toBeInstanceOf(NetworkMidiError);
        }
      }),
    );
  });
});
