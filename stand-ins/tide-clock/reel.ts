/** Makes linear timecode as a sound file, well or badly on demand. Its frames are made by a package that is not ours. */
import JZZ from 'jzz';
import { Encoder, Frame } from 'linear-timecode';
import { FPS, RATES, type Rate } from './clock.js';

const SAMPLE_RATE = 44_100;
const HEAD_BYTES = 44;
/** Half of full scale, in 16 bits. */
const LOUD = 16_384;
/** The whole number of frames that a second is counted in. */
const COUNTED: Record<Rate, number> = { '24': 24, '25': 25, '29.97df': 30, '30': 30 };

export interface Reel {
  /** `01:02:03:04` */
  from: string;
  rate: Rate;
  /** 0.25–4 */
  speed: number;
  /** Runs a thousandth slower than it says. */
  slow: boolean;
  /** Each frame begins up to this many ms late. */
  jitterMs: number;
  /** Silence in the middle, in ms; the timecode runs on meanwhile. */
  gapMs: number;
  /** How long it is. */
  seconds: number;
}

/** A WAV file of one channel, with 16 bits. @param random numbers from 0 to 1, for the jitter */
export function makeReel(
  { from, rate, speed, slow, jitterMs, gapMs, seconds }: Reel,
  random: () => number,
): Buffer {
  const [hours, minutes, second, frames] = from.split(/[:;]/).map(Number);
  const time = JZZ.SMPTE(RATES[rate], hours, minutes, second, frames);
  const perFrame = SAMPLE_RATE / (FPS[rate] * speed * (slow ? 1000 / 1001 : 1));
  const count = Math.floor((seconds * SAMPLE_RATE) / perFrame);
  const total = Math.round(count * perFrame);
  const silentFrom = (total - (gapMs * SAMPLE_RATE) / 1000) / 2;
  const lateBy = (): number => Math.min(perFrame * 0.3, (random() * jitterMs * SAMPLE_RATE) / 1000);
  const encoder = new Encoder(SAMPLE_RATE);
  const wav = Buffer.alloc(HEAD_BYTES + total * 2);
  writeHead(wav, total);
  let at = 0;
  for (let n = 0; n < count; n++) {
    const end = n === count - 1 ? total : Math.round((n + 1) * perFrame + lateBy());
    const frame = new Frame(COUNTED[rate]);
    frame.hours = time.getHour();
    frame.minutes = time.getMinute();
    frame.seconds = time.getSecond();
    frame.frames = time.getFrame();
    frame.dropframe = rate === '29.97df';
    // The package divides by the frame rate: this makes the frame as long as it has to be.
    encoder.rate = (end - at) * COUNTED[rate];
    const isSilent = gapMs > 0 && at >= silentFrom && at < total - silentFrom;
    encoder.encode(frame).forEach((sample, i) => {
      wav.writeInt16LE(isSilent ? 0 : Math.sign(sample) * LOUD, HEAD_BYTES + (at + i) * 2);
    });
    at = end;
    time.incrFrame();
  }
  return wav;
}

function writeHead(wav: Buffer, samples: number): void {
  wav.write('RIFF', 0);
  wav.writeUInt32LE(36 + samples * 2, 4);
  wav.write('WAVEfmt ', 8);
  wav.writeUInt32LE(16, 16);
  wav.writeUInt16LE(1, 20);
  wav.writeUInt16LE(1, 22);
  wav.writeUInt32LE(SAMPLE_RATE, 24);
  wav.writeUInt32LE(SAMPLE_RATE * 2, 28);
  wav.writeUInt16LE(2, 32);
  wav.writeUInt16LE(16, 34);
  wav.write('data', 36);
  wav.writeUInt32LE(samples * 2, 40);
}
