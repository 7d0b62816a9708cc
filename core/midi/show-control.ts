/**
 * MIDI show control (RP-002, MIDI Show Control 1.0 and 1.1; from memory): universal real-time system-exclusive.
 *
 * | bytes | what                                                                                  |
 * |-------|---------------------------------------------------------------------------------------|
 * | 0–1   | F0 7F                                                                                 |
 * | 2     | device: 00–6F one device, 70–7E a group, 7F all                                       |
 * | 3     | 02                                                                                    |
 * | 4     | command format: 01 lighting, 10 sound, 20 machinery, 30 video, … 7F all               |
 * | 5     | command: 01 go, 02 stop, 03 resume, 04 timed go, 05 load, 06 set, 08 all off, 09 restore, 0A reset, 0B go off, … |
 * | 6–    | of a timed go first hours, minutes, seconds, frames and hundredths of a frame; of set the control and its value, |
 * |       | two bytes of seven bits each, the low one first                                       |
 * | then  | cue number in ASCII digits and points, 00, list in the same way, 00, path; each may be left out from the end |
 * | last  | F7                                                                                    |
 */

export const SHOW_COMMANDS = {
  go: 0x01,
  stop: 0x02,
  resume: 0x03,
  timedGo: 0x04,
  load: 0x05,
  set: 0x06,
  allOff: 0x08,
  restore: 0x09,
  reset: 0x0a,
  goOff: 0x0b,
} as const;
export type ShowCommand = keyof typeof SHOW_COMMANDS;
export const SHOW_COMMAND_NAMES = Object.keys(SHOW_COMMANDS) as ShowCommand[];

export const COMMAND_WORDS: Record<ShowCommand, string> = {
  go: 'go',
  stop: 'stop',
  resume: 'resume',
  timedGo: 'timed go',
  load: 'load',
  set: 'set',
  allOff: 'all off',
  restore: 'restore',
  reset: 'reset',
  goOff: 'go off',
};

/** Command formats, the general one of each family. */
export const SHOW_FORMATS: Readonly<Record<number, string>> = {
  0x01: 'lighting',
  0x10: 'sound',
  0x20: 'machinery',
  0x30: 'video',
  0x40: 'projection',
  0x50: 'process control',
  0x60: 'pyro',
  0x7f: 'all',
};

export const ALL_DEVICES = 0x7f;

export interface ShowControl {
  /** 0–127; 127 is all devices. */
  device: number;
  /** 1–127 */
  format: number;
  /** The command's byte; not every one of the standard has a name here. */
  command: number;
  /** Digits and points; empty where none is named. */
  cue: string;
  list: string;
  /** Of a timed go: the time that the cue takes, in ms. */
  timeMs?: number;
  /** Of set: 0–16,383 each. */
  control?: number;
  value?: number;
}

const HEAD = 6;
const { go, stop, resume, timedGo, load, set, goOff } = SHOW_COMMANDS;
const NUMBERED: readonly number[] = [go, stop, resume, timedGo, load, goOff];
/** Bytes between the command and the cue. */
const TIME_BYTES = 5;
const SET_BYTES = 4;
const CUE = /^[0-9.]*$/;

/** Whether a command names a cue and a list. */
export const namesCue = (command: ShowCommand): boolean => NUMBERED.includes(SHOW_COMMANDS[command]);

// Frames are those of 30 a second, type 3 of the standard's time; hundredths of a frame follow them.
const FRAMES = 30;
const TIME_TYPE = 3 << 5;
const FRAME_RATES = [24, 25, 30, 30];

function timeBytes(ms: number): number[] {
  const hundredths = Math.round((ms * FRAMES) / 10);
  const seconds = Math.floor(hundredths / (FRAMES * 100));
  const rest = hundredths % (FRAMES * 100);
  return [
    TIME_TYPE | Math.floor(seconds / 3600),
    Math.floor(seconds / 60) % 60,
    seconds % 60,
    Math.floor(rest / 100),
    rest % 100,
  ];
}

function timeOf(bytes: Uint8Array): number {
  const [hours, minutes, seconds, frames, parts] = bytes as unknown as [
    number,
    number,
    number,
    number,
    number,
  ];
  const rate = FRAME_RATES[(hours >> 5) & 3]!;
  // Bit 5 of the frames says that what follows is a status, not hundredths.
  const hundredths = (frames & 0x20) === 0 ? parts : 0;
  const whole = (hours & 0x1f) * 3600 + (minutes & 0x3f) * 60 + (seconds & 0x3f);
  return whole * 1000 + (((frames & 0x1f) + hundredths / 100) * 1000) / rate;
}

const low7 = (value: number): number => value & 0x7f;
const high7 = (value: number): number => (value >> 7) & 0x7f;

/** Where the value of a set stands in the message. */
export const SET_VALUE_AT = HEAD + 2;

/** @returns null for system-exclusive that is not show control, or whose cue is not written in digits and points. */
export function decodeShowControl(bytes: Uint8Array): ShowControl | null {
  if (bytes.length < HEAD + 1 || bytes[0] !== 0xf0 || bytes[1] !== 0x7f || bytes[3] !== 0x02) return null;
  if (bytes.at(-1) !== 0xf7) return null;
  const command = bytes[5]!;
  const from = HEAD + (command === timedGo ? TIME_BYTES : command === set ? SET_BYTES : 0);
  if (bytes.length < from + 1) return null;
  const text = String.fromCharCode(...bytes.subarray(from, Math.min(bytes.length - 1, from + 128)));
  const [cue = '', list = ''] = NUMBERED.includes(command) ? text.split('\0') : [];
  if (!CUE.test(cue) || !CUE.test(list)) return null;
  const said: ShowControl = { device: bytes[2]!, format: bytes[4]!, command, cue, list };
  if (command === timedGo) said.timeMs = timeOf(bytes.subarray(HEAD, from));
  if (command === set) {
    said.control = bytes[HEAD]! | (bytes[HEAD + 1]! << 7);
    said.value = bytes[SET_VALUE_AT]! | (bytes[SET_VALUE_AT + 1]! << 7);
  }
  return said;
}

/** @throws RangeError for a cue or list that is not written in digits and points. */
export function encodeShowControl(said: ShowControl): Uint8Array {
  const { device, format, command, cue, list, timeMs = 0, control = 0, value = 0 } = said;
  if (!CUE.test(cue) || !CUE.test(list)) throw new RangeError('a cue is written in digits and points');
  const text = NUMBERED.includes(command) ? (list === '' ? cue : `${cue}\0${list}`) : '';
  const before =
    command === timedGo
      ? timeBytes(timeMs)
      : command === set
        ? [low7(control), high7(control), low7(value), high7(value)]
        : [];
  const head = [0xf0, 0x7f, low7(device), 0x02, low7(format), low7(command), ...before];
  return Uint8Array.from([...head, ...Array.from(text, (char) => char.charCodeAt(0)), 0xf7]);
}

/** `show control: lighting go, cue 4.5 list 1, device 16` */
export function describeShowControl(said: ShowControl): string {
  const { device, format, command, cue, list, timeMs, control, value } = said;
  const name = (Object.keys(SHOW_COMMANDS) as ShowCommand[]).find((key) => SHOW_COMMANDS[key] === command);
  const parts = [
    `show control: ${SHOW_FORMATS[format] ?? `format ${format}`} ${name ? COMMAND_WORDS[name] : `command ${command}`}`,
  ];
  if (timeMs !== undefined) parts.push(`in ${Number((timeMs / 1000).toFixed(2))} s`);
  if (control !== undefined) parts.push(`control ${control} to ${value}`);
  if (cue) parts.push(list ? `cue ${cue} list ${list}` : `cue ${cue}`);
  parts.push(device === ALL_DEVICES ? 'all devices' : `device ${device}`);
  return parts.join(', ');
}
