/** What the readers of hears share. */
import { NO_PARTS, type Heard } from '../mapping/heard.js';
import type { Read } from './kind.js';
import { valuesOf, wantsAnyValue, type HearParts } from './parts.js';

/** Fills in what was heard for a message without open parts. */
export function fillPlain(into: Heard, value: number, number = 0, channel = 0): null {
  into.value = value;
  into.number = number;
  into.channel = channel;
  into.parts = NO_PARTS;
  return null;
}

/** Creates a reader of channel messages. @param anyRelease true if releases are accepted whatever their velocity */
export function readChannel(hear: HearParts, anyRelease = false): Read {
  if (wantsAnyValue(hear)) return readAnyValue;
  const [low, high] = valuesOf(hear);
  return (signal, into) => {
    if (!('channel' in signal)) return 'value';
    const { value } = signal;
    if ((value < low || value > high) && !(anyRelease && signal.kind === 'noteOff')) return 'value';
    return fillPlain(into, value, signal.number, signal.channel);
  };
}

/** The reader of most mappings. */
const readAnyValue: Read = (signal, into) => {
  if (!('channel' in signal)) return 'value';
  into.value = signal.value;
  into.number = signal.number;
  into.channel = signal.channel;
  into.parts = NO_PARTS;
  return null;
};
