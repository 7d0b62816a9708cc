/** What the ways to carry time are called. */
import type { TimeOutput, TimeSource } from '../show/time.js';

export const TIME_KINDS: Readonly<Record<TimeSource['kind'] | TimeOutput['kind'], string>> = {
  mtc: 'MIDI timecode',
  mmc: 'Machine control',
  clock: 'MIDI clock',
  osc: 'OSC',
};
