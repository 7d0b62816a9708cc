/** What the readers of hears share. */
import { NO_PARTS, type Heard } from '../mapping/heard.js';
import type { Read } from './kind.js';
import { valuesOf, type HearParts } from './parts.js';

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
  const [low, high] = valuesOf(hear);
  // Most mappings accept any value. Without the comparisons a message costs about 8 % less (bench a).
  if (low === -Infinity)
    return (signal, into) =>
      'channel' in signal ? fillPlain(into, signal.value, signal.number, signal.channel) : 'value';
  return (signal, into) => {
    if (!('channel' in signal)) return 'value';
    const { value } = signal;
    if ((value < low || value > high) && !(anyRelease && signal.kind === 'noteOff')) return 'value';
    return fillPlain(into, value, signal.number, signal.channel);
  };
}
