/** A MIDI channel message as a package that is not ours reads it. */
import { deserializeSingleEvent, Stream } from 'midifile-ts';

export interface Note {
  pressed: boolean;
  /** 1–16 */
  channel: number;
  number: number;
  velocity: number;
}

/** @returns null for what is no note. @throws for what is no MIDI */
export function readNote(bytes: Uint8Array): Note | null {
  const event = deserializeSingleEvent(new Stream([...bytes]), 0);
  if (event.type !== 'channel') return null;
  switch (event.subtype) {
    case 'noteOn':
    case 'noteOff': {
      const { channel, noteNumber: number, velocity } = event;
      const pressed = event.subtype === 'noteOn' && velocity > 0;
      return { pressed, channel: channel + 1, number, velocity };
    }
    default:
      return null;
  }
}
