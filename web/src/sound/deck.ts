/** One sound line that is open in this browser: its device in and out, with timecode read and played on the audio thread. */
import type { LineOf } from '@tawny-signal/core/show/line';
import { createHeading } from '@tawny-signal/core/timecode/ltc/heading';
import { decodeTimecode, encodeTimecode } from '@tawny-signal/core/timecode/signal';
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

  const heading = createHeading();

  return {
    in: device.inputId !== null,
    out: device.outputId !== null,
    play(bytes) {
      const told = decodeTimecode(bytes);
      if (!told) return;
      const now = performance.now();
      const here = heading.take(told, now);
      if (!here) return ask({ t: 'follow', position: null });
      const playedS = clock.playedAt(now);
      if (playedS === null) return;
      const { frame, perMs, code } = here;
      const atSample = playedS * context.sampleRate;
      ask({ t: 'follow', position: { frame, atSample, speed: (perMs * 1000) / context.sampleRate, code } });
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
