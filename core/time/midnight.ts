/** Where a day ends and the next one begins: sources count from 0 again. */
import { FRAME_RATES } from '../timecode/frame-rate.js';
import { framesPerDay, msOf } from '../timecode/timecode.js';

/** How long a day is in ms: it depends on the frame rate. */
const DAYS_MS = [...new Set(FRAME_RATES.map((rate) => msOf(framesPerDay(rate), rate)))];

/** Whether a position that has moved by `off` ms has gone on over midnight. @param near how far it may be off, in ms */
export const isOverMidnight = (off: number, near: number): boolean =>
  DAYS_MS.some((day) => Math.abs(off + day) <= near);
