/** A control in the sense of a person: a fader, a pad, a wheel, a slot, an address. Finds the control and the value of a signal. */
import { keyWords } from '../keys/codes.js';
import { noteName, type MiddleC } from '../midi/words.js';
import type { Signal } from '../signal.js';

/** `channel` 0–15, `number` as in the signal. */
export type Control =
  | { kind: 'note' | 'cc' | 'touch'; channel: number; number: number }
  | { kind: 'bend' | 'pressure' | 'program'; channel: number }
  | { kind: 'slot'; slot: number }
  | { kind: 'osc'; address: string }
  | { kind: 'key'; code: string };

export interface ControlValue {
  control: Control;
  value: number;
}

/** @returns null for messages that no control sends: clock, system-exclusive, OSC without a number */
export function controlOf(signal: Signal): ControlValue | null {
  switch (signal.kind) {
    case 'noteOn':
      return {
        control: { kind: 'note', channel: signal.channel, number: signal.number },
        value: signal.value,
      };
    case 'noteOff':
      return { control: { kind: 'note', channel: signal.channel, number: signal.number }, value: 0 };
    case 'polyPressure':
      return {
        control: { kind: 'touch', channel: signal.channel, number: signal.number },
        value: signal.value,
      };
    case 'controlChange':
      return { control: { kind: 'cc', channel: signal.channel, number: signal.number }, value: signal.value };
    case 'programChange':
      return { control: { kind: 'program', channel: signal.channel }, value: signal.number };
    case 'channelPressure':
      return { control: { kind: 'pressure', channel: signal.channel }, value: signal.value };
    case 'pitchBend':
      return { control: { kind: 'bend', channel: signal.channel }, value: signal.value };
    case 'slot':
      return { control: { kind: 'slot', slot: signal.slot }, value: signal.level };
    case 'key':
      return { control: { kind: 'key', code: signal.code }, value: signal.down ? 1 : 0 };
    case 'osc': {
      const number = signal.args.find((arg) => arg.type === 'f' || arg.type === 'i' || arg.type === 'd');
      const value = number && 'value' in number ? Number(number.value) : NaN;
      return Number.isFinite(value) ? { control: { kind: 'osc', address: signal.address }, value } : null;
    }
    case 'sysex':
    case 'system':
    case 'timecode':
      return null;
  }
}

/** Returns a signal that sets a control to a value. */
export function signalOf(control: Control, value: number): Signal {
  switch (control.kind) {
    case 'note': {
      const { channel, number } = control;
      return { kind: value === 0 ? 'noteOff' : 'noteOn', channel, number, value };
    }
    case 'cc':
      return { kind: 'controlChange', channel: control.channel, number: control.number, value };
    case 'touch':
      return { kind: 'polyPressure', channel: control.channel, number: control.number, value };
    case 'bend':
      return { kind: 'pitchBend', channel: control.channel, number: 0, value };
    case 'pressure':
      return { kind: 'channelPressure', channel: control.channel, number: 0, value };
    case 'program':
      return { kind: 'programChange', channel: control.channel, number: value, value: 0 };
    case 'slot':
      return { kind: 'slot', slot: control.slot, level: value };
    case 'osc':
      return { kind: 'osc', address: control.address, args: [{ type: 'f', value }] };
    case 'key':
      return { kind: 'key', code: control.code, down: value > 0 };
  }
}

/** The largest value of a control; null if it can only be learned from what it sends. */
export function highOfControl({ kind }: Control): number | null {
  if (kind === 'osc') return null;
  if (kind === 'slot') return 255;
  if (kind === 'bend') return 16_383;
  return kind === 'key' ? 1 : 127;
}

/** Writes a control as a part of a web address: `cc-2-21`, with channels from 1. */
export function writeControl(control: Control): string {
  switch (control.kind) {
    case 'note':
    case 'cc':
    case 'touch':
      return `${control.kind}-${control.channel + 1}-${control.number}`;
    case 'bend':
    case 'pressure':
    case 'program':
      return `${control.kind}-${control.channel + 1}`;
    case 'slot':
      return `slot-${control.slot}`;
    case 'osc':
      return `osc-${encodeURIComponent(control.address)}`;
    case 'key':
      return `key-${control.code}`;
  }
}

/** @returns null for a text that `writeControl` did not write */
export function readControl(text: string): Control | null {
  const numbered = /^(note|cc|touch)-(\d{1,2})-(\d{1,3})$/.exec(text);
  if (numbered) {
    const [, kind, channel, number] = numbered as unknown as [
      string,
      'note' | 'cc' | 'touch',
      string,
      string,
    ];
    return { kind, channel: Number(channel) - 1, number: Number(number) };
  }
  const ofChannel = /^(bend|pressure|program)-(\d{1,2})$/.exec(text);
  if (ofChannel) {
    const [, kind, channel] = ofChannel as unknown as [string, 'bend' | 'pressure' | 'program', string];
    return { kind, channel: Number(channel) - 1 };
  }
  const slot = /^slot-(\d{1,3})$/.exec(text);
  if (slot) return { kind: 'slot', slot: Number(slot[1]) };
  if (text.startsWith('key-')) return { kind: 'key', code: text.slice(4) };
  if (!text.startsWith('osc-')) return null;
  try {
    return { kind: 'osc', address: decodeURIComponent(text.slice(4)) };
  } catch {
    return null;
  }
}

export function controlWords(control: Control, middleC: MiddleC): string {
  switch (control.kind) {
    case 'note':
      return `note ${control.number} (${noteName(control.number, middleC)}) ch ${control.channel + 1}`;
    case 'touch':
      return `pressure on note ${control.number} (${noteName(control.number, middleC)}) ch ${control.channel + 1}`;
    case 'cc':
      return `CC ${control.number} ch ${control.channel + 1}`;
    case 'bend':
      return `pitch bend ch ${control.channel + 1}`;
    case 'pressure':
      return `pressure ch ${control.channel + 1}`;
    case 'program':
      return `program ch ${control.channel + 1}`;
    case 'slot':
      return `slot ${control.slot}`;
    case 'osc':
      return control.address;
    case 'key':
      return `key ${keyWords(control.code)}`;
  }
}
