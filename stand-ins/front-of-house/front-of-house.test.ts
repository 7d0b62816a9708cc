import { describe, expect, test } from '@jest/globals';
import { createBadAir, WAYS, type Way } from './bad-air.js';
import { createDesk } from './desk.js';
import { readJournal } from './journal.js';
import { readPacket, writePacket } from './packet.js';
import { createHouseSession } from './session.js';

const hex = (text: string): Uint8Array => Uint8Array.from(Buffer.from(text.replace(/\s/g, ''), 'hex'));

describe('the bad network of the front-of-house machine', () => {
  /** What arrives of ten packets if one of the four always happens. */
  function arriving(way: Way | null): number[] {
    const later: (() => void)[] = [];
    const air = createBadAir(
      () => 0.5,
      (_, act) => later.push(act),
    );
    if (way) air.set(way, 100);
    const arrived: number[] = [];
    for (let packet = 0; packet < 4; packet++) air.pass(() => arrived.push(packet));
    for (const act of later) act();
    return arrived;
  }

  test.each<[Way | null, number[]]>([
    [null, [0, 1, 2, 3]],
    ['lose', []],
    ['repeat', [0, 0, 1, 1, 2, 2, 3, 3]],
    ['delay', [0, 1, 2, 3]],
    ['reorder', [1, 0, 3, 2]],
  ])('with %s', (way, arrived) => {
    expect(arriving(way)).toEqual(arrived);
  });

  test('does each of them about as often as it is told, and loses nothing else', () => {
    let seed = 7;
    const chance = (): number => (seed = (seed * 48_271) % 0x7fff_ffff) / 0x7fff_ffff;
    const later: (() => void)[] = [];
    const air = createBadAir(chance, (_, act) => later.push(act));
    for (const way of WAYS) air.set(way, 10);
    let arrived = 0;
    for (let packet = 0; packet < 10_000; packet++) {
      air.pass(() => arrived++);
      if (packet % 10 === 0) for (const act of later.splice(0)) act();
    }
    for (const act of later) act();
    expect(arrived).toBe(10_000 - air.met.lose + air.met.repeat);
    for (const way of WAYS) expect(air.met[way]).toBeGreaterThan(500);
    for (const way of WAYS) expect(air.met[way]).toBeLessThan(1500);
  });
});

describe('the journal reader of the front-of-house machine', () => {
  test('finds notes and controllers among all chapters (RFC 6295, figures 8, 9, A.3.1, A.6.1)', () => {
    // A header with a system journal of 3 octets and one channel; channel 10 with P, C, M, W and N.
    const journal = hex(`60 0001  0003 ff
      48 17 f8  80 05 00  01 87 40 c0 c1  00 04 1234  8040  02 76 3c e4 3e d0`);
    expect(readJournal(journal)).toEqual([
      {
        channel: 10,
        controllers: [{ number: 7, value: 0x40 }],
        begun: [
          { number: 60, velocity: 100 },
          { number: 62, velocity: 80 },
        ],
        ended: [],
      },
    ]);
  });

  test('finds the bits of notes that ended', () => {
    const journal = hex('20 0001  00 07 08  00 78 10 01');
    expect(readJournal(journal)).toEqual([{ channel: 1, controllers: [], begun: [], ended: [59, 71] }]);
  });

  test('refuses what breaks off', () => {
    const whole = hex('20 0001  00 07 08  01 f0 3c e4');
    expect(readJournal(whole)[0]!.begun).toHaveLength(1);
    for (let length = 0; length < whole.length; length++)
      expect(() => readJournal(whole.subarray(0, length))).toThrow('a journal that breaks off');
  });
});

describe('the front-of-house machine', () => {
  const packet = (sequence: number, commands: number[][], journal = '') => ({
    sequence,
    ssrc: 1,
    commands,
    journal: journal ? hex(journal) : null,
  });
  /** Note 60 on channel 1 has ended. */
  const ENDED = '20 0001  00 06 08  00 77 08';

  test('plays, and passes over what comes twice or after a later one', () => {
    const desk = createDesk();
    desk.take(
      packet(65_535, [
        [0x90, 60, 100],
        [0xb0, 7, 9],
      ]),
      readJournal,
    );
    desk.take(packet(0, [[0x90, 62, 0]]), readJournal);
    expect(desk.take(packet(65_535, [[0x80, 60, 0]]), readJournal)).toEqual([]);
    expect(desk.take(packet(0, [[0x80, 60, 0]]), readJournal)).toEqual([]);
    expect(desk.state()).toEqual({
      notes: [{ channel: 1, number: 60, velocity: 100 }],
      faders: [{ channel: 1, number: 7, value: 9 }],
      packets: 4,
      lost: 0,
      madeGood: 0,
      passedOver: 2,
    });
  });

  test('releases what ended in a packet that is missing, and asks no journal where none is', () => {
    const desk = createDesk();
    desk.take(packet(1, [[0x90, 60, 100]]), readJournal);
    desk.take(packet(2, [[0x90, 62, 100]], ENDED), readJournal);
    expect(desk.state().notes).toHaveLength(2);
    desk.take(packet(4, [], ENDED), readJournal);
    expect(desk.state()).toMatchObject({ notes: [{ number: 62 }], lost: 1, madeGood: 1 });
    desk.begin();
    expect(desk.state().notes).toEqual([]);
  });

  test('reads delta times, running status and system-exclusive parts (RFC 6295, section 3)', () => {
    const header = '80 61 0005 00000001 00000007';
    const list = '00 90 3c 64 81 00 3e 64 05 f8 00 f0 01 02 f7 00 c0 05';
    const read = readPacket(hex(`${header} a0 13 ${list}`));
    expect(read).toEqual({
      sequence: 5,
      ssrc: 7,
      journal: null,
      commands: [[0x90, 60, 100], [0x90, 62, 100], [0xf8], [0xf0, 1, 2, 0xf7], [0xc0, 5]],
    });
    expect(readPacket(writePacket(9, 3, 77, [0x90, 1, 2]))).toEqual({
      sequence: 3,
      ssrc: 9,
      journal: null,
      commands: [[0x90, 1, 2]],
    });
  });

  test('answers invitations and clocks, and who calls later takes the place', () => {
    let begun = 0;
    const session = createHouseSession(0xaa, 'House', () => begun++);
    const invitation = (ssrc: string): Uint8Array => hex(`ffff494e 00000002 00000011 ${ssrc} 53 74 00`);
    const accepted = 'ffff4f4b0000000200000011000000aa486f75736500';
    for (const port of ['control', 'data'] as const)
      expect(Buffer.from(session.hear(port, invitation('0000000b'), 5)!).toString('hex')).toBe(accepted);
    expect(session.caller(5)).toMatchObject({ name: 'St', ssrc: 0x0b });
    const clock = hex(`ffff434b 0000000b 00 000000 ${'00'.repeat(7)}63 ${'00'.repeat(16)}`);
    expect(Buffer.from(session.hear('data', clock, 100)!).toString('hex')).toBe(
      `ffff434b000000aa01000000${'00'.repeat(7)}63${'00'.repeat(6)}03e8${'00'.repeat(8)}`,
    );
    session.hear('data', invitation('0000000c'), 200);
    expect([begun, session.caller(200)?.ssrc]).toEqual([2, 0x0c]);
    expect(session.hear('data', clock, 300)).toBeNull();
    expect(session.caller(60_300)).toBeNull();
    session.hear('control', hex('ffff4259 00000002 00000011 0000000c'), 300);
    expect([begun, session.caller(300)]).toEqual([3, null]);
    for (const bad of ['ffff', 'ffff494e0000', 'ffff5858 00000002'])
      expect(session.hear('control', hex(bad), 0)).toBeNull();
  });
});
