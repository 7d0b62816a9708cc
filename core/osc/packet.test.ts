import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { fromBuffer, toBuffer, type OscPacketInput } from 'osc-min';
import type { OscArgument, OscSignal } from '../signal.js';
import {
  decodeOsc,
  encodeOsc,
  encodeOscBundle,
  encodeOscInto,
  IMMEDIATELY,
  OscError,
  oscLength,
} from './packet.js';
import { runs } from '../runs.test-helper.js';

const hex = (text: string): Uint8Array =>
  Uint8Array.from(text.trim().split(/\s+/), (byte) => parseInt(byte, 16));

// Open Sound Control 1.0 Specification, "Examples of OSC Messages" (from memory: the text was not at hand).
describe('the worked examples of the specification, byte for byte', () => {
  const first = hex(`
    2f 6f 73 63  69 6c 6c 61  74 6f 72 2f  34 2f 66 72  65 71 75 65  6e 63 79 00
    2c 66 00 00  43 dc 00 00`);
  const oscillator: OscSignal = {
    kind: 'osc',
    address: '/oscillator/4/frequency',
    args: [{ type: 'f', value: 440 }],
  };

  test('/oscillator/4/frequency with 440.0', () => {
    expect(encodeOsc(oscillator)).toEqual(first);
    expect(decodeOsc(first)).toEqual([{ signal: oscillator, timeTag: IMMEDIATELY }]);
  });

  const second = hex(`
    2f 66 6f 6f  00 00 00 00  2c 69 69 73  66 66 00 00
    00 00 03 e8  ff ff ff ff  68 65 6c 6c  6f 00 00 00  3f 9d f3 b6  40 b5 b2 2d`);
  const foo: OscSignal = {
    kind: 'osc',
    address: '/foo',
    args: [
      { type: 'i', value: 1000 },
      { type: 'i', value: -1 },
      { type: 's', value: 'hello' },
      { type: 'f', value: Math.fround(1.234) },
      { type: 'f', value: Math.fround(5.678) },
    ],
  };

  test('/foo with 1000, -1, "hello", 1.234 and 5.678', () => {
    expect(encodeOsc(foo)).toEqual(second);
    expect(decodeOsc(second)).toEqual([{ signal: foo, timeTag: IMMEDIATELY }]);
  });
});

const addresses = fc
  .array(fc.stringMatching(/^[a-z0-9_]{1,12}$/), { minLength: 1, maxLength: 4 })
  .map((parts) => `/${parts.join('/')}`);
const texts = fc.string({ maxLength: 40 }).filter((text) => !text.includes('\0'));
const args = fc.oneof(
  fc.integer({ min: -(2 ** 31), max: 2 ** 31 - 1 }).map((value): OscArgument => ({ type: 'i', value })),
  fc.float({ noNaN: true }).map((value): OscArgument => ({ type: 'f', value })),
  fc.double({ noNaN: true }).map((value): OscArgument => ({ type: 'd', value })),
  fc.bigInt({ min: -(2n ** 63n), max: 2n ** 63n - 1n }).map((value): OscArgument => ({ type: 'h', value })),
  texts.map((value): OscArgument => ({ type: 's', value })),
  fc.uint8Array({ maxLength: 30 }).map((value): OscArgument => ({ type: 'b', value })),
  fc.constantFrom<OscArgument>({ type: 'T' }, { type: 'F' }, { type: 'N' }, { type: 'I' }),
);
const messages = fc
  .record({ address: addresses, args: fc.array(args, { maxLength: 8 }) })
  .map((message): OscSignal => ({ kind: 'osc', ...message }));

describe('any message', () => {
  test('comes back as it went in, its length a multiple of four', () => {
    fc.assert(
      fc.property(messages, (message) => {
        const bytes = encodeOsc(message);
        expect(bytes.length % 4).toBe(0);
        expect(decodeOsc(bytes)).toEqual([{ signal: message, timeTag: IMMEDIATELY }]);
      }),
    );
  });

  test('comes back out of a bundle, in order, with the bundle’s time', () => {
    const tag = (3_900_000_000n << 32n) | 0x8000_0000n;
    fc.assert(
      fc.property(fc.array(messages, { maxLength: 4 }), (list) => {
        expect(decodeOsc(encodeOscBundle(list, tag))).toEqual(
          list.map((signal) => ({ signal, timeTag: tag })),
        );
      }),
    );
  });
});

/** What the other package calls our types. */
const NAMES = {
  i: 'integer',
  f: 'float',
  d: 'double',
  s: 'string',
  b: 'blob',
  T: 'true',
  F: 'false',
  N: 'null',
  I: 'bang',
} as const;
type Shared = Exclude<OscArgument, { type: 'h' }>;
const shared = args.filter((arg): arg is Shared => arg.type !== 'h');

/** As the other package hands it over: numbers and texts as they are, blobs as DataViews. */
function plain(value: unknown): unknown {
  if (value instanceof DataView || value instanceof Uint8Array) {
    return [...new Uint8Array(value.buffer, value.byteOffset, value.byteLength)];
  }
  return value;
}

// Independent check: the package osc-min, both ways.
describe('with an OSC package that is not ours', () => {
  test('it reads what we write', () => {
    fc.assert(
      fc.property(addresses, fc.array(shared, { maxLength: 6 }), (address, list) => {
        const packet = fromBuffer(encodeOsc({ kind: 'osc', address, args: list }));
        if (packet.oscType !== 'message') throw new Error('read as a bundle');
        expect(packet.address).toBe(address);
        expect(packet.args.map((arg) => (arg as { type: string }).type)).toEqual(
          list.map((arg) => NAMES[arg.type]),
        );
        packet.args.forEach((arg, at) => {
          const ours = list[at]!;
          if ('value' in ours) expect(plain((arg as { value: unknown }).value)).toEqual(plain(ours.value));
        });
      }),
    );
  });

  test('we read what it writes', () => {
    fc.assert(
      fc.property(addresses, fc.array(shared, { maxLength: 6 }), (address, list) => {
        const theirs = list.map((arg) => {
          if (!('value' in arg)) return { type: NAMES[arg.type] };
          const value = arg.type === 'b' ? new DataView(Uint8Array.from(arg.value).buffer) : arg.value;
          return { type: NAMES[arg.type], value };
        });
        const view = toBuffer({ oscType: 'message', address, args: theirs } as OscPacketInput);
        const bytes = new Uint8Array(view.buffer, view.byteOffset, view.byteLength);
        expect(decodeOsc(bytes)).toEqual([
          { signal: { kind: 'osc', address, args: list }, timeTag: IMMEDIATELY },
        ]);
      }),
    );
  });

  test('it reads our bundles, and we its', () => {
    const message: OscSignal = { kind: 'osc', address: '/tide/height', args: [{ type: 'f', value: 0.5 }] };
    const theirs = fromBuffer(encodeOscBundle([message, message]));
    expect(theirs.oscType).toBe('bundle');
    const written = toBuffer({
      timetag: [0, 1],
      elements: [{ address: '/tide/height', args: [{ type: 'float', value: 0.5 }] }],
    });
    expect(
      decodeOsc(new Uint8Array(written.buffer, written.byteOffset, written.byteLength)).map(
        ({ signal }) => signal,
      ),
    ).toEqual([message]);
  });
});

describe('what is no OSC', () => {
  test.each([
    ['nothing at all', []],
    ['three bytes', [0x2f, 0x61, 0]],
    ['an address without a slash', [0x61, 0x62, 0x63, 0, 0x2c, 0, 0, 0]],
    ['an address without an end', [0x2f, 0x61, 0x62, 0x63]],
    ['a missing argument', [0x2f, 0x61, 0, 0, 0x2c, 0x66, 0, 0]],
    ['an unknown type', [0x2f, 0x61, 0, 0, 0x2c, 0x51, 0, 0]],
    ['bytes left over', [0x2f, 0x61, 0, 0, 0x2c, 0, 0, 0, 1, 2, 3, 4]],
    ['a blob that says it is huge', [0x2f, 0x61, 0, 0, 0x2c, 0x62, 0, 0, 0x7f, 0xff, 0xff, 0xff]],
  ])('%s is refused with a reason', (_, bytes) => {
    expect(() => decodeOsc(Uint8Array.from(bytes))).toThrow(OscError);
  });

  test('random and damaged packets throw an OscError and nothing else', () => {
    const damaged = fc
      .tuple(messages, fc.array(fc.tuple(fc.nat(200), fc.nat(255)), { minLength: 1, maxLength: 6 }))
      .map(([message, hits]) => {
        const bytes = encodeOsc(message);
        for (const [at, byte] of hits) bytes[at % bytes.length] = byte;
        return bytes;
      });
    fc.assert(
      fc.property(fc.oneof(fc.uint8Array({ maxLength: 200 }), damaged), (bytes) => {
        try {
          decodeOsc(bytes);
        } catch (error) {
          expect(error).toBeInstanceOf(OscError);
        }
      }),
      { numRuns: runs(1000) },
    );
  });

  test('bundles nested without end do not use up the stack', () => {
    let packet = encodeOscBundle([]);
    for (let depth = 0; depth < 200; depth++) {
      const outer = new Uint8Array(20 + packet.length);
      outer.set(encodeOscBundle([]));
      new DataView(outer.buffer).setInt32(16, packet.length);
      outer.set(packet, 20);
      packet = outer;
    }
    expect(() => decodeOsc(packet)).toThrow('bundles nested too deeply');
  });

  test.each([
    [8, null],
    [9, 'bundles nested too deeply'],
  ])('bundles nested %d deep', (depth, fault) => {
    let packet = encodeOscBundle([{ kind: 'osc', address: '/a', args: [] }]);
    for (let at = 1; at < depth; at++) {
      const outer = new Uint8Array(20 + packet.length);
      outer.set(encodeOscBundle([]));
      new DataView(outer.buffer).setInt32(16, packet.length);
      outer.set(packet, 20);
      packet = outer;
    }
    if (fault) expect(() => decodeOsc(packet)).toThrow(fault);
    else expect(decodeOsc(packet)).toHaveLength(1);
  });

  // The specification names no bound; these are ours.
  test.each([
    [1000, null],
    [1001, 'more than 1000 messages in one bundle'],
  ])('a bundle of %d messages', (count, fault) => {
    const packet = encodeOscBundle(
      Array.from({ length: count }, () => ({ kind: 'osc', address: '/a', args: [] })),
    );
    if (fault) expect(() => decodeOsc(packet)).toThrow(fault);
    else expect(decodeOsc(packet)).toHaveLength(count);
  });

  test('a message has at most 1000 arguments', () => {
    const of = (count: number): Uint8Array =>
      encodeOsc({ kind: 'osc', address: '/a', args: Array.from({ length: count }, () => ({ type: 'T' })) });
    expect(decodeOsc(of(1000))[0]!.signal.args).toHaveLength(1000);
    expect(() => decodeOsc(of(1001))).toThrow('more than 1000 arguments');
  });
});

describe('a message written where others stand', () => {
  const fog: OscSignal = { kind: 'osc', address: '/fog', args: [{ type: 's', value: 'grün' }] };

  test('has the length that oscLength gives, is padded with zeros, and changes no byte around it', () => {
    const bytes = new Uint8Array(40).fill(0xee);
    const view = new DataView(bytes.buffer);
    const length = encodeOscInto(fog, bytes, view, 8);
    expect([length, oscLength(fog)]).toEqual([20, 20]);
    expect([...bytes.subarray(0, 8), ...bytes.subarray(28)]).toEqual(Array(20).fill(0xee));
    expect(decodeOsc(bytes.slice(8, 28))[0]!.signal).toEqual(fog);
    // grün is five bytes in UTF-8, its end a zero, and two to make it eight.
    expect([...bytes.subarray(20, 28)]).toEqual([0x67, 0x72, 0xc3, 0xbc, 0x6e, 0, 0, 0]);
  });

  test('fits to the last byte, and is not begun where it does not', () => {
    const exact = new Uint8Array(20);
    expect(encodeOscInto(fog, exact, new DataView(exact.buffer), 0)).toBe(20);
    const short = new Uint8Array(23);
    expect(() => encodeOscInto(fog, short, new DataView(short.buffer), 4)).toThrow(
      'no room for an OSC message',
    );
    expect([...short]).toEqual(Array(23).fill(0));
  });
});

// OSC 1.0, "OSC Messages": older programs may leave the type tags out, and "OSC Bundles": elements are multiples of four.
describe('what may be left out, and what may not', () => {
  const bundle = (...elements: number[][]): Uint8Array =>
    Uint8Array.from([
      ...[0x23, 0x62, 0x75, 0x6e, 0x64, 0x6c, 0x65, 0, 0, 0, 0, 0, 0, 0, 0, 1],
      ...elements.flat(),
    ]);
  const message = [0x2f, 0x61, 0, 0];

  test('a message without type tags has no arguments', () => {
    expect(decodeOsc(Uint8Array.from(message))[0]!.signal).toEqual({ kind: 'osc', address: '/a', args: [] });
  });

  test.each<[string, number[][], string]>([
    ['of size 0', [[0, 0, 0, 0]], 'of a wrong size'],
    ['of size -4', [[0xff, 0xff, 0xff, 0xfc], message], 'of a wrong size'],
    ['of size 3', [[0, 0, 0, 3], message], 'of a wrong size'],
    ['longer than the bundle', [[0, 0, 0, 8], message], 'of a wrong size'],
    ['whose size breaks off after another one', [[0, 0, 0, 4], message, [0, 0, 0, 4]], 'of a wrong size'],
  ])('an element %s is refused', (_, elements, words) => {
    expect(() => decodeOsc(bundle(...elements))).toThrow(words);
  });

  test('a bundle of none is none; one element is as long as the rest', () => {
    expect(decodeOsc(bundle())).toEqual([]);
    expect(decodeOsc(bundle([0, 0, 0, 4], message))).toHaveLength(1);
  });

  test.each<[string, number[], string]>([
    ['tags without a comma', [...message, 0x66, 0, 0, 0], 'do not begin with a comma'],
    ['another word with #', [0x23, 0x62, 0, 0], 'neither a message nor a bundle'],
    ['a blob of negative length', [...message, 0x2c, 0x62, 0, 0, 0xff, 0xff, 0xff, 0xff], 'a blob longer'],
    ['a blob of five in four bytes', [...message, 0x2c, 0x62, 0, 0, 0, 0, 0, 5, 1, 2, 3, 4], 'a blob longer'],
    ['a number of two bytes', [...message, 0x2c, 0x64, 0, 0, 0, 0, 0, 0], 'an argument that breaks off'],
  ])('%s is refused', (_, bytes, words) => {
    expect(() => decodeOsc(Uint8Array.from(bytes))).toThrow(words);
  });

  test('a long text, and one that is not plain, come back', () => {
    for (const value of ['x'.repeat(127), 'x'.repeat(128), 'ü'.repeat(200), '\u007f']) {
      const signal: OscSignal = { kind: 'osc', address: '/a', args: [{ type: 's', value }] };
      expect(decodeOsc(encodeOsc(signal))[0]!.signal).toEqual(signal);
    }
  });
});
