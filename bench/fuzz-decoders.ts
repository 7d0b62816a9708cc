/** Gives every decoder bad packets. None may throw anything but its documented error. */
import { ArtNetError, decodeArtNet } from '@tawny-signal/core/dmx/artnet';
import { decodeSacn, SacnError } from '@tawny-signal/core/dmx/sacn';
import { decodeKey, KeyError } from '@tawny-signal/core/keys/key';
import { createLinkReader, LinkError } from '@tawny-signal/core/link/frames';
import { readMidiFile } from '@tawny-signal/core/midi/file';
import { createMidiParser } from '@tawny-signal/core/midi/parser';
import { createDeframer } from '@tawny-signal/core/osc/framing';
import { decodeOsc, OscError } from '@tawny-signal/core/osc/packet';
import { decodeRtp, NetworkMidiError } from '@tawny-signal/core/network-midi/rtp';
import { createSession } from '@tawny-signal/core/network-midi/session/session';
import { createStreamIn } from '@tawny-signal/core/network-midi/stream-in';
import { compilePattern, patternFault } from '@tawny-signal/core/osc/pattern';
import { spoiltPackets } from './spoilt-packets.js';

type Decoder = [name: string, decode: (bytes: Uint8Array) => void];

/** Every decoder with the error that it may throw. */
function decoders(): Decoder[] {
  const may =
    (decode: (bytes: Uint8Array) => unknown, allowed: new (...args: never[]) => Error) =>
    (bytes: Uint8Array): void => {
      try {
        decode(bytes);
      } catch (error) {
        if (!(error instanceof allowed)) throw error;
      }
    };
  const nothing = (): void => undefined;
  const parser = createMidiParser({ message: nothing, bad: nothing });
  const slip = createDeframer('slip', { packet: nothing, bad: nothing });
  const latin = new TextDecoder('latin1');
  return [
    ['OSC', may(decodeOsc, OscError)],
    ['Art-Net', may(decodeArtNet, ArtNetError)],
    ['sACN', may(decodeSacn, SacnError)],
    ['keys', may(decodeKey, KeyError)],
    ['MIDI', (bytes) => parser.feed(bytes)],
    ['SLIP', (bytes) => slip.feed(bytes)],
    ['length frames', (bytes) => createDeframer('length', { packet: nothing, bad: nothing }).feed(bytes)],
    ['network MIDI', networkMidi()],
    ['MIDI files', (bytes) => void readMidiFile(bytes)],
    [
      'the link',
      may(
        (bytes) => createLinkReader({ message: nothing, batch: nothing, portBytes: nothing }).feed(bytes),
        LinkError,
      ),
    ],
    [
      'patterns',
      (bytes) => {
        const pattern = `/${latin.decode(bytes.subarray(0, 300))}`;
        if (patternFault(pattern) === null) compilePattern(pattern)('/sky/hue/of/the/fog');
      },
    ],
  ];
}

/** A session with somebody in it who is heard, whatever is said. */
function networkMidi(): (bytes: Uint8Array) => void {
  const nothing = (): void => undefined;
  const host = { send: nothing, heard: nothing, bad: nothing, changed: nothing, random: () => 9 };
  const settings = { name: 'fuzz', ssrc: 1, firstSequence: 1, sysexLimit: 1000, mayJoin: () => true };
  const session = createSession(settings, host);
  const into = createStreamIn(1000);
  let now = 0;
  return (bytes) => {
    now++;
    for (const port of ['control', 'data'] as const) session.hear(port, { host: 'x', port: 4 }, bytes, now);
    try {
      into.take(decodeRtp(bytes), now);
    } catch (error) {
      if (!(error instanceof NetworkMidiError)) throw error;
    }
  };
}

export interface DecoderFigures {
  packets: number;
  /** Forbidden errors, with the packet in hexadecimal. */
  faults: string[];
  /** The slowest call; the fastest of four measurements of it. */
  worstMs: number;
  slowest: string;
}

/** Measures a slow call again, because the machine may have been busy. @returns the time of each call in ms */
const again = (decode: Decoder[1], bytes: Uint8Array): number[] =>
  [1, 2, 3].map(() => {
    const from = performance.now();
    try {
      decode(bytes);
    } catch {
      // The error was recorded before.
    }
    return performance.now() - from;
  });

export function fuzzDecoders(seed: number, ms: number): DecoderFigures {
  const packet = spoiltPackets(seed);
  const all = decoders();
  const figures: DecoderFigures = { packets: 0, faults: [], worstMs: 0, slowest: '' };
  const end = performance.now() + ms;
  for (let now = performance.now(); now < end;) {
    const bytes = packet();
    for (const [name, decode] of all) {
      const from = now;
      try {
        decode(bytes);
      } catch (error) {
        const hex = Buffer.from(bytes.subarray(0, 64)).toString('hex');
        if (figures.faults.length < 20) figures.faults.push(`${name}: ${String(error)} at ${hex}`);
      }
      figures.packets++;
      now = performance.now();
      if (now - from <= figures.worstMs) continue;
      const took = Math.min(now - from, ...again(decode, bytes));
      now = performance.now();
      if (took <= figures.worstMs) continue;
      figures.worstMs = took;
      figures.slowest = name;
    }
  }
  return figures;
}
