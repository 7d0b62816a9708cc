import { describe, expect, test } from '@jest/globals';
import { decode as decodeElsewhere } from 'artnet-protocol/dist/protocol.js';
import {
  ArtDmx as TheirDmx,
  ArtPoll as TheirPoll,
  ArtPollReply as TheirReply,
} from 'artnet-protocol/dist/protocol.js';
import fc from 'fast-check';
import {
  ArtNetError,
  decodeArtNet,
  encodeArtDmx,
  encodeArtPoll,
  encodeArtPollReply,
  encodeArtTimecode,
} from './artnet.js';
import { FRAME_RATES, RATE_OF_CODE, RATES } from '../timecode/frame-rate.js';
import { framesPerDay, partsOf } from '../timecode/timecode.js';
import { runs } from '../runs.test-helper.js';

const universes = fc.nat(32_767);
const evenLevels = fc
  .uint8Array({ minLength: 2, maxLength: 512 })
  .filter((levels) => levels.length % 2 === 0);

// Art-Net 4 Protocol Release, "ArtDmx packet definition" (from memory).
test('a DMX packet, byte for byte', () => {
  expect([...encodeArtDmx(0x1234, 7, Uint8Array.of(255, 128))]).toEqual([
    ...[0x41, 0x72, 0x74, 0x2d, 0x4e, 0x65, 0x74, 0x00], // Art-Net
    ...[0x00, 0x50], // opcode 5000h, low byte first
    ...[0x00, 0x0e], // version 14, high byte first
    ...[7, 0], // sequence, physical
    ...[0x34, 0x12], // universe, low byte first
    ...[0x00, 0x02], // length, high byte first
    ...[255, 128],
  ]);
});

// Art-Net 4 Protocol Release, "ArtTimeCode packet definition" (from memory).
test('a timecode packet, byte for byte', () => {
  expect([...encodeArtTimecode({ hours: 1, minutes: 2, seconds: 3, frames: 4, code: 2 })]).toEqual([
    ...[0x41, 0x72, 0x74, 0x2d, 0x4e, 0x65, 0x74, 0x00], // Art-Net
    ...[0x00, 0x97], // opcode 9700h, low byte first
    ...[0x00, 0x0e], // version 14, high byte first
    ...[0, 0], // filler
    ...[4, 3, 2, 1], // frames, seconds, minutes, hours
    2, // drop-frame
  ]);
});

test('any frame of any rate comes back as it went in', () => {
  fc.assert(
    fc.property(fc.constantFrom(...FRAME_RATES), fc.nat(3_000_000), (rate, number) => {
      const { code } = RATES[rate];
      const frame = number % framesPerDay(RATE_OF_CODE[code]!);
      const told = { ...partsOf(frame, RATE_OF_CODE[code]!), code };
      expect(decodeArtNet(encodeArtTimecode(told))).toEqual({ kind: 'timecode', ...told });
    }),
  );
});

test.each<[string, Partial<Record<'hours' | 'frames' | 'code', number>>, string]>([
  ['of an hour that does not exist', { hours: 24 }, 'a timecode that does not exist: 24:0:0:0'],
  ['of a frame that does not exist', { frames: 25 }, 'a timecode that does not exist: 1:0:0:25'],
  ['of an unknown type', { code: 4 }, 'a timecode packet of type 4; types are 0 to 3'],
])('a timecode packet %s is refused', (_, change, words) => {
  const bytes = encodeArtTimecode({ hours: 1, minutes: 0, seconds: 0, frames: 0, code: 1, ...change });
  expect(() => decodeArtNet(bytes)).toThrow(new ArtNetError(words));
  expect(() => decodeArtNet(bytes.subarray(0, 18))).toThrow(ArtNetError);
});

test('an odd number of levels is filled up to an even one', () => {
  const packet = decodeArtNet(encodeArtDmx(0, 1, Uint8Array.of(1, 2, 3)));
  expect(packet).toEqual({ kind: 'dmx', universe: 0, sequence: 1, levels: Uint8Array.of(1, 2, 3, 0) });
});

test('any levels come back as they went in', () => {
  fc.assert(
    fc.property(universes, fc.nat(255), evenLevels, (universe, sequence, levels) => {
      expect(decodeArtNet(encodeArtDmx(universe, sequence, levels))).toEqual({
        kind: 'dmx',
        universe,
        sequence,
        levels,
      });
    }),
  );
});

// Independent check: the package artnet-protocol, both ways.
describe('with an Art-Net package that is not ours', () => {
  test('it reads our levels', () => {
    fc.assert(
      fc.property(universes, fc.nat(255), evenLevels, (universe, sequence, levels) => {
        const packet = decodeElsewhere(Buffer.from(encodeArtDmx(universe, sequence, levels))) as TheirDmx;
        expect([packet.universe, packet.sequence, [...packet.data]]).toEqual([
          universe,
          sequence,
          [...levels],
        ]);
      }),
    );
  });

  test('we read its levels and its poll', () => {
    fc.assert(
      fc.property(universes, fc.nat(255), evenLevels, (universe, sequence, levels) => {
        const packet = decodeArtNet(new TheirDmx(sequence, 0, universe, [...levels]).encode());
        expect(packet).toMatchObject({ kind: 'dmx', universe, sequence });
        expect(packet.kind === 'dmx' && [...packet.levels]).toEqual([...levels]);
      }),
    );
    expect(decodeArtNet(new TheirPoll(14, false, false, false, true, 0).encode())).toEqual({ kind: 'poll' });
  });

  test('it reads our poll and our reply to one', () => {
    expect(decodeElsewhere(Buffer.from(encodeArtPoll()))).toBeInstanceOf(TheirPoll);
    const reply = {
      address: [127, 0, 0, 1] as [number, number, number, number],
      shortName: 'Tawny Signal',
      longName: 'The Lantern Pier',
      universes: [0x123, 0x124],
    };
    const theirs = decodeElsewhere(Buffer.from(encodeArtPollReply(reply))) as TheirReply;
    expect(theirs).toBeInstanceOf(TheirReply);
    expect([theirs.ipAddress, theirs.port, theirs.nameShort, theirs.nameLong]).toEqual([
      '127.0.0.1',
      6454,
      'Tawny Signal',
      'The Lantern Pier',
    ]);
    expect([theirs.netSwitch, theirs.subSwitch, theirs.numberOfPorts]).toEqual([1, 2, 2]);
    expect(decodeArtNet(encodeArtPollReply(reply))).toEqual({ kind: 'pollReply', ...reply });
  });
});

describe('what is no Art-Net', () => {
  const good = encodeArtDmx(1, 1, new Uint8Array(16));
  test.each([
    ['nothing', new Uint8Array(0), 'shorter than an Art-Net header'],
    ['another protocol', new TextEncoder().encode('Art-Nut and more of it'), 'does not begin with Art-Net'],
    ['a packet that breaks off', good.slice(0, 20), 'says it has 16 levels, and has 2'],
    ['a header that breaks off', good.slice(0, 14), 'breaks off in its header'],
    [
      '600 levels',
      Uint8Array.from([...good.slice(0, 16), 2, 0x58, ...new Uint8Array(600)]),
      'says it has 600 levels',
    ],
    ['an old version', Uint8Array.from([...good.slice(0, 11), 13, ...good.slice(12)]), 'protocol version 13'],
  ])('%s is refused with a reason', (_, bytes, words) => {
    expect(() => decodeArtNet(bytes)).toThrow(words);
  });

  test('random and damaged packets throw an ArtNetError and nothing else', () => {
    const damaged = fc.array(fc.tuple(fc.nat(240), fc.nat(255)), { maxLength: 8 }).chain((hits) =>
      fc
        .constantFrom(
          good,
          encodeArtPoll(),
          encodeArtPollReply({ address: [1, 2, 3, 4], shortName: 'x', longName: 'y', universes: [1] }),
        )
        .map((packet) => {
          const bytes = packet.slice();
          for (const [at, byte] of hits) bytes[at % bytes.length] = byte;
          return bytes;
        }),
    );
    fc.assert(
      fc.property(fc.oneof(fc.uint8Array({ maxLength: 600 }), damaged), fc.nat(300), (bytes, length) => {
        try {
          decodeArtNet(bytes.slice(0, length));
        } catch (error) {
          expect(error).toBeInstanceOf(ArtNetError);
        }
      }),
      { numRuns: runs(600) },
    );
  });
});

// Art-Net 4 Protocol Release (from memory).
describe('at the edges of what the protocol allows', () => {
  const dmx = (edit: (bytes: Uint8Array) => void): Uint8Array => {
    const bytes = encodeArtDmx(1, 1, Uint8Array.of(7, 8));
    edit(bytes);
    return bytes;
  };

  test('ten bytes are a header: an opcode that is not ours comes out, and a poll needs no more', () => {
    const head = encodeArtPoll().slice(0, 10);
    expect(decodeArtNet(head)).toEqual({ kind: 'poll' });
    expect(() => decodeArtNet(head.slice(0, 9))).toThrow('shorter than an Art-Net header');
    head.set([0x34, 0x12], 8);
    expect(decodeArtNet(head)).toEqual({ kind: 'other', opcode: 0x1234 });
  });

  test('one level and 512 are read; none and 513 are refused', () => {
    const of = (count: number): Uint8Array =>
      Uint8Array.from([
        ...dmx(() => undefined).slice(0, 16),
        count >> 8,
        count & 255,
        ...new Uint8Array(600),
      ]);
    for (const count of [1, 512]) {
      const packet = decodeArtNet(of(count));
      expect(packet.kind === 'dmx' && packet.levels.length).toBe(count);
    }
    expect(() => decodeArtNet(of(0))).toThrow('says it has 0 levels');
    expect(() => decodeArtNet(of(513))).toThrow('says it has 513 levels');
    expect(decodeArtNet(of(1).slice(0, 19))).toMatchObject({ kind: 'dmx' });
    expect(() => decodeArtNet(of(1).slice(0, 18))).toThrow('says it has 1 levels, and has 0');
    expect(() => decodeArtNet(of(1).slice(0, 17))).toThrow('breaks off in its header');
  });

  test('a later version is read; the highest bit of the universe is not of it', () => {
    expect(decodeArtNet(dmx((bytes) => (bytes[11] = 15)))).toMatchObject({ kind: 'dmx' });
    expect(decodeArtNet(dmx((bytes) => bytes.set([1, 0], 10)))).toMatchObject({ kind: 'dmx' });
    expect(decodeArtNet(dmx((bytes) => (bytes[15] = 0xff)))).toMatchObject({ universe: 0x7f01 });
  });

  test('no level at all is sent as two', () => {
    expect([...encodeArtDmx(0, 1, new Uint8Array(0)).subarray(16)]).toEqual([0, 2, 0, 0]);
    expect(encodeArtDmx(0, 1, new Uint8Array(512)).length).toBe(530);
  });

  const reply = {
    address: [10, 0, 0, 7] as [number, number, number, number],
    shortName: 's'.repeat(30),
    longName: 'l'.repeat(90),
  };
  test('a reply has names of 17 and 63 letters, and four universes', () => {
    const bytes = encodeArtPollReply({ ...reply, universes: [0x1235, 0x1236, 0x1237, 0x1238, 0x1239] });
    expect([bytes.length, bytes[26 + 17], bytes[44 + 63]]).toEqual([239, 0, 0]);
    expect(decodeArtNet(bytes)).toEqual({
      kind: 'pollReply',
      address: reply.address,
      shortName: 's'.repeat(17),
      longName: 'l'.repeat(63),
      universes: [0x1235, 0x1236, 0x1237, 0x1238],
    });
    expect([...bytes.subarray(172, 174)]).toEqual([0, 4]);
    expect([...bytes.subarray(182, 186)]).toEqual([0x80, 0x80, 0x80, 0x80]);
  });

  test('of a reply the output ports count, and what was added to it over the years may be missing', () => {
    const bytes = encodeArtPollReply({ ...reply, universes: [1, 2, 3] });
    bytes[175] = 0x40; // an input
    expect(decodeArtNet(bytes)).toMatchObject({ universes: [1, 3] });
    bytes[173] = 200; // more ports than there are
    expect(decodeArtNet(bytes)).toMatchObject({ universes: [1, 3] });
    expect(decodeArtNet(bytes.slice(0, 194))).toMatchObject({ universes: [1, 3] });
    expect(() => decodeArtNet(bytes.slice(0, 193))).toThrow('a poll reply that breaks off');
    // Names without an end are as long as their fields.
    bytes.fill(0x7a, 26, 108);
    const endless = decodeArtNet(bytes);
    expect(endless).toMatchObject({ shortName: 'z'.repeat(18), longName: 'z'.repeat(64) });
    expect(decodeArtNet(encodeArtPollReply({ ...reply, universes: [] }))).toMatchObject({ universes: [] });
  });
});
