/** Gives every decoder bad packets. None may throw anything but its documented error. */
import { ArtNetError, decodeArtNet } from '@tawny-signal/core/dmx/artnet';
import { decodeSacn, SacnError } from '@tawny-signal/core/dmx/sacn';
import { decodeKey, KeyError } from '@tawny-signal/core/keys/key';
import { createLinkReader, LinkError } from '@tawny-signal/core/link/frames';
import { readMidiFile } from '@tawny-signal/core/midi/file';
import { createMidiParser } from '@tawny-signal/core/midi/parser';
import { createDeframer } from '@tawny-signal/core/osc/framing';
import { decodeOsc, OscError } from '@tawny-signal/core/osc/packet';
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
