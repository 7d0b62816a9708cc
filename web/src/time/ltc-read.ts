/** Reads a WAV file of linear timecode part by part, so that hours of it need no memory. */
import { readSamples, readWavHeader } from '@tawny-signal/core/files/wav';
import { createLtcDecoder } from '@tawny-signal/core/timecode/ltc/decoder';
import { createLtcReporter, type LtcReport } from '@tawny-signal/core/timecode/ltc/report';

export interface LtcAsk {
  file: Pick<Blob, 'size' | 'slice'>;
  /** Counted from 0. */
  channel: number;
}

export type LtcAnswer =
  | { t: 'progress'; part: number }
  | { t: 'done'; report: LtcReport; channels: number; sampleRate: number; seconds: number }
  | { t: 'refused'; reason: string };

/** The first bytes, in which the header has to be. */
const HEADER_BYTES = 1 << 16;
export const PART_BYTES = 1 << 20;

/** @param say told how much was read, 0–1. @returns what is on the file, or why it is not read */
export async function readLtc(
  { file, channel }: LtcAsk,
  say: (part: number) => void,
): Promise<Exclude<LtcAnswer, { t: 'progress' }>> {
  const bytesFrom = async (from: number, to: number): Promise<Uint8Array> =>
    new Uint8Array(await file.slice(from, to).arrayBuffer());
  const header = readWavHeader(await bytesFrom(0, HEADER_BYTES), file.size);
  if (!header.ok) return { t: 'refused', reason: header.reason };
  const { format } = header;
  if (channel >= format.channels)
    return { t: 'refused', reason: `This file has ${format.channels} channels. Choose one of them.` };
  const reporter = createLtcReporter(format.sampleRate);
  const decoder = createLtcDecoder(format.sampleRate, (frame) => reporter.frame(frame, decoder.level()));
  const frameBytes = (format.bits / 8) * format.channels;
  const partBytes = Math.floor(PART_BYTES / frameBytes) * frameBytes;
  const end = format.dataAt + Math.floor(format.dataBytes / frameBytes) * frameBytes;
  for (let at = format.dataAt; at < end; at += partBytes) {
    decoder.feed(readSamples(await bytesFrom(at, Math.min(end, at + partBytes)), format, channel));
    say(Math.min(1, (at + partBytes - format.dataAt) / Math.max(1, end - format.dataAt)));
  }
  return {
    t: 'done',
    report: reporter.report(),
    channels: format.channels,
    sampleRate: format.sampleRate,
    seconds: (end - format.dataAt) / frameBytes / format.sampleRate,
  };
}
