import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { Packet } from 'sacn';
import { decodeSacn, encodeSacn, isStale, multicastAddress, SacnError, type SacnData } from './sacn.js';

const CID = '00112233445566778899aabbccddeeff';
const names = fc.string({ maxLength: 20 }).filter((name) => !name.includes('\0'));
const data = fc.record<SacnData>({
  cid: fc.uint8Array({ minLength: 16, maxLength: 16 }).map((bytes) => Buffer.from(bytes).toString('hex')),
  sourceName: names,
  priority: fc.nat(200),
  sequence: fc.nat(255),
  universe: fc.integer({ min: 1, max: 63_999 }),
  preview: fc.boolean(),
  terminated: fc.boolean(),
  startCode: fc.constant(0),
  levels: fc.uint8Array({ maxLength: 512 }),
});
const lantern: SacnData = {
  cid: CID,
  sourceName: 'Tawny Signal',
  priority: 100,
  sequence: 3,
  universe: 7,
  preview: false,
  terminated: false,
  startCode: 0,
  levels: new Uint8Array(512).fill(9),
};

// ANSI E1.31-2018, tables 4-1 to 4-3 (from memory): a packet of a full universe is 638 bytes.
test('a full universe, its layers where the standard has them', () => {
  const bytes = encodeSacn(lantern);
  expect(bytes.length).toBe(638);
  expect([...bytes.subarray(0, 22)]).toEqual([
    ...[0x00, 0x10, 0x00, 0x00],
    ...[0x41, 0x53, 0x43, 0x2d, 0x45, 0x31, 0x2e, 0x31, 0x37, 0x00, 0x00, 0x00], // ASC-E1.17
    ...[0x72, 0x6e, 0x00, 0x00, 0x00, 0x04], // root layer: 622 bytes, vector 4
  ]);
  expect([...bytes.subarray(38, 44)]).toEqual([0x72, 0x58, 0x00, 0x00, 0x00, 0x02]); // framing layer: 600 bytes
  expect([...bytes.subarray(108, 126)]).toEqual([
    ...[100, 0, 0, 3, 0, 0, 7], // priority, synchronisation, sequence, options, universe
    ...[0x72, 0x0b, 0x02, 0xa1, 0, 0, 0, 1, 0x02, 0x01, 0], // DMP layer: 523 bytes, 513 values, start code 0
  ]);
});

// ANSI E1.31-2018, 9.3.1 (from memory).
test.each([
  [1, '239.255.0.1'],
  [256, '239.255.1.0'],
  [63_999, '239.255.249.255'],
])('universe %i is heard at %s', (universe, address) => expect(multicastAddress(universe)).toBe(address));

test('any data come back as they went in', () => {
  fc.assert(fc.property(data, (packet) => expect(decodeSacn(encodeSacn(packet))).toEqual(packet)));
});

// Independent check: the package sacn, both ways.
describe('with an sACN package that is not ours', () => {
  test('it reads what we write', () => {
    fc.assert(
      fc.property(data, (ours) => {
        const theirs = new Packet(Buffer.from(encodeSacn(ours)));
        expect([theirs.universe, theirs.priority, theirs.sequence]).toEqual([
          ours.universe,
          ours.priority,
          ours.sequence,
        ]);
        expect(theirs.cid.toString('hex')).toBe(ours.cid);
        expect(theirs.sourceName.replace(/\0+$/, '')).toBe(ours.sourceName);
        expect([...(theirs.payloadAsBuffer ?? [])]).toEqual([...ours.levels]);
      }),
    );
  });

  test('we read what it writes', () => {
    const levels = fc.dictionary(fc.integer({ min: 1, max: 512 }).map(String), fc.nat(255), { maxKeys: 20 });
    fc.assert(
      fc.property(
        levels,
        fc.integer({ min: 1, max: 63_999 }),
        fc.nat(255),
        // It takes a priority of 0 for none given.
        fc.integer({ min: 1, max: 200 }),
        (payload, universe, sequence, priority) => {
          const theirs = new Packet({
            payload,
            universe,
            sequence,
            priority,
            sourceName: 'Harbour desk',
            cid: Buffer.from(CID, 'hex'),
            useRawDmxValues: true,
          });
          const ours = decodeSacn(theirs.buffer)!;
          expect(ours).toMatchObject({
            universe,
            sequence,
            priority,
            sourceName: 'Harbour desk',
            cid: CID,
            startCode: 0,
          });
          for (const [slot, level] of Object.entries(payload))
            expect(ours.levels[Number(slot) - 1]).toBe(level);
        },
      ),
    );
  });
});

// ANSI E1.31-2018, 6.7.2 (from memory).
test('a packet a little behind is stale; one far behind is a source that began anew', () => {
  expect([isStale(10, 11), isStale(255, 0), isStale(10, 200)]).toEqual([false, false, false]);
  expect([isStale(10, 10), isStale(10, 9), isStale(3, 250), isStale(30, 11)]).toEqual([
    true,
    true,
    true,
    true,
  ]);
  expect([isStale(30, 10), isStale(100, 50)]).toEqual([false, false]);
});

describe('what is no sACN', () => {
  const good = encodeSacn(lantern);
  const with_ = (at: number, ...bytes: number[]): Uint8Array =>
    Uint8Array.from([...good.slice(0, at), ...bytes, ...good.slice(at + bytes.length)]);
  test.each([
    ['nothing', new Uint8Array(0), 'shorter than an sACN header'],
    ['another preamble', with_(0, 1), 'without the preamble'],
    ['another name', with_(4, 0x58), 'not named ASC-E1.17'],
    ['a packet that breaks off', good.slice(0, 300), 'says it has 512 levels, and has 174'],
    ['a priority of 201', with_(108, 201), 'priority 201'],
    ['700 levels', with_(123, 2, 0xbd), 'says it has 700 levels'],
    ['layers of another kind', with_(118, 0), 'layers are of another kind'],
  ])('%s is refused with a reason', (_, bytes, words) => {
    expect(() => decodeSacn(bytes)).toThrow(words);
  });

  test('a packet of the standard that carries no data is none', () => {
    expect(decodeSacn(with_(18, 0, 0, 0, 8))).toBeNull();
  });

  test('random and damaged packets throw a SacnError and nothing else', () => {
    const hits = fc.array(fc.tuple(fc.nat(140), fc.nat(255)), { maxLength: 6 });
    fc.assert(
      fc.property(hits, fc.nat(638), (damage, length) => {
        const bytes = good.slice(0, length);
        for (const [at, byte] of damage) if (at < bytes.length) bytes[at] = byte;
        try {
          decodeSacn(bytes);
        } catch (error) {
          expect(error).toBeInstanceOf(SacnError);
        }
      }),
      { numRuns: 600 },
    );
  });
});
