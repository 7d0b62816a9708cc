/**
 * Our packets as another reader has them: that of the front-of-house machine, which shares no code with ours. RTP is read by the package rtp.js; the
 * journal from the figures of RFC 6295, appendix A. Notes and controllers must be right after any loss (section 4).
 */
import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { createDesk } from '../../stand-ins/front-of-house/desk.js';
import { readJournal } from '../../stand-ins/front-of-house/journal.js';
import { readPacket } from '../../stand-ins/front-of-house/packet.js';
import { createStreamOut } from './stream-out.js';

const channel = fc.nat(15);
const note = fc
  .tuple(channel, fc.nat(127), fc.nat(127))
  .map(([on, number, force]) => [0x90 + on, number, force]);
const release = fc.tuple(channel, fc.nat(127)).map(([on, number]) => [0x80 + on, number, 64]);
/** Those that are values. The others do something, or are a part of a parameter. */
const fader = fc
  .tuple(channel, fc.integer({ min: 7, max: 31 }), fc.nat(127))
  .filter(([, number]) => number !== 32)
  .map(([on, number, value]) => [0xb0 + on, number, value]);
const other = fc.oneof(
  channel.map((on) => [0xc0 + on, 5]),
  channel.map((on) => [0xe0 + on, 1, 2]),
  channel.map((on) => [0xa0 + on, 60, 9]),
  channel.map((on) => [0xb0 + on, 100, 0]),
  fc.constant<number[]>([0xf1, 0x23]),
  fc.constant<number[]>([0xf3, 4]),
);
const step = fc.record({
  commands: fc.array(fc.oneof(note, note, release, release, fader, other), { minLength: 1, maxLength: 6 }),
  isLost: fc.boolean(),
});

test('after any loss, its notes and faders are those that were sent', () => {
  fc.assert(
    fc.property(fc.array(step, { maxLength: 40 }), (steps) => {
      const out = createStreamOut(1, 65_520);
      const [far, here] = [createDesk(), createDesk()];
      steps.forEach(({ commands, isLost }, at) => {
        const sent = commands.map((bytes) => ({ at, bytes: Uint8Array.from(bytes) }));
        here.take({ sequence: at, ssrc: 1, commands, journal: null }, () => []);
        for (const bytes of out.packets(sent, at)) if (!isLost) far.take(readPacket(bytes), readJournal);
      });
      // What is lost last is told by the next packet.
      for (const bytes of out.packets([], steps.length)) far.take(readPacket(bytes), readJournal);
      const ofThese = ({ notes, faders }: ReturnType<typeof far.state>): unknown => ({
        notes: notes.map(({ channel: on, number }) => `${on} ${number}`).sort(),
        faders: faders
          .filter(({ number }) => number !== 100)
          .map((one) => Object.values(one).join(' '))
          .sort(),
      });
      expect(ofThese(far.state())).toEqual(ofThese(here.state()));
    }),
    { seed: 6295, numRuns: Number(process.env['RUNS'] ?? 1000) },
  );
});
