/**
 * Timecode as numbers of frames and as text. A frame number counts every frame from 00:00:00:00 on, so that it can be added to; a position is real
 * time from there in ms. Positions are converted between rates by their time, never by their numbers.
 */
import type { Typed } from '../typed/range.js';
import { RATES, type FrameRate } from './frame-rate.js';

export interface TimecodeParts {
  hours: number;
  minutes: number;
  seconds: number;
  frames: number;
}

/** Numbers that drop-frame leaves out of a minute. */
export const LEFT_OUT = 2;

const inMinute = (rate: FrameRate): number => RATES[rate].base * 60 - (RATES[rate].drop ? LEFT_OUT : 0);
const inTenMinutes = (rate: FrameRate): number => inMinute(rate) * 10 + (RATES[rate].drop ? LEFT_OUT : 0);

/** The number of frames from 00:00:00:00 to 24:00:00:00. */
export const framesPerDay = (rate: FrameRate): number => inTenMinutes(rate) * 144;

/** Returns whether the numbers exist at this rate. */
export function exists({ hours, minutes, seconds, frames }: TimecodeParts, rate: FrameRate): boolean {
  const { base, drop } = RATES[rate];
  const within =
    hours >= 0 && hours < 24 && minutes >= 0 && minutes < 60 && seconds >= 0 && seconds < 60 && frames >= 0;
  if (!within || frames >= base) return false;
  return !(drop && seconds === 0 && frames < LEFT_OUT && minutes % 10 !== 0);
}

/** Returns the frame number of numbers that exist; of those that drop-frame leaves out, the next frame’s. */
export function frameOf({ hours, minutes, seconds, frames }: TimecodeParts, rate: FrameRate): number {
  const { base, drop } = RATES[rate];
  const counted = ((hours * 60 + minutes) * 60 + seconds) * base + frames;
  if (!drop) return counted;
  const isLeftOut = seconds === 0 && frames < LEFT_OUT && minutes % 10 !== 0;
  const all = hours * 60 + minutes;
  return counted - LEFT_OUT * (all - Math.floor(all / 10)) + (isLeftOut ? LEFT_OUT - frames : 0);
}

/** The numbers of a frame. Frames before the first and after the last of the day begin again at the other end. */
export function partsOf(frame: number, rate: FrameRate): TimecodeParts {
  const { base, drop } = RATES[rate];
  const day = framesPerDay(rate);
  let number = ((Math.floor(frame) % day) + day) % day;
  if (drop) {
    const tens = Math.floor(number / inTenMinutes(rate));
    const rest = number % inTenMinutes(rate);
    // The first minute of ten has all its numbers.
    const minutes = rest < base * 60 ? 0 : 1 + Math.floor((rest - base * 60) / inMinute(rate));
    number += LEFT_OUT * (tens * 9 + minutes);
  }
  return {
    hours: Math.floor(number / (base * 3600)),
    minutes: Math.floor(number / (base * 60)) % 60,
    seconds: Math.floor(number / base) % 60,
    frames: number % base,
  };
}

/** Positions are compared with this tolerance in frames, so that the time of a frame is in that frame. */
const ROUNDING = 1e-6;

/** The time in ms at which a frame begins. @param frame may have a fraction */
export const msOf = (frame: number, rate: FrameRate): number => (frame * 1000) / RATES[rate].fps;
/** The frame at a time in ms, with its fraction. */
export const framesAt = (ms: number, rate: FrameRate): number => (ms * RATES[rate].fps) / 1000;
/** The frame that is shown at a time in ms. */
export const frameAt = (ms: number, rate: FrameRate): number => Math.floor(framesAt(ms, rate) + ROUNDING);

const two = (number: number): string => String(number).padStart(2, '0');

/** `01:02:03:04`, in drop-frame `01:02:03;04`. */
export function writeTimecode(frame: number, rate: FrameRate): string {
  const { hours, minutes, seconds, frames } = partsOf(frame, rate);
  return `${two(hours)}:${two(minutes)}:${two(seconds)}${RATES[rate].drop ? ';' : ':'}${two(frames)}`;
}

export const writePosition = (ms: number, rate: FrameRate): string => writeTimecode(frameAt(ms, rate), rate);

const HOW = 'Write a timecode like 01:02:03:04: hours, minutes, seconds, frames.';

/** Reads `01:02:03:04`, `1:2:3;4`, or `01:02:03` for the first frame of a second. @returns the frame number */
export function readTimecode(text: string, rate: FrameRate): Typed<number> {
  const found = /^\s*(\d{1,2}):(\d{1,2}):(\d{1,2})(?:[:;.](\d{1,2}))?\s*$/.exec(text);
  if (!found) return { ok: false, reason: HOW };
  const [hours, minutes, seconds, frames] = found.slice(1).map((part) => Number(part ?? 0)) as [
    number,
    number,
    number,
    number,
  ];
  const parts = { hours, minutes, seconds, frames };
  const { base, words } = RATES[rate];
  if (hours > 23) return { ok: false, reason: `Hours are 0 to 23, not ${hours}.` };
  if (minutes > 59) return { ok: false, reason: `Minutes are 0 to 59, not ${minutes}.` };
  if (seconds > 59) return { ok: false, reason: `Seconds are 0 to 59, not ${seconds}.` };
  if (frames >= base)
    return { ok: false, reason: `There is no frame ${frames} at ${words}: frames are 0 to ${base - 1}.` };
  if (!exists(parts, rate))
    return {
      ok: false,
      reason: `Drop-frame leaves out ${text.trim()}: the next frame is ${writeTimecode(frameOf(parts, rate), rate)}.`,
    };
  return { ok: true, value: frameOf(parts, rate) };
}
