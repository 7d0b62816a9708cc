/** The link between engine and server. Its form is our own, so the checks are its own table and a property: any split of the stream reads the same. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { batchFrame, createLinkReader, LinkError, messageFrame, portFrame } from './frames.js';

type Seen = ['message', unknown] | ['batch', number[]] | ['port', number, number, number[]];

function reading(): { feed: (bytes: Uint8Array) => void; seen: Seen[] } {
  const seen: Seen[] = [];
  const reader = createLinkReader({
    message: (json) => seen.push(['message', JSON.parse(json)]),
    batch: (bytes) => seen.push(['batch', [...bytes]]),
    portBytes: (carrier, port, bytes) => seen.push(['port', carrier, port, [...bytes]]),
  });
  return { feed: (bytes) => reader.feed(bytes), seen };
}

const one: fc.Arbitrary<Seen> = fc.oneof(
  fc.jsonValue({ maxDepth: 2 }).map((value): Seen => ['message', JSON.parse(JSON.stringify(value))]),
  fc.array(fc.nat(255), { maxLength: 40 }).map((bytes): Seen => ['batch', bytes]),
  fc
    .tuple(fc.nat(0xffff_ffff), fc.nat(255), fc.array(fc.nat(255), { maxLength: 40 }))
    .map(([carrier, port, bytes]): Seen => ['port', carrier, port, bytes]),
);

function bytesOf(what: Seen): Uint8Array {
  if (what[0] === 'message') return messageFrame(what[1]);
  if (what[0] === 'batch') return batchFrame(Uint8Array.from(what[1]));
  return portFrame(what[1], what[2], Uint8Array.from(what[3]));
}

describe('frames on the link', () => {
  test('a note from a browser’s port is its bytes with a head of fourteen', () => {
    // 1.5 as a 32-bit float (IEEE 754) is 3FC00000.
    expect([...portFrame(7, 2, Uint8Array.of(0x90, 60, 100), 1.5)]).toEqual([
      13, 0, 0, 0, 3, 7, 0, 0, 0, 2, 0, 0, 0xc0, 0x3f, 0x90, 60, 100,
    ]);
  });

  test('read the same however the stream is split', () => {
    fc.assert(
      fc.property(
        fc.array(one, { maxLength: 8 }),
        fc.array(fc.integer({ min: 1, max: 30 }), { minLength: 1 }),
        (all, cuts) => {
          const stream = Uint8Array.from(all.flatMap((what) => [...bytesOf(what)]));
          const { feed, seen } = reading();
          for (let at = 0, cut = 0; at < stream.length; cut++) {
            const end = at + cuts[cut % cuts.length]!;
            feed(stream.subarray(at, end));
            at = end;
          }
          expect(seen).toEqual(all);
        },
      ),
    );
  });

  test('one that is larger than what is set aside for it at first is read whole, and so is what follows', () => {
    const large = Uint8Array.from({ length: 300_000 }, (_, at) => at % 251);
    const stream = Buffer.concat([batchFrame(large), messageFrame('after')]);
    const { feed, seen } = reading();
    for (let at = 0; at < stream.length; at += 50_001) feed(stream.subarray(at, at + 50_001));
    expect(seen.length).toBe(2);
    expect(Buffer.from(seen[0]![1] as number[]).equals(large)).toBe(true);
    expect(seen[1]).toEqual(['message', 'after']);
  });

  test.each([
    ['of no length', [0, 0, 0, 0]],
    ['of more than a show can have', [0, 0, 0, 0xff]],
    ['of an unknown kind', [1, 0, 0, 0, 9]],
    ['of port bytes without a port', [2, 0, 0, 0, 3, 0]],
  ])('a frame %s is refused before anything is allocated for it', (_, bytes) => {
    expect(() => reading().feed(Uint8Array.from(bytes))).toThrow(LinkError);
  });
});
