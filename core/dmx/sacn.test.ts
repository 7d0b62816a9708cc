import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { Packet } from 'sacn';
import {
  decodeSacn,
  encodeSacn,
  encodeSacnDiscovery,
  isStale,
  multicastAddress,
  SacnError,
  type SacnData,
} from './sacn.js';
import { runs } from '../runs.test-helper.js';

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
    ['another name', with_(4, 0x58), 'without the identifier ASC-E1.17'],
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
      { numRuns: runs(600) },
    );
  });
});

describe('at the edges of what the standard allows', () => {
  const edited = (edit: (bytes: Uint8Array) => void, of = encodeSacn(lantern)): Uint8Array => {
    edit(of);
    return of;
  };

  // E1.31, 6.2.2: the source name is a field of 64 bytes, and what follows it is the priority.
  test('a name fills 63 bytes and no more; one without an end is read up to the priority', () => {
    const long = encodeSacn({ ...lantern, sourceName: 'x'.repeat(80) });
    expect([long[44 + 62], long[44 + 63], long[108]]).toEqual([0x78, 0, 100]);
    expect(decodeSacn(long)!.sourceName).toBe('x'.repeat(63));
    const endless = edited((bytes) => bytes.fill(0x79, 44, 108));
    expect(decodeSacn(endless)!.sourceName).toBe('y'.repeat(64));
    const noZero = edited((bytes) => bytes.fill(1, 44));
    noZero.set(encodeSacn(lantern).subarray(108, 126), 108);
    expect(decodeSacn(noZero.map((byte, at) => (at > 125 ? 1 : byte)))!.sourceName).toHaveLength(64);
    expect(decodeSacn(encodeSacn({ ...lantern, sourceName: '' }))!.sourceName).toBe('');
  });

  test('a header alone of another vector carries no data; one byte less is no header', () => {
    const head = encodeSacn(lantern).slice(0, 38);
    head[21] = 8;
    expect(decodeSacn(head)).toBeNull();
    expect(() => decodeSacn(head.slice(0, 37))).toThrow('shorter than an sACN header');
  });

  test.each([
    ['no level at all', 0],
    ['one level', 1],
    ['512 levels', 512],
  ])('%s are read', (_, count) => {
    const levels = new Uint8Array(count).fill(3);
    expect(decodeSacn(encodeSacn({ ...lantern, levels }))!.levels).toEqual(levels);
  });

  test.each<[string, (bytes: Uint8Array) => void, string]>([
    ['a count of none, not even the start code', (bytes) => bytes.fill(0, 123, 125), 'it has -1 levels'],
    ['a count of 514', (bytes) => bytes.set([2, 2], 123), 'it has 513 levels'],
    ['a priority of 201', (bytes) => (bytes[108] = 201), 'priority 201; 200 is the highest'],
    ['another framing layer', (bytes) => (bytes[43] = 1), 'layers are of another kind'],
    ['another DMP layer', (bytes) => (bytes[117] = 1), 'layers are of another kind'],
    ['another kind of address', (bytes) => (bytes[118] = 0xa2), 'layers are of another kind'],
  ])('%s is refused', (_, edit, words) => expect(() => decodeSacn(edited(edit))).toThrow(words));

  test('a priority of 200 is read; a packet is as long as it says, or longer', () => {
    expect(decodeSacn(edited((bytes) => (bytes[108] = 200)))!.priority).toBe(200);
    const good = encodeSacn({ ...lantern, levels: new Uint8Array(4) });
    expect(() => decodeSacn(good.slice(0, 129))).toThrow('says it has 4 levels, and has 3');
    expect(() => decodeSacn(good.slice(0, 125))).toThrow('breaks off');
    expect(decodeSacn(Uint8Array.from([...good, 9, 9]))!.levels).toEqual(new Uint8Array(4));
  });

  test.each([
    ['513 levels', { levels: new Uint8Array(513) }, 'a universe has 512 levels at most'],
    ['a CID of 31 digits', { cid: CID.slice(1) }, 'a CID is 32 hexadecimal digits'],
    ['a CID of 33 digits', { cid: `${CID}0` }, 'a CID is 32 hexadecimal digits'],
    ['a CID with a letter g', { cid: `g${CID.slice(1)}` }, 'a CID is 32 hexadecimal digits'],
  ])('%s are not written', (_, wrong, words) => {
    expect(() => encodeSacn({ ...lantern, ...wrong })).toThrow(words);
  });
});

describe('a universe discovery packet', () => {
  // ANSI E1.31-2018, 8.1 to 8.5, table 8-9 (from memory).
  test('has its layers where the standard has them, and its universes behind them', () => {
    const bytes = encodeSacnDiscovery(CID.toUpperCase(), 'Tawny Signal', [1, 0x1234]);
    expect(bytes.length).toBe(124);
    expect([...bytes.subarray(0, 4)]).toEqual([0x00, 0x10, 0x00, 0x00]);
    expect(Buffer.from(bytes.subarray(4, 13)).toString()).toBe('ASC-E1.17');
    expect([...bytes.subarray(16, 22)]).toEqual([0x70, 108, 0, 0, 0, 8]); // root layer: 108 bytes, extended
    expect(Buffer.from(bytes.subarray(22, 38)).toString('hex')).toBe(CID);
    expect([...bytes.subarray(38, 44)]).toEqual([0x70, 86, 0, 0, 0, 2]); // framing layer: 86 bytes, discovery
    expect(Buffer.from(bytes.subarray(44, 108)).toString()).toBe('Tawny Signal'.padEnd(64, '\0'));
    expect([...bytes.subarray(108, 112)]).toEqual([0, 0, 0, 0]);
    expect([...bytes.subarray(112, 120)]).toEqual([0x70, 12, 0, 0, 0, 1, 0, 0]); // discovery layer: page 0 of 0
    expect([...bytes.subarray(120)]).toEqual([0, 1, 0x12, 0x34]);
  });

  test('is no data, has a name of 63 bytes at most, and a CID', () => {
    const bytes = encodeSacnDiscovery(CID, 'x'.repeat(80), []);
    expect(decodeSacn(bytes)).toBeNull();
    expect([bytes[44 + 62], bytes[44 + 63], bytes[108]]).toEqual([0x78, 0, 0]);
    for (const cid of [CID.slice(1), `${CID}0`, `g${CID.slice(1)}`])
      expect(() => encodeSacnDiscovery(cid, '', [])).toThrow('a CID is 32 hexadecimal digits');
  });
});

// ANSI E1.31-2018, 6.7.2 (from memory): behind by less than 20, or the same, is too late; everything else is heard.
test('of all sequences after one, those up to 19 behind it are stale, and no others', () => {
  for (const last of [0, 7, 19, 128, 200, 255])
    for (let behind = 0; behind < 256; behind++)
      expect([last, behind, isStale(last, (last - behind) & 0xff)]).toEqual([last, behind, behind < 20]);
});
