/** What people see of the motions that run. */
import type { Settings } from './compiled.js';

export interface VoiceView {
  /** The note that began it, and its channel 0–15; null if no control did. */
  note: { number: number; channel: number } | null;
  /** What it makes before it is shaped, and after: 0–1, or a note; null before there is a value. */
  made: number | null;
  shaped: number | null;
  held: boolean;
  /** When it began, in milliseconds since 1970. */
  since: number;
}

export interface MotionsSeen {
  /** Milliseconds since 1970. */
  at: number;
  /** The voices of each motion that runs, by its id. */
  running: Record<string, VoiceView[]>;
  /** What has moved the settings of motions, by their ids; only of those where something has. */
  moved: Record<string, Settings>;
  /** How many voices run, with those that are not listed. */
  voices: number;
}

/** The most voices that are listed. */
export const MOST_SEEN = 256;
export const NO_MOTIONS: MotionsSeen = { at: 0, running: {}, moved: {}, voices: 0 };
