import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import slip from 'slip';
import { createDeframer, frame, PACKET_LIMIT, type Framing } from './framing.js';

interface Heard {
  packets: number[][];
  bad: string[];
}

function read(framing: Framing, ...pieces: Uint8Array[]): Heard {
  const heard: Heard = { packets: [], bad: [] };
  const deframer = createDeframer(framing, {
    packet: (packet) => heard.packets.push([...packet]),
    bad: (reason) => heard.bad.push(reason),
  });
  for (const piece of pieces) deframer.feed(piece);
  return heard;
}

const packets = fc.array(fc.uint8Array({ minLength: 1, maxLength: 300 }), { maxLength: 8 });
const joined = (pieces: Uint8Array[]): Uint8Array => Uint8Array.from(pieces.flatMap((piece) => [...piece]));

describe.each<Framing>(['slip', 'length'])('packets framed by %s', (framing) => {
  test('come out as they went in, however the stream is split', () => {
    fc.assert(
      fc.property(packets, fc.array(fc.nat(3000), { maxLength: 12 }), (list, cuts) => {
        const stream = joined(list.map((packet) => frame(framing, packet)));
        const ends = [
          0,
          ...cuts.map((cut) => cut % (stream.length + 1)).sort((a, b) => a - b),
          stream.length,
        ];
        const pieces = ends.slice(1).map((end, i) => stream.subarray(ends[i], end));
        expect(read(framing, ...pieces)).toEqual({ packets: list.map((packet) => [...packet]), bad: [] });
      }),
    );
  });

  test('among random bytes stop nothing', () => {
    fc.assert(
      fc.property(fc.array(fc.uint8Array({ maxLength: 200 }), { maxLength: 5 }), (pieces) => {
        const { packets: found } = read(framing, ...pieces);
        expect(found.flat().length).toBeLessThanOrEqual(joined(pieces).length);
      }),
    );
  });
});

// RFC 1055, "SLIP DRIVERS": END 192, ESC 219, ESC_END 220, ESC_ESC 221 (octal 300, 333, 334, 335).
test('SLIP escapes END and ESC as RFC 1055 says, with an END before the packet too', () => {
  expect([...frame('slip', Uint8Array.of(1, 0o300, 2, 0o333, 3))]).toEqual([
    0o300, 1, 0o333, 0o334, 2, 0o333, 0o335, 3, 0o300,
  ]);
});

// Independent check: the package slip, both ways.
describe('with a SLIP package that is not ours', () => {
  test('it reads what we write', () => {
    fc.assert(
      fc.property(packets, (list) => {
        const found: number[][] = [];
        const decoder = new slip.Decoder({ onMessage: (message: Uint8Array) => found.push([...message]) });
        for (const packet of list) decoder.decode(frame('slip', packet));
        expect(found).toEqual(list.map((packet) => [...packet]));
      }),
    );
  });

  test('we read what it writes', () => {
    fc.assert(
      fc.property(packets, (list) => {
        const stream = joined(list.map((packet) => slip.encode(packet)));
        expect(read('slip', stream).packets).toEqual(list.map((packet) => [...packet]));
      }),
    );
  });
});

describe('a broken stream', () => {
  test('of SLIP loses the broken packet only', () => {
    const good = frame('slip', Uint8Array.of(7, 8));
    expect(read('slip', Uint8Array.of(1, 0xdb, 5, 2), good)).toEqual({
      packets: [[7, 8]],
      bad: ['a SLIP escape before a byte that needs none'],
    });
  });

  test('of lengths is given up at a length that can’t be', () => {
    const heard = read(
      'length',
      Uint8Array.of(0x7f, 0xff, 0xff, 0xff, 1, 2, 3),
      frame('length', Uint8Array.of(1)),
    );
    expect(heard).toEqual({ packets: [], bad: ['a packet length of 2147483647'] });
    expect(read('length', Uint8Array.of(0xff, 0xff, 0xff, 0xff)).bad).toEqual(['a packet length of -1']);
  });

  test('without an end does not fill the memory', () => {
    const endless = new Uint8Array(PACKET_LIMIT + 10).fill(1);
    expect(read('slip', endless, Uint8Array.of(0xc0, 5, 0xc0))).toEqual({
      packets: [[5]],
      bad: ['a packet longer than 1 MiB'],
    });
  });
});

describe('at the edges', () => {
  /** What is told, with the bytes and whether the stream is lost. */
  function told(framing: Framing, ...bytes: number[]): [string, number[], boolean][] {
    const list: [string, number[], boolean][] = [];
    createDeframer(framing, {
      packet: () => undefined,
      bad: (reason, shown, lost) => list.push([reason, [...shown], lost]),
    }).feed(Uint8Array.from(bytes));
    return list;
  }

  test('an escape at the end of a packet is said once, with what was read of it; what follows is read', () => {
    expect(told('slip', 1, 2, 0xdb, 0xc0)).toEqual([['a SLIP escape at the end of a packet', [1, 2], false]]);
    expect(read('slip', Uint8Array.of(1, 0xdb, 0xc0, 5, 0xc0))).toEqual({
      packets: [[5]],
      bad: ['a SLIP escape at the end of a packet'],
    });
    // The first fault of a packet is the one that is said.
    expect(told('slip', 0xdb, 5, 0xdb, 0xc0).map(([reason]) => reason)).toEqual([
      'a SLIP escape before a byte that needs none',
    ]);
  });

  test('a length that can’t be loses the stream, and shows itself', () => {
    expect(told('length', 0, 0x20, 0, 0)).toEqual([['a packet length of 2097152', [0, 0x20, 0, 0], true]]);
  });

  test('a packet of no bytes is none, and what follows is read', () => {
    expect(read('length', Uint8Array.of(0, 0, 0, 0, 0, 0, 0, 1, 9)).packets).toEqual([[9]]);
    expect(read('slip', Uint8Array.of(0xc0, 0xc0, 0xc0, 9, 0xc0)).packets).toEqual([[9]]);
  });

  test.each<Framing>(['slip', 'length'])(
    'a packet of 1 MiB by %s is read, and one byte more is not',
    (framing) => {
      const lengths: number[] = [];
      const bad: string[] = [];
      const deframer = createDeframer(framing, {
        packet: ({ length }) => lengths.push(length),
        bad: (reason) => bad.push(reason),
      });
      deframer.feed(frame(framing, new Uint8Array(PACKET_LIMIT).fill(1)));
      expect([lengths, bad]).toEqual([[PACKET_LIMIT], []]);
      deframer.feed(frame(framing, new Uint8Array(PACKET_LIMIT + 1).fill(1)));
      expect([lengths.length, bad.length]).toEqual([1, 1]);
    },
  );
});
