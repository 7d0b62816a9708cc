/** One sound line that is open in this browser: its device in and out, with timecode read and played on the audio thread. */
import type { LineOf } from '@tawny-signal/core/show/line';
import { RATE_OF_CODE, RATES } from '@tawny-signal/core/timecode/frame-rate';
import { decodeTimecode, encodeTimecode } from '@tawny-signal/core/timecode/signal';
import { frameOf } from '@tawny-signal/core/timecode/timecode';
import { createAudioClock } from './audio-clock';
import type { LtcAsk, LtcTold } from './ltc-processor';
import processorUrl from './ltc-processor?worker&url';

export type SoundLine = LineOf<'sound-browser'>;

/** A sound device by its name. */
export interface SoundDevice {
  name: string;
  inputId: string | null;
  outputId: string | null;
}

export interface SoundLevel {
  /** 0–1 */
  peak: number;
  clips: boolean;
  channels: number;
}

export interface Deck {
  in: boolean;
  out: boolean;
  /** A frame of timecode that is to be played, as the server sent it. */
  play(bytes: Uint8Array): void;
  close(): void;
}

export interface DeckEvents {
  /** Timecode was heard. @param at when its frame began, as `performance.now` counts */
  heard(bytes: Uint8Array, at: number): void;
  level(level: SoundLevel): void;
  /** The device has gone. */
  ended(): void;
}

/** A frame that is further away than this from where it is expected is a jump. */
const JUMP_FRAMES = 1.5;
/** A speed that is steered by less than this goes on. */
const SAME_SPEED = 0.02;
/** How much a frame that came late changes what is expected: it was only held up on its way. */
const LATE_WEIGHT = 0.02;

/** What microphones do to make speech clear would destroy timecode. */
const AS_IT_IS = { echoCancellation: false, noiseSuppression: false, autoGainControl: false };

/** @throws DOMException if the device is refused, or is not there */
export async function openDeck(line: SoundLine, device: SoundDevice, events: DeckEvents): Promise<Deck> {
  const stream =
    device.inputId === null
      ? null
      : await navigator.mediaDevices.getUserMedia({
          audio: {
            ...AS_IT_IS,
            deviceId: { exact: device.inputId },
            channelCount: { ideal: line.channel + 1 },
          },
        });
  const context = new AudioContext({ latencyHint: 'interactive' });
  const stopResuming = resumeOnTouch(context);
  try {
    if (device.outputId !== null && 'setSinkId' in context)
      await (context as unknown as { setSinkId(id: string): Promise<void> }).setSinkId(device.outputId);
    await context.audioWorklet.addModule(processorUrl);
  } catch (error) {
    stopResuming();
    stream?.getTracks().forEach((track) => track.stop());
    void context.close();
    throw error;
  }
  const node = new AudioWorkletNode(context, 'ltc', {
    channelCount: Math.max(1, line.channel + 1),
    channelCountMode: stream ? 'max' : 'explicit',
    channelInterpretation: 'discrete',
    outputChannelCount: [2],
    processorOptions: { levelDb: line.levelDb },
  });
  const ask = (what: LtcAsk): void => node.port.postMessage(what);
  if (stream) context.createMediaStreamSource(stream).connect(node);
  // Without an output the node still has to be pulled.
  const end = device.outputId === null ? silence(context) : context.destination;
  node.connect(end);
  ask({ t: 'channel', channel: line.channel });
  stream?.getTracks().forEach((track) => track.addEventListener('ended', events.ended));

  const clock = createAudioClock(context);
  node.port.onmessage = ({ data }: MessageEvent<LtcTold>) => {
    if (data.t === 'level')
      return events.level({ peak: data.peak, clips: data.clips, channels: data.channels });
    const at = clock.takenInAt(data.atS);
    if (at === null) return;
    const speed = data.backward ? -1 : 1;
    events.heard(encodeTimecode({ kind: 'timecode', ...data.parts, code: data.code, speed }), at);
  };

  /** Where the position is: the frame that came with the least delay counts. Null while it stands. */
  let heading: { frame: number; at: number; speed: number; code: number } | null = null;

  return {
    in: device.inputId !== null,
    out: device.outputId !== null,
    play(bytes) {
      const told = decodeTimecode(bytes);
      if (!told) return;
      if (told.speed === 0) {
        heading = null;
        return ask({ t: 'follow', position: null });
      }
      const now = performance.now();
      const rate = RATE_OF_CODE[told.code]!;
      const frame = frameOf(told, rate);
      const perMs = (told.speed * RATES[rate].fps) / 1000;
      const expected = heading ? heading.frame + (now - heading.at) * perMs : NaN;
      // Ahead of what was expected, in the way that it runs.
      const ahead = (frame - expected) * Math.sign(perMs);
      const goesOn =
        heading?.code === told.code &&
        Math.abs(heading.speed - told.speed) < SAME_SPEED &&
        Math.abs(ahead) < JUMP_FRAMES;
      const here = !goesOn || ahead > 0 ? frame : expected + (frame - expected) * LATE_WEIGHT;
      heading = { frame: here, at: now, speed: told.speed, code: told.code };
      const playedS = clock.playedAt(now);
      if (playedS === null) return;
      const atSample = playedS * context.sampleRate;
      const speed = (perMs * 1000) / context.sampleRate;
      ask({ t: 'follow', position: { frame: here, atSample, speed, code: told.code } });
    },
    close() {
      stopResuming();
      node.port.onmessage = null;
      stream?.getTracks().forEach((track) => track.stop());
      void context.close();
    },
  };
}

function silence(context: AudioContext): AudioNode {
  const gain = context.createGain();
  gain.gain.value = 0;
  gain.connect(context.destination);
  return gain;
}

/** Browsers let a page play only after somebody has touched it. */
function resumeOnTouch(context: AudioContext): () => void {
  const resume = (): void => void context.resume().catch(() => undefined);
  resume();
  window.addEventListener('pointerdown', resume);
  window.addEventListener('keydown', resume);
  return () => {
    window.removeEventListener('pointerdown', resume);
    window.removeEventListener('keydown', resume);
  };
}
