/** What begins a voice: a control with its number, channel and force, or something that is none. */
import { byHand, type Heard } from '../mapping/heard.js';
import type { MotionAct } from '../sends/compiled.js';
import type { Motion, SCALING } from '../show/motion.js';

type Pressed = Record<(typeof SCALING)[number], number> & {
  /** The step that its output is credited to (core/because). */
  because: number;
};

/** The force is 0 for a voice that nobody pressed. Number and channel are parts of their range, 0–1; 1 where no control began it. */
export interface Trigger extends Pressed {
  /** Identifies the control, so that its release ends the same voice; 0 for a voice that no control began. */
  key: number;
  heard: Heard;
  /** The distance of the heard number from the lowest one. */
  step: number;
}

/** The number of what no control has pressed. */
export const NO_NUMBER = -1;
/** The highest number of a note or controller. */
const HIGHEST_NUMBER = 127;
const CHANNELS = 16;

/** Which voice a press is for: with one voice always that one; what no control has pressed has one too. */
export const keyOf = ({ voices }: Motion, { number, channel }: MotionAct): number =>
  voices === 1 || number < 0 ? 0 : 1 + ((channel << 7) | number);

/** What a press says of the control behind it. @param force 0–1 */
export function pressedWith(act: MotionAct | null, force: number, because: number): Pressed {
  const isControl = act !== null && act.number > NO_NUMBER;
  return {
    force,
    number: isControl ? Math.min(1, act.number / HIGHEST_NUMBER) : 1,
    channel: isControl ? (act.channel + 1) / CHANNELS : 1,
    because,
  };
}

export function triggerOf(key: number, act: MotionAct | null, force: number, because: number): Trigger {
  const heard = byHand(force, Math.max(0, act?.number ?? 0));
  heard.channel = act?.channel ?? 0;
  return { ...pressedWith(act, force, because), key, heard, step: act?.step ?? 0 };
}
