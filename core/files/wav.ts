/**
 * WAV files of PCM sound (Microsoft and IBM, Multimedia Programming Interface and Data Specifications 1.0, and WAVE_FORMAT_EXTENSIBLE; from memory).
 *
 * | bytes | what                                                             |
 * |-------|------------------------------------------------------------------|
 * | 0–3   | `RIFF`, then the size of the rest (32 bits, low byte first)       |
 * | 8–11  | `WAVE`, then chunks: a name of four letters, a size, its content  |
 * | `fmt `| format 1 (PCM), 3 (float) or FFFE; channels; samples a second; bytes a second; bytes a frame; bits |
 * | `data`| the samples, channels in turns                                    |
 */

export interface WavFormat {
  sampleRate: number;
  channels: number;
  bits: 8 | 16 | 24 | 32;
  float: boolean;
  /** Where the samples begin in the file. */
  dataAt: number;
  /** Bytes of samples. */
  dataBytes: number;
}

export type WavRead = { ok: true; format: WavFormat } | { ok: false; reason: string };

const HEADER_BYTES = 44;
const wrong = (reason: string): WavRead => ({ ok: false, reason });
/** A header with more chunks than this before its samples is no file of sound that we read. */
const MOST_CHUNKS = 100;

const lettersOf = (view: DataView, at: number): string =>
  String.fromCharCode(view.getUint8(at), view.getUint8(at + 1), view.getUint8(at + 2), view.getUint8(at + 3));

/** Reads the beginning of a file. @param bytes its first bytes, up to some kB. @param fileBytes the size of the whole file */
export function readWavHeader(bytes: Uint8Array, fileBytes: number): WavRead {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.length < 12 || lettersOf(view, 0) !== 'RIFF' || lettersOf(view, 8) !== 'WAVE')
    return wrong('This is no WAV file. Choose one that ends with .wav.');
  let format: Omit<WavFormat, 'dataAt' | 'dataBytes'> | null = null;
  let at = 12;
  for (let chunks = 0; chunks < MOST_CHUNKS && at + 8 <= bytes.length; chunks++) {
    const name = lettersOf(view, at);
    const size = view.getUint32(at + 4, true);
    const content = at + 8;
    if (name === 'fmt ') {
      if (size < 16 || content + size > bytes.length) return wrong('The format of this WAV file is cut off.');
      const read = formatOf(view, content, size);
      if (typeof read === 'string') return wrong(read);
      format = read;
    }
    if (name === 'data') {
      if (!format) return wrong('This WAV file does not say its format before its samples.');
      return {
        ok: true,
        format: { ...format, dataAt: content, dataBytes: Math.min(size, fileBytes - content) },
      };
    }
    at = content + size + (size % 2);
  }
  return wrong('There are no samples in this WAV file.');
}

const EXTENSIBLE = 0xfffe;

function formatOf(
  view: DataView,
  at: number,
  size: number,
): Omit<WavFormat, 'dataAt' | 'dataBytes'> | string {
  const given = view.getUint16(at, true);
  // The longer form has the format in the first two bytes of its identifier.
  const kind = given === EXTENSIBLE && size >= 26 ? view.getUint16(at + 24, true) : given;
  const channels = view.getUint16(at + 2, true);
  const sampleRate = view.getUint32(at + 4, true);
  const bits = view.getUint16(at + 14, true);
  if (kind !== 1 && kind !== 3) return 'This WAV file is compressed. Save it as PCM.';
  if (![8, 16, 24, 32].includes(bits) || (kind === 3 && bits !== 32))
    return `Samples of ${bits} bits are not read. Save it with 16 or 24 bits.`;
  if (channels < 1 || channels > 64) return `A WAV file with ${channels} channels is not read.`;
  if (sampleRate < 8000 || sampleRate > 384_000) return `${sampleRate} samples a second are not read.`;
  return { sampleRate, channels, bits: bits as WavFormat['bits'], float: kind === 3 };
}

/** Samples of one channel, -1 to 1, from whole frames of a file. @param bytes cut at a frame. @param channel counted from 0 */
export function readSamples(
  bytes: Uint8Array,
  { channels, bits, float }: WavFormat,
  channel: number,
): Float32Array {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const width = bits / 8;
  const frames = Math.floor(bytes.length / (width * channels));
  const samples = new Float32Array(frames);
  for (let n = 0; n < frames; n++) {
    const at = (n * channels + channel) * width;
    if (float) samples[n] = view.getFloat32(at, true);
    else if (bits === 8) samples[n] = (view.getUint8(at) - 128) / 128;
    else if (bits === 16) samples[n] = view.getInt16(at, true) / 32_768;
    else if (bits === 24) samples[n] = ((view.getInt8(at + 2) << 16) | view.getUint16(at, true)) / 8_388_608;
    else samples[n] = view.getInt32(at, true) / 2_147_483_648;
  }
  return samples;
}

/** The header of a file of one channel with 24 bits. @param samples at most about 1.4 thousand million, so that the size fits in 32 bits */
export function wavHeader(sampleRate: number, samples: number): Uint8Array {
  const bytes = new Uint8Array(HEADER_BYTES);
  const view = new DataView(bytes.buffer);
  const put = (at: number, letters: string): void =>
    bytes.set(
      [...letters].map((letter) => letter.charCodeAt(0)),
      at,
    );
  const size = samples * 3;
  put(0, 'RIFF');
  view.setUint32(4, HEADER_BYTES - 8 + size + (size % 2), true);
  put(8, 'WAVEfmt ');
  view.setUint32(16, 16, true);
  view.setUint16(20, 1, true);
  view.setUint16(22, 1, true);
  view.setUint32(24, sampleRate, true);
  view.setUint32(28, sampleRate * 3, true);
  view.setUint16(32, 3, true);
  view.setUint16(34, 24, true);
  put(36, 'data');
  view.setUint32(40, size, true);
  return bytes;
}

const TOP = 8_388_607;

/** Samples as 24 bits, low byte first. */
export function writeSamples(samples: Float32Array): Uint8Array {
  const bytes = new Uint8Array(samples.length * 3);
  for (let n = 0; n < samples.length; n++) {
    const value = Math.round(Math.max(-1, Math.min(1, samples[n]!)) * TOP);
    bytes[n * 3] = value & 0xff;
    bytes[n * 3 + 1] = (value >> 8) & 0xff;
    bytes[n * 3 + 2] = (value >> 16) & 0xff;
  }
  return bytes;
}

/** The most samples that fit into one file. */
export const MOST_SAMPLES = Math.floor((0xffff_ffff - HEADER_BYTES) / 3);
