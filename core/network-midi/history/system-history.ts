/** What a stream has said that belongs to no channel (RFC 6295, appendices B.1 to B.5). */
import type { SYSEX_STATES, TimecodeParts } from '../journal/system-chapters.js';
import type { Said } from './said.js';

interface CountSaid extends Said {
  count: number;
}

export interface SequencerSaid extends Said {
  runs: boolean;
  /** Whether the position has been played (B.3). */
  played: boolean;
  /** In clocks: 24 a quarter note; modulo 2^19. */
  clocks: number;
  /** Whether Start was the last that began it, and Continue was not. */
  fromStart: boolean;
}

export interface TimecodeSaid extends Said {
  backward: boolean;
  complete: (Said & { quarterFrames: boolean; octets: TimecodeParts }) | null;
  partial: (Said & { point: number; nibbles: number[] }) | null;
}

export interface SysexSaid extends Said {
  /** Its number among all, counted from 1. */
  count: number;
  state: (typeof SYSEX_STATES)[number];
  /** Without F0 and F7; null for a long one, or one that is in several packets. */
  data: Uint8Array | null;
}

export interface SysexHistory {
  /** How many began, full frames of timecode too; null if that is not known any more. */
  count: number | null;
  /** The last ones, the oldest first; without full frames, which are told as timecode. */
  last: SysexSaid[];
}

export interface SystemHistory {
  packet: number;
  /** These count on when everything is reset, as the number of the reset itself does. */
  reset: CountSaid;
  tune: CountSaid;
  song: (Said & { value: number }) | null;
  activeSense: CountSaid;
  sequencer: SequencerSaid;
  timecode: TimecodeSaid;
  sysex: SysexHistory;
}

const NEVER: Readonly<Said> = { packet: -1 };
const SONG_CLOCKS = 2 ** 19;
/** A song position counts sixteenths of 6 clocks. */
export const CLOCKS_PER_POSITION = 6;
/** Frames that a timecode in quarter frames is late when it is whole (B.4). */
const LATE_FRAMES = 2;

const noSequencer = (): SequencerSaid => ({
  ...NEVER,
  runs: false,
  played: false,
  clocks: 0,
  fromStart: true,
});
const noTimecode = (): TimecodeSaid => ({ ...NEVER, backward: false, complete: null, partial: null });

export const createSystemHistory = (): SystemHistory => ({
  packet: -1,
  reset: { ...NEVER, count: 0 },
  tune: { ...NEVER, count: 0 },
  song: null,
  activeSense: { ...NEVER, count: 0 },
  sequencer: noSequencer(),
  timecode: noTimecode(),
  sysex: { count: 0, last: [] },
});

/** Everything is as after it was switched on; what is counted counts on. */
export function resetSystem(system: SystemHistory): void {
  system.song = null;
  system.sequencer = noSequencer();
  system.timecode = noTimecode();
}

function takeSequencer(said: SequencerSaid, status: number): void {
  if (status === 0xfa) Object.assign(said, { runs: true, played: false, clocks: 0, fromStart: true });
  else if (status === 0xfb) Object.assign(said, { runs: true, fromStart: false });
  else if (status === 0xfc) said.runs = false;
  else if (said.runs && !said.played) said.played = true;
  else if (said.runs) said.clocks = (said.clocks + 1) % SONG_CLOCKS;
}

const FRAMES = [24, 25, 30, 30];

/** Frames on: the eight parts as a frame some frames later. Drop-frame numbers that are left out are passed over. */
function framesOn(nibbles: readonly number[], by: number): number[] {
  const at = (part: number): number => nibbles[part]! + nibbles[part + 1]! * 16;
  const rate = (nibbles[7]! >> 1) & 3;
  let [frame, second, minute, hour] = [at(0) + by, at(2), at(4), nibbles[6]! + (nibbles[7]! & 1) * 16];
  if (frame >= FRAMES[rate]!) {
    frame -= FRAMES[rate]!;
    if (++second >= 60) {
      second = 0;
      if (++minute >= 60) {
        minute = 0;
        hour = (hour + 1) % 24;
      }
      if (rate === 2 && minute % 10 !== 0) frame += 2;
    }
  }
  const hours = hour | (rate << 5);
  return [frame, second, minute, hours].flatMap((value) => [value & 15, value >> 4]);
}

/** Eight parts of four bits as four octets, the first part in the high half (figure B.4.2). */
export const asOctets = (nibbles: readonly number[]): TimecodeParts =>
  [0, 2, 4, 6].map((at) => ((nibbles[at] ?? 0) << 4) | (nibbles[at + 1] ?? 0)) as TimecodeParts;

function takeQuarterFrame(said: TimecodeSaid, value: number, packet: number): void {
  const [part, nibble] = [value >> 4, value & 15];
  const before = said.partial;
  const goesOn = before !== null && part === before.point + (said.backward ? -1 : 1);
  if (!goesOn && part !== 0 && part !== 7) {
    said.partial = null;
    return;
  }
  if (!goesOn) said.backward = part === 7;
  const nibbles = goesOn ? before.nibbles : new Array<number>(8).fill(0);
  nibbles[part] = nibble;
  said.partial = { point: part, nibbles, packet };
  if (!goesOn || part !== (said.backward ? 0 : 7)) return;
  const whole = said.backward ? nibbles : framesOn(nibbles, LATE_FRAMES);
  said.complete = { quarterFrames: true, octets: asOctets(whole), packet };
  said.partial = null;
}

/** Full frame (MIDI timecode): F0 7F device 01 01 hours minutes seconds frames F7. */
const isFullFrame = (bytes: Uint8Array): boolean =>
  bytes.length === 10 && bytes[0] === 0xf0 && bytes[1] === 0x7f && bytes[3] === 1 && bytes[4] === 1;

/** The most messages that are kept, and the most octets of data of each. */
const MOST_KEPT = 12;
const MOST_DATA = 64;

function takeSysex(system: SystemHistory, bytes: Uint8Array, packet: number): void {
  const { sysex } = system;
  const tail = bytes[bytes.length - 1];
  if (bytes[0] === 0xf0 && sysex.count !== null) sysex.count++;
  if (isFullFrame(bytes)) {
    const octets = [...bytes.subarray(5, 9)] as TimecodeParts;
    system.timecode = { ...noTimecode(), complete: { quarterFrames: false, octets, packet }, packet };
    return;
  }
  if (bytes[0] === 0xf0) {
    const isWhole = tail === 0xf7 && bytes.length > 2 && bytes.length <= MOST_DATA + 2;
    const data = isWhole ? bytes.slice(1, -1) : null;
    sysex.last.push({ count: sysex.count ?? 0, packet, state: 'finished', data });
    if (sysex.last.length > MOST_KEPT) sysex.last.shift();
  }
  const said = sysex.last.at(-1);
  if (!said) return;
  said.packet = packet;
  said.state =
    tail === 0xf0 ? 'unfinished' : tail === 0xf4 ? 'cancelled' : tail === 0xf5 ? 'dropped' : 'finished';
}

/** Takes a command that belongs to no channel, or a part of a system-exclusive message. */
export function takeSystemCommand(system: SystemHistory, bytes: Uint8Array, packet: number): void {
  const status = bytes[0]!;
  system.packet = packet;
  const counts = (said: CountSaid): void => {
    said.count++;
    said.packet = packet;
  };
  switch (status) {
    case 0xf1:
      takeQuarterFrame(system.timecode, bytes[1]!, packet);
      system.timecode.packet = packet;
      return;
    case 0xf2:
      Object.assign(system.sequencer, { played: false, packet });
      system.sequencer.clocks = (bytes[1]! + bytes[2]! * 128) * CLOCKS_PER_POSITION;
      return;
    case 0xf3:
      system.song = { value: bytes[1]!, packet };
      return;
    case 0xf6:
      return counts(system.tune);
    case 0xf8:
    case 0xfa:
    case 0xfb:
    case 0xfc:
      takeSequencer(system.sequencer, status);
      system.sequencer.packet = packet;
      return;
    case 0xfe:
      return counts(system.activeSense);
    case 0xff:
      return counts(system.reset);
    case 0xf0:
    case 0xf7:
      return takeSysex(system, bytes, packet);
  }
}
