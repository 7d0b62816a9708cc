/**
 * The one type that everything on a line is decoded into and encoded from.
 *
 * A signal says what a message means, not how it travelled: a note pressed is the same
 * signal whether it came from a socket, a browser or a file.
 */

/** Kinds of MIDI channel message, in the order of their status nibbles 8 to E (MIDI 1.0, table I). */
export const CHANNEL_KINDS = [
  'noteOff',
  'noteOn',
  'polyPressure',
  'controlChange',
  'programChange',
  'channelPressure',
  'pitchBend',
] as const;
export type ChannelKind = (typeof CHANNEL_KINDS)[number];

/**
 * A MIDI channel message. All kinds share one shape, so that the code on a signal's way stays fast.
 * - `channel` 0–15 as sent (people see 1–16)
 * - `number` 0–127: note, controller or program; 0 for channel pressure and pitch bend
 * - `value` 0–127: velocity, controller value or pressure; 0–16,383 for pitch bend (8,192 is the middle);
 *   0 for a program change
 */
export interface ChannelSignal {
  kind: ChannelKind;
  channel: number;
  number: number;
  value: number;
}

/** A whole system-exclusive message, its F0 and F7 included. */
export interface SysexSignal {
  kind: 'sysex';
  bytes: Uint8Array;
}

/** Any other MIDI system message: one status byte (F1–F6, F8–FF) and up to two data bytes, 0–127. */
export interface SystemSignal {
  kind: 'system';
  status: number;
  data1: number;
  data2: number;
}

/** An argument of an OSC message: its type tag (OSC 1.0) and what it holds. */
export type OscArgument =
  | { type: 'i' | 'f' | 'd'; value: number }
  | { type: 'h'; value: bigint }
  | { type: 's'; value: string }
  | { type: 'b'; value: Uint8Array }
  | { type: 'T' | 'F' | 'N' | 'I' };

/** An OSC message. `address` begins with a slash. */
export interface OscSignal {
  kind: 'osc';
  address: string;
  args: OscArgument[];
}

/** A slot of a DMX universe whose level changed. Its line belongs to one universe. */
export interface SlotSignal {
  kind: 'slot';
  /** 1–512 */
  slot: number;
  /** 0–255 */
  level: number;
}

/** A key of a computer's keyboard. */
export interface KeySignal {
  kind: 'key';
  /** The key's place on the keyboard: W3C UI Events KeyboardEvent code, such as `KeyG`. */
  code: string;
  down: boolean;
}

/** A frame of timecode, as it is said whole by LTC and Art-Net. */
export interface TimecodeSignal {
  kind: 'timecode';
  /** 0–23 */
  hours: number;
  minutes: number;
  seconds: number;
  frames: number;
  /** 0–3, as core/timecode/frame-rate lists it. */
  code: number;
  /** 1 for full speed, negative backward, 0 where it stands. What is heard over Art-Net says 1. */
  speed: number;
}

export type MidiSignal = ChannelSignal | SysexSignal | SystemSignal;
export type Signal = MidiSignal | OscSignal | SlotSignal | KeySignal | TimecodeSignal;

export function isChannelSignal(signal: Signal): signal is ChannelSignal {
  return 'channel' in signal;
}

export function isMidi(signal: Signal): signal is MidiSignal {
  return 'channel' in signal || signal.kind === 'sysex' || signal.kind === 'system';
}

/** Copies a signal. Whoever passes a signal on may reuse it later. */
export function copySignal(signal: Signal): Signal {
  if (signal.kind === 'sysex') return { ...signal, bytes: signal.bytes.slice() };
  if (signal.kind === 'osc') return { ...signal, args: signal.args.map((arg) => ({ ...arg })) };
  return { ...signal };
}
