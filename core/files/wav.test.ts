/** WAV files: the header's bytes as in the Multimedia Programming Interface and Data Specifications 1.0 (from memory). */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { readSamples, readWavHeader, wavHeader, writeSamples, type WavFormat } from './wav.js';

const file = (samples: Float32Array, sampleRate = 48_000): Uint8Array => {
  const head = wavHeader(sampleRate, samples.length);
  const body = writeSamples(samples);
  const bytes = new Uint8Array(head.length + body.length);
  bytes.set(head);
  bytes.set(body, head.length);
  return bytes;
};
const formatOf = (bytes: Uint8Array): WavFormat => {
  const read = readWavHeader(bytes, bytes.length);
  if (!read.ok) throw new Error(read.reason);
  return read.format;
};

describe('a WAV file', () => {
  test('of two samples has these bytes', () => {
    const hex = [...file(Float32Array.of(1, -1))].map((byte) => byte.toString(16).padStart(2, '0')).join(' ');
    expect(hex).toBe(
      '52 49 46 46 2a 00 00 00 57 41 56 45 66 6d 74 20 10 00 00 00 01 00 01 00 80 bb 00 00 80 32 02 00 03 00 18 00 ' +
        '64 61 74 61 06 00 00 00 ff ff 7f 01 00 80',
    );
  });

  test('is read as it was written, to within a step of 24 bits', () => {
    fc.assert(
      fc.property(fc.array(fc.float({ min: -1, max: 1, noNaN: true }), { maxLength: 50 }), (values) => {
        const samples = Float32Array.from(values);
        const bytes = file(samples);
        const format = formatOf(bytes);
        expect(format).toEqual({
          sampleRate: 48_000,
          channels: 1,
          bits: 24,
          float: false,
          dataAt: 44,
          dataBytes: samples.length * 3,
        });
        readSamples(bytes.subarray(44), format, 0).forEach((value, at) =>
          expect(Math.abs(value - samples[at]!)).toBeLessThan(3e-7),
        );
      }),
    );
  });

  test('of two channels gives each of them, at any width', () => {
    const view = new DataView(new ArrayBuffer(16));
    view.setInt16(0, 16_384, true);
    view.setInt16(2, -32_768, true);
    const format = {
      sampleRate: 48_000,
      channels: 2,
      bits: 16 as const,
      float: false,
      dataAt: 0,
      dataBytes: 4,
    };
    const bytes = new Uint8Array(view.buffer);
    expect([
      readSamples(bytes.subarray(0, 4), format, 0)[0],
      readSamples(bytes.subarray(0, 4), format, 1)[0],
    ]).toEqual([0.5, -1]);
    view.setFloat32(0, 0.25, true);
    view.setFloat32(4, -0.75, true);
    expect([...readSamples(bytes.subarray(0, 8), { ...format, bits: 32, float: true }, 1)]).toEqual([-0.75]);
    expect([...readSamples(Uint8Array.of(0, 255), { ...format, bits: 8 }, 0)]).toEqual([-1]);
  });

  test('with other chunks before its samples is read', () => {
    const plain = file(Float32Array.of(0.5));
    const more = Uint8Array.of(0x4c, 0x49, 0x53, 0x54, 3, 0, 0, 0, 1, 2, 3, 0);
    const bytes = Uint8Array.from([...plain.subarray(0, 36), ...more, ...plain.subarray(36)]);
    expect(formatOf(bytes).dataAt).toBe(44 + more.length);
  });

  test.each([
    ['none', Uint8Array.of(1, 2, 3), 'This is no WAV file. Choose one that ends with .wav.'],
    [
      'a compressed one',
      file(Float32Array.of(0)).map((byte, at) => (at === 20 ? 85 : byte)),
      'This WAV file is compressed. Save it as PCM.',
    ],
    [
      'one of 12 bits',
      file(Float32Array.of(0)).map((byte, at) => (at === 34 ? 12 : byte)),
      'Samples of 12 bits are not read. Save it with 16 or 24 bits.',
    ],
    [
      'one without samples',
      file(Float32Array.of(0)).subarray(0, 36),
      'There are no samples in this WAV file.',
    ],
  ])('that is %s is refused in words', (_, bytes, reason) => {
    expect(readWavHeader(bytes, bytes.length)).toEqual({ ok: false, reason });
  });

  test('of any bytes throws nothing', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 200 }), (bytes) => {
        const riff = Uint8Array.from([0x52, 0x49, 0x46, 0x46, 0, 0, 0, 0, 0x57, 0x41, 0x56, 0x45, ...bytes]);
        expect(() => readWavHeader(riff, riff.length)).not.toThrow();
      }),
    );
  });
});
