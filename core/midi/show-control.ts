/**
 * MIDI show control (RP-002, MIDI Show Control 1.0 and 1.1; from memory): universal real-time system-exclusive.
 *
 * | bytes | what                                                                                  |
 * |-------|---------------------------------------------------------------------------------------|
 * | 0–1   | F0 7F                                                                                 |
 * | 2     | device: 00–6F one device, 70–7E a group, 7F all                                       |
 * | 3     | 02                                                                                    |
 * | 4     | command format: 01 lighting, 10 sound, 20 machinery, 30 video, … 7F all               |
 * | 5     | command: 01 go, 02 stop, 03 resume, 08 all off, 0A reset, …                           |
 * | 6–    | cue number in ASCII digits and points, 00, list in the same way, 00, path; each may be left out from the end |
 * | last  | F7                                                                                    |
 */

export const SHOW_COMMANDS = { go: 0x01, stop: 0x02, resume: 0x03, allOff: 0x08, reset: 0x0a } as const;
export type ShowCommand = keyof typeof SHOW_COMMANDS;

export const COMMAND_WORDS: Record<ShowCommand, string> = {
  go: 'go',
  stop: 'stop',
  resume: 'resume',
  allOff: 'all off',
  reset: 'reset',
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
}

const HEAD = 6;
const NUMBERED: readonly number[] = [SHOW_COMMANDS.go, SHOW_COMMANDS.stop, SHOW_COMMANDS.resume];
const CUE = /^[0-9.]*$/;

/** @returns null for system-exclusive that is not show control, or whose cue is not written in digits and points. */
export function decodeShowControl(bytes: Uint8Array): ShowControl | null {
  if (bytes.length < HEAD + 1 || bytes[0] !== 0xf0 || bytes[1] !== 0x7f || bytes[3] !== 0x02) return null;
  if (bytes.at(-1) !== 0xf7) return null;
  const command = bytes[5]!;
  const text = String.fromCharCode(...bytes.subarray(HEAD, Math.min(bytes.length - 1, HEAD + 128)));
  const [cue = '', list = ''] = NUMBERED.includes(command) ? text.split('\0') : [];
  if (!CUE.test(cue) || !CUE.test(list)) return null;
  return { device: bytes[2]!, format: bytes[4]!, command, cue, list };
}

/** @throws RangeError for a cue or list that is not written in digits and points. */
export function encodeShowControl({ device, format, command, cue, list }: ShowControl): Uint8Array {
  if (!CUE.test(cue) || !CUE.test(list)) throw new RangeError('a cue is written in digits and points');
  const text = NUMBERED.includes(command) ? (list === '' ? cue : `${cue}\0${list}`) : '';
  const bytes = new Uint8Array(HEAD + text.length + 1);
  bytes.set([0xf0, 0x7f, device & 0x7f, 0x02, format & 0x7f, command & 0x7f]);
  for (let i = 0; i < text.length; i++) bytes[HEAD + i] = text.charCodeAt(i);
  bytes[bytes.length - 1] = 0xf7;
  return bytes;
}

/** `show control: lighting go, cue 4.5 list 1, device 16` */
export function describeShowControl({ device, format, command, cue, list }: ShowControl): string {
  const name = (Object.keys(SHOW_COMMANDS) as ShowCommand[]).find((key) => SHOW_COMMANDS[key] === command);
  const parts = [
    `show control: ${SHOW_FORMATS[format] ?? `format ${format}`} ${name ? COMMAND_WORDS[name] : `command ${command}`}`,
  ];
  if (cue) parts.push(list ? `cue ${cue} list ${list}` : `cue ${cue}`);
  parts.push(device === ALL_DEVICES ? 'all devices' : `device ${device}`);
  return parts.join(', ');
}
