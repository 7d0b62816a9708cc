/**
 * MIDI machine control (MMC 1.0, RP-013, from memory): `F0 7F <device> 06 <command> … F7`. Device 7F is every device.
 *
 * | command | bytes                          |
 * |---------|--------------------------------|
 * | 01      | stop                           |
 * | 02      | play                           |
 * | 03      | deferred play                  |
 * | 09      | pause                          |
 * | 44      | locate: 06 01 hh mm ss ff sf   |
 */
import type { SysexSignal } from '../signal.js';
import { RATE_OF_CODE, RATES, type FrameRate } from './frame-rate.js';
import { exists, partsOf } from './timecode.js';
import type { Timecode } from './mtc.js';

export const MACHINE_ACTS = ['stop', 'play', 'deferredPlay', 'pause', 'locate'] as const;
export type MachineAct = (typeof MACHINE_ACTS)[number];

const COMMANDS: Readonly<Record<MachineAct, number>> = {
  stop: 0x01,
  play: 0x02,
  deferredPlay: 0x03,
  pause: 0x09,
  locate: 0x44,
};

export const EVERY_DEVICE = 0x7f;

export type MachineCommand = { act: Exclude<MachineAct, 'locate'> } | { act: 'locate'; to: Timecode };

/** @param device 0–127; 127 for every device */
export function machineCommand(
  act: Exclude<MachineAct, 'locate'>,
  device: number = EVERY_DEVICE,
): SysexSignal {
  return { kind: 'sysex', bytes: Uint8Array.of(0xf0, 0x7f, device, 0x06, COMMANDS[act], 0xf7) };
}

/** The command to go to a frame. */
export function locateCommand(frame: number, rate: FrameRate, device: number = EVERY_DEVICE): SysexSignal {
  const { hours, minutes, seconds, frames } = partsOf(frame, rate);
  const first = (RATES[rate].code << 5) | hours;
  return {
    kind: 'sysex',
    bytes: Uint8Array.of(
      0xf0,
      0x7f,
      device,
      0x06,
      0x44,
      0x06,
      0x01,
      first,
      minutes,
      seconds,
      frames,
      0,
      0xf7,
    ),
  };
}

/** Reads a command. @returns null for any other message, for other commands, and for times that do not exist */
export function readMachineCommand(bytes: Uint8Array): MachineCommand | null {
  if (bytes.length < 6 || bytes[0] !== 0xf0 || bytes[1] !== 0x7f || bytes[3] !== 0x06) return null;
  const act = MACHINE_ACTS.find((one) => COMMANDS[one] === bytes[4]);
  if (!act) return null;
  if (act !== 'locate') return bytes.length === 6 ? { act } : null;
  if (bytes.length !== 13 || bytes[5] !== 0x06 || bytes[6] !== 0x01) return null;
  const code = (bytes[7]! >> 5) & 3;
  const parts = {
    hours: bytes[7]! & 0x1f,
    minutes: bytes[8]!,
    seconds: bytes[9]!,
    frames: bytes[10]! & 0x1f,
  };
  return exists(parts, RATE_OF_CODE[code]!) ? { act, to: { parts, code } } : null;
}
