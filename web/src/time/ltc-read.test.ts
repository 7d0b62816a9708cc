/** WAV files with errors: the reader finds the timecode between the errors, and no file makes it throw. No source: the test makes the files. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { wavHeader, writeSamples } from '@tawny-signal/core/files/wav';
import { createLtcEncoder, samplesOf } from '@tawny-signal/core/timecode/ltc/encoder';
import { PART_BYTES, readLtc, type LtcAnswer } from './ltc-read';

const RATE = 48_000;

/** One second of timecode from 03:00:00:00, at 25 fps, with the beginning of the frame after it, which ends the last one. */
function timecode(): Float32Array {
  const samples = new Float32Array(samplesOf(25, '25', RATE) + 60);
  createLtcEncoder({ sampleRate: RATE, rate: '25', from: 3 * 3600 * 25, levelDb: -12 }).fill(samples);
  return samples;
}

/** The header of one channel of 32-bit floats, or with other fields. */
function header(bytes: number, fields: { kind?: number; bits?: number; channels?: number } = {}): Uint8Array {
  const { kind = 3, bits = 32, channels = 1 } = fields;
  const made = wavHeader(RATE, 0);
  const view = new DataView(made.buffer);
  view.setUint16(20, kind, true);
  view.setUint16(22, channels, true);
  view.setUint16(34, bits, true);
  view.setUint32(40, bytes, true);
  return made;
}

const read = (...parts: Uint8Array[]): Promise<LtcAnswer> =>
  readLtc({ file: new Blob(parts as Uint8Array<ArrayBuffer>[]), channel: 0 }, () => {});
const bytesOf = (samples: Float32Array): Uint8Array => new Uint8Array(samples.buffer);

describe('a WAV file', () => {
  test.each([
    ['nothing', new Uint8Array(0), /no WAV file/],
    ['text', new TextEncoder().encode('The tide turns at nine, and so do we.'), /no WAV file/],
    ['a header that breaks off', header(100).subarray(0, 30), /cut off|no samples/],
    ['no channel', header(100, { channels: 0 }), /0 channels/],
    ['a thousand channels', header(100, { channels: 1000 }), /1000 channels/],
    ['samples of 7 bits', header(100, { kind: 1, bits: 7 }), /7 bits/],
    ['something compressed', header(100, { kind: 0x55 }), /Save it as PCM/],
  ])('of %s is refused with the reason', async (_, bytes, reason) => {
    expect(await read(bytes)).toEqual({ t: 'refused', reason: expect.stringMatching(reason) });
  });

  test('that says it has more samples than it has is read to its end', async () => {
    const samples = writeSamples(timecode());
    const lying = wavHeader(RATE, 0);
    new DataView(lying.buffer).setUint32(40, 0xffff_ffff, true);
    const answer = await read(lying, samples);
    expect(answer).toMatchObject({ t: 'done', report: { rate: '25', frames: 25 } });
  });

  test.each([
    ['that are no numbers', NaN],
    ['without end', Infinity],
    ['as large as can be', 3.4e38],
  ])('of samples %s gives the timecode that is before and behind them', async (_, value) => {
    const bad = new Float32Array(RATE).map((__, n) => (n % 100 < 50 ? value : -value));
    const all = [timecode(), bad, timecode()].map(bytesOf);
    const answer = await read(header(0xffff_ffff), ...all);
    if (answer.t !== 'done') throw new Error('not read');
    const ranges = answer.report.ranges.map(({ frames }) => frames);
    expect(ranges.filter((frames) => frames === 25)).toHaveLength(2);
    expect(Number.isFinite(answer.report.levelDb)).toBe(true);
  });

  test('of any bytes behind a header throws nothing', async () => {
    const kinds = fc.constantFrom({ kind: 1, bits: 8 }, { kind: 1, bits: 24 }, { kind: 3, bits: 32 });
    await fc.assert(
      fc.asyncProperty(
        kinds,
        fc.integer({ min: 1, max: 64 }),
        fc.uint8Array({ maxLength: 4000 }),
        async (kind, channels, bytes) => {
          expect((await read(header(0xffff_ffff, { ...kind, channels }), bytes)).t).toBe('done');
        },
      ),
    );
  });

  test('is read a mebibyte at a time, and says how far it is', async () => {
    const asked: number[] = [];
    const said: number[] = [];
    const size = 8 * PART_BYTES;
    const zeros = new Uint8Array(PART_BYTES);
    const file = {
      size,
      slice: (from = 0, to = size) => {
        asked.push(to - from);
        return new Blob([from === 0 ? (header(size) as Uint8Array<ArrayBuffer>) : '', zeros]).slice(
          0,
          to - from,
        );
      },
    };
    const answer = await readLtc({ file, channel: 0 }, (part) => said.push(part));
    expect(answer).toMatchObject({ t: 'done', report: { rate: null } });
    expect(Math.max(...asked)).toBe(PART_BYTES);
    expect(said).toEqual([...said].sort((a, b) => a - b));
    expect([said.length, said.at(-1)]).toEqual([8, 1]);
  });
});
