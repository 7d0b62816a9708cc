/**
 * The frame rates of timecode (SMPTE ST 12-1, from memory). A timecode numbers frames. At 29.97 frames a second, drop-frame leaves out the
 * numbers 0 and 1 of each minute but the tenth, so that an hour of numbers lasts an hour.
 */

export const FRAME_RATES = ['23.976', '24', '25', '29.97', '29.97df', '30'] as const;
export type FrameRate = (typeof FRAME_RATES)[number];

export interface FrameRateInfo {
  words: string;
  /** Frames in a second of the numbers. */
  base: number;
  /** Frames in a second of time. */
  fps: number;
  /** True if numbers are left out. */
  drop: boolean;
  /** The same rate as MIDI timecode and Art-Net say it, 0–3. They do not tell 23.976 from 24, or 29.97 from 30. */
  code: number;
}

const PULLED_DOWN = 1000 / 1001;
const info = (words: string, base: number, code: number, pulled = false, drop = false): FrameRateInfo => ({
  words,
  base,
  fps: pulled ? base * PULLED_DOWN : base,
  drop,
  code,
});

export const RATES: Readonly<Record<FrameRate, FrameRateInfo>> = {
  '23.976': info('23.976 fps', 24, 0, true),
  '24': info('24 fps', 24, 0),
  '25': info('25 fps', 25, 1),
  '29.97': info('29.97 fps, no drop', 30, 3, true),
  '29.97df': info('29.97 fps, drop-frame', 30, 2, true, true),
  '30': info('30 fps', 30, 3),
};

/** The rate that a code says, if nothing says that it is pulled down. @param code 0–3 */
export const RATE_OF_CODE: readonly FrameRate[] = ['24', '25', '29.97df', '30'];

/** The rates that a code may mean: the plain one first. */
export const ratesOfCode = (code: number): FrameRate[] =>
  FRAME_RATES.filter((rate) => RATES[rate].code === code).sort((a, b) => RATES[b].fps - RATES[a].fps);
