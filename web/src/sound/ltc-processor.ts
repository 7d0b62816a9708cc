/** Reads and plays linear timecode on the browser's audio thread. Its time is that of the sound card. */
import { createLtcListener } from '@tawny-signal/core/timecode/ltc/listener';
import { createLtcPlayer, type LtcPosition } from '@tawny-signal/core/timecode/ltc/player';
import type { TimecodeParts } from '@tawny-signal/core/timecode/timecode';

declare const sampleRate: number;
declare const currentFrame: number;
declare function registerProcessor(name: string, processor: unknown): void;
declare class AudioWorkletProcessor {
  readonly port: MessagePort;
}

/** What the page asks of the processor. */
export type LtcAsk =
  | { t: 'channel'; channel: number }
  /** The position that is played, with its time in samples of the context; null for silence. */
  | { t: 'follow'; position: LtcPosition | null };

/** What the processor tells the page. Times are in s of the context. */
export type LtcTold =
  | { t: 'frame'; parts: TimecodeParts; code: number; backward: boolean; atS: number }
  /** How loud the channel is, 0–1, and whether it is over full scale. */
  | { t: 'level'; peak: number; clips: boolean; channels: number };

/** How often the level is told, in s. */
const LEVEL_S = 0.1;
/** What is played falls silent if nothing is asked for this long, in s. */
const ALONE_S = 1;

class LtcProcessor extends AudioWorkletProcessor {
  private channel = 0;
  /** How many samples the listener was fed. */
  private fed = 0;
  /** What has to be added to a sample of the listener to have that of the context. It grows where the sound stops for a while. */
  private base = 0;
  private told = 0;
  private askedAt = -Infinity;
  private readonly player;
  private readonly listener = createLtcListener(sampleRate, ({ parts, code, backward, atSample }) =>
    this.tell({ t: 'frame', parts: { ...parts }, code, backward, atS: (this.base + atSample) / sampleRate }),
  );

  constructor({ processorOptions }: { processorOptions: { levelDb: number } }) {
    super();
    this.player = createLtcPlayer(sampleRate, processorOptions.levelDb, currentFrame);
    this.port.onmessage = ({ data }: MessageEvent<LtcAsk>) => {
      if (data.t === 'channel') this.channel = data.channel;
      else {
        this.askedAt = currentFrame / sampleRate;
        this.player.follow(data.position);
      }
    };
  }

  private tell(what: LtcTold): void {
    this.port.postMessage(what);
  }

  process([input]: Float32Array[][], [output]: Float32Array[][]): boolean {
    const nowS = currentFrame / sampleRate;
    const heard = input?.[Math.min(this.channel, input.length - 1)];
    if (heard && heard.length > 0) {
      this.base = currentFrame - this.fed;
      this.listener.feed(heard);
      this.fed += heard.length;
    }
    if (nowS - this.told >= LEVEL_S) {
      const peak = this.listener.peak();
      this.tell({ t: 'level', peak, clips: peak >= 1, channels: input?.length ?? 0 });
      this.told = nowS;
    }
    if (nowS - this.askedAt > ALONE_S) this.player.follow(null);
    const [first, ...others] = output ?? [];
    if (first) this.player.fill(first);
    for (const channel of others) channel.set(first!);
    return true;
  }
}

registerProcessor('ltc', LtcProcessor);
