/**
 * What a stream has said on one channel, as far as it counts for what comes (the session history, RFC 6295, appendix A.1). Who sends and who receives
 * keep the same history; the journal tells one to the other.
 */
import {
  createParameterHistory,
  resetParameters,
  takeParameter,
  type ParameterHistory,
} from './parameter-history.js';
import { youngest, type Said } from './said.js';

interface Bank {
  msb: number;
  lsb: number;
  /** All controllers were reset after it. */
  reset: boolean;
}

export interface ProgramSaid extends Said {
  program: number;
  bank: Bank | null;
}

export interface ControllerSaid extends Said {
  value: number;
  /** How often it was sent. */
  count: number;
  /** How often it was switched on or off, up to this command. */
  toggles: number;
  /** Whether it is on now, and how often it was switched, also by a reset since. */
  on: boolean;
  switched: number;
}

export interface NoteSaid extends Said {
  /** 1–127; 0 once it is released. */
  velocity: number;
  /** The force of its release: 64 if none was given. */
  release: number;
  /** When it was pressed, in ms. */
  at: number;
}

export interface ChannelHistory {
  /** The last packet that said something on this channel; -1 for none. */
  packet: number;
  bank: Bank | null;
  program: ProgramSaid | null;
  controllers: Map<number, ControllerSaid>;
  parameters: ParameterHistory;
  /** 0–16383. */
  bend: (Said & { value: number }) | null;
  notes: Map<number, NoteSaid>;
  /** Presses less releases of each note (A.7.1). */
  stacked: Map<number, number>;
  pressure: (Said & { value: number }) | null;
  /** `off`: all notes were switched off after it. */
  notePressures: Map<number, Said & { value: number; off: boolean }>;
}

export const createChannelHistory = (): ChannelHistory => ({
  packet: -1,
  bank: null,
  program: null,
  controllers: new Map(),
  parameters: createParameterHistory(),
  bend: null,
  notes: new Map(),
  stacked: new Map(),
  pressure: null,
  notePressures: new Map(),
});

export const RELEASE_AS_USUAL = 64;
/** More presses of a note are not counted (A.7.1). */
const MOST_STACKED = 127;
const BANK_MSB = 0;
const BANK_LSB = 32;
export const RESET_CONTROLLERS = 121;
/** All sound off, and what switches all notes off (A.1, “N-active”). */
export const silences = (controller: number): boolean =>
  controller === 120 || (controller >= 123 && controller <= 127);
/** Pedals and switches, whose change counts and not only their value: 64–69 (A.3.2, the toggle tool). */
export const isSwitch = (controller: number): boolean => controller >= 64 && controller <= 69;
/** Channel mode messages, which are done each time that they are sent (A.3.2, the count tool). */
export const isMode = (controller: number): boolean => controller >= 120;
export const isOn = (value: number): boolean => value >= 64;

function takeNote(
  channel: ChannelHistory,
  note: number,
  velocity: number,
  release: number,
  at: number,
): void {
  const stacked = (channel.stacked.get(note) ?? 0) + (velocity > 0 ? 1 : -1);
  channel.stacked.set(note, Math.max(0, Math.min(MOST_STACKED, stacked)));
  const said = youngest(channel.notes, note, () => ({ velocity, release, at, packet: 0 }));
  said.velocity = velocity;
  said.release = release;
  said.at = at;
  said.packet = channel.packet;
}

function silence(channel: ChannelHistory): void {
  channel.notes.clear();
  channel.stacked.clear();
  channel.pressure = null;
  for (const said of channel.notePressures.values()) said.off = true;
}

function resetControllers(channel: ChannelHistory): void {
  channel.bend = null;
  channel.pressure = null;
  channel.notePressures.clear();
  resetParameters(channel.parameters);
  if (channel.bank) channel.bank = { ...channel.bank, reset: true };
  for (const [number, said] of channel.controllers) {
    if (!isSwitch(number) || !said.on) continue;
    said.on = false;
    said.switched++;
  }
}

function takeController(channel: ChannelHistory, number: number, value: number): void {
  if (takeParameter(channel.parameters, number, value, channel.packet)) return;
  const said = youngest(channel.controllers, number, () => ({
    value,
    count: 0,
    toggles: 0,
    on: false,
    switched: 0,
    packet: 0,
  }));
  said.value = value;
  said.count++;
  if (said.on !== isOn(value)) said.switched++;
  said.on = isOn(value);
  said.toggles = said.switched;
  said.packet = channel.packet;
  if (number === BANK_MSB) channel.bank = { msb: value, lsb: 0, reset: false };
  else if (number === BANK_LSB && channel.bank) channel.bank = { ...channel.bank, lsb: value };
  else if (number === RESET_CONTROLLERS) resetControllers(channel);
  else if (silences(number)) silence(channel);
}

/**
 * Takes a channel command.
 * @param bytes with its status. @param packet that it is in. @param at when, in ms
 */
export function takeChannelCommand(
  channel: ChannelHistory,
  bytes: Uint8Array,
  packet: number,
  at: number,
): void {
  channel.packet = packet;
  const [first, second] = [bytes[1]!, bytes[2] ?? 0];
  switch (bytes[0]! & 0xf0) {
    case 0x80:
      return takeNote(channel, first, 0, second, at);
    case 0x90:
      return takeNote(channel, first, second, RELEASE_AS_USUAL, at);
    case 0xa0:
      channel.notePressures.delete(first);
      channel.notePressures.set(first, { value: second, off: false, packet });
      return;
    case 0xb0:
      return takeController(channel, first, second);
    case 0xc0:
      channel.program = { program: first, bank: channel.bank, packet };
      return;
    case 0xd0:
      channel.pressure = { value: first, packet };
      return;
    default:
      channel.bend = { value: first + second * 128, packet };
  }
}
