/** Makes bad packets, always the same for the same seed. */
import fc from 'fast-check';
import { dice } from '@tawny-signal/core/dice';
import { encodeArtDmx } from '@tawny-signal/core/dmx/artnet';
import { encodeSacn } from '@tawny-signal/core/dmx/sacn';
import { encodeSessionCommand, HELLOS } from '@tawny-signal/core/network-midi/session-command';
import { createStreamOut } from '@tawny-signal/core/network-midi/stream-out';
import { encodeOsc, encodeOscBundle } from '@tawny-signal/core/osc/packet';

/** Packets of network MIDI: all commands of a session, and notes and messages with what was lost before them. */
function sessionPackets(messages: readonly Uint8Array[]): Uint8Array[] {
  const named = HELLOS.map((kind) => encodeSessionCommand({ kind, token: 5, ssrc: 7, name: 'fuzz' }));
  const out = createStreamOut(7, 1);
  const played = messages.flatMap((data, at) => {
    const sevenBit = data.map((byte) => byte & 0x7f);
    const bytes =
      at % 3 === 0 ? Uint8Array.of(0xf0, ...sevenBit, 0xf7) : Uint8Array.of(0x90 | (at % 16), at, 80);
    return out.packets([{ at, bytes }], at);
  });
  const times: [bigint, bigint, bigint] = [1n, 2n, 3n];
  return [
    ...named,
    ...([0, 1, 2] as const).map((count) => encodeSessionCommand({ kind: 'clock', ssrc: 7, count, times })),
    encodeSessionCommand({ kind: 'feedback', ssrc: 7, sequence: 3 }),
    ...played,
  ];
}

/**
 * Good packets of each protocol, made by fast-check from the seed, to be spoilt.
 * @returns the next packet, which is likely to get far: a good one with some of it changed, or noise
 */
export function spoiltPackets(seed: number): () => Uint8Array {
  const roll = dice(seed);
  const int = (below: number): number => Math.floor(roll() * below);
  const address = fc.stringMatching(/^\/[a-z*?{},[\]/-]{0,40}$/);
  const argument = fc.oneof(
    fc.record({ type: fc.constant('f' as const), value: fc.float() }),
    fc.record({ type: fc.constant('s' as const), value: fc.string({ maxLength: 20 }) }),
    fc.record({ type: fc.constant('b' as const), value: fc.uint8Array({ maxLength: 40 }) }),
    fc.record({ type: fc.constant('T' as const) }),
  );
  const message = fc.record({
    kind: fc.constant('osc' as const),
    address,
    args: fc.array(argument, { maxLength: 5 }),
  });
  const osc = fc.sample(message, { seed, numRuns: 300 }).map(encodeOsc);
  const bundles = fc
    .sample(fc.array(message, { maxLength: 20 }), { seed, numRuns: 100 })
    .map((list) => encodeOscBundle(list));
  const levels = Uint8Array.from({ length: 512 }, () => int(256));
  const dmx = [
    encodeArtDmx(7, 1, levels),
    encodeSacn({
      cid: '00112233445566778899aabbccddeeff',
      sourceName: 'fuzz',
      priority: 100,
      sequence: 1,
      universe: 7,
      preview: false,
      terminated: false,
      startCode: 0,
      levels,
    }),
  ];
  const midi = fc.sample(fc.uint8Array({ maxLength: 200 }), { seed, numRuns: 100 });
  const good = [...osc, ...bundles, ...dmx, ...midi, ...sessionPackets(midi)];

  function spoilt(): Uint8Array {
    const bytes = good[int(good.length)]!.slice();
    for (let changes = int(4); changes > 0 && bytes.length > 0; changes--)
      bytes[int(bytes.length)] = int(256);
    return roll() < 0.2 ? bytes.subarray(0, int(bytes.length + 1)) : bytes;
  }
  function noise(): Uint8Array {
    const length = roll() < 0.001 ? 60_000 : int(300);
    const bytes = new Uint8Array(length);
    const fill = roll() < 0.3 ? int(256) : -1;
    for (let at = 0; at < length; at++) bytes[at] = fill < 0 ? int(256) : fill;
    return bytes;
  }
  return () => (roll() < 0.8 ? spoilt() : noise());
}
