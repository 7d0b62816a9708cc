/** What the readers of hears share. */
import { NO_PARTS, type Heard } from '../mapping/heard.js';
import type { Read } from './kind.js';
import { wantsValue, type HearParts } from './parts.js';

/** Fills in what was heard where it has no open parts. */
export function fillPlain(into: Heard, value: number, number = 0, channel = 0): null {
  into.value = value;
  into.number = number;
  into.channel = channel;
  into.parts = NO_PARTS;
  return null;
}

/** Reads a message of one channel. @param anyRelease the size of a release is no matter */
export const readChannel =
  (hear: HearParts, anyRelease = false): Read =>
  (signal, into) => {
    if (!('channel' in signal)) return 'value';
    const isRelease = anyRelease && signal.kind === 'noteOff';
    if (!isRelease && !wantsValue(hear, signal.value)) return 'value';
    return fillPlain(into, signal.value, signal.number, signal.channel);
  };
