/** MIDI messages in the words that people use for them. Channels are shown 1–16. */
import type { MidiSignal } from '../signal.js';
import { describeUniversal } from './universal.js';

const NAMES = ['C', 'C#', 'D', 'D#', 'E', 'F', 'F#', 'G', 'G#', 'A', 'A#', 'B'];

/** The octave of note 60, the middle C. Programs differ, so each show chooses one. */
export type MiddleC = 3 | 4 | 5;

/** The name of a note number 0–127, such as `C#3`. Common practice: note 60 is the middle C. */
export function noteName(number: number, middleC: MiddleC): string {
  return `${NAMES[number % 12]}${Math.floor(number / 12) - 5 + middleC}`;
}

/**
 * A note as people type it: `60`, `C#3`, `Db3`, in the show's choice of middle C.
 * @returns the number 0–127, or null if it is neither.
 */
export function parseNote(text: string, middleC: MiddleC): number | null {
  const trimmed = text.trim();
  if (/^\d{1,3}$/.test(trimmed)) {
    const number = Number(trimmed);
    return number <= 127 ? number : null;
  }
  const match = /^([A-Ga-g])([#b♯♭]?)(-?\d{1,2})$/.exec(trimmed);
  if (!match) return null;
  const step = NAMES.indexOf(match[1]!.toUpperCase());
  const shift = match[2] === '' ? 0 : match[2] === '#' || match[2] === '♯' ? 1 : -1;
  const number = (Number(match[3]) + 5 - middleC) * 12 + step + shift;
  return number >= 0 && number <= 127 ? number : null;
}

const SYSTEM_WORDS: Record<number, string> = {
  0xf1: 'timecode quarter frame',
  0xf2: 'song position',
  0xf3: 'song select',
  0xf6: 'tune request',
  0xf8: 'clock',
  0xfa: 'start',
  0xfb: 'continue',
  0xfc: 'stop',
  0xfe: 'active sensing',
  0xff: 'system reset',
};

export function describeMidi(signal: MidiSignal, middleC: MiddleC): string {
  switch (signal.kind) {
    case 'sysex':
      return describeUniversal(signal.bytes) ?? `system-exclusive, ${signal.bytes.length} bytes`;
    case 'system':
      return SYSTEM_WORDS[signal.status] ?? `status ${signal.status.toString(16).toUpperCase()}`;
    case 'noteOn':
      return `note ${signal.number} (${noteName(signal.number, middleC)}) ch ${signal.channel + 1} pressed, force ${signal.value}`;
    case 'noteOff':
      return `note ${signal.number} (${noteName(signal.number, middleC)}) ch ${signal.channel + 1} released`;
    case 'polyPressure':
      return `pressure on note ${signal.number} (${noteName(signal.number, middleC)}) ch ${signal.channel + 1} = ${signal.value}`;
    case 'controlChange':
      return `CC ${signal.number} ch ${signal.channel + 1} = ${signal.value}`;
    case 'programChange':
      return `program ${signal.number} ch ${signal.channel + 1}`;
    case 'channelPressure':
      return `pressure ch ${signal.channel + 1} = ${signal.value}`;
    case 'pitchBend':
      return `pitch bend ch ${signal.channel + 1} = ${signal.value - 8192}`;
  }
}
