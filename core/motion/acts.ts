/** What can be done to a motion. */

/** Done with a press. */
export const PRESSES = ['press', 'start', 'toggle', 'stop', 'next', 'back'] as const;
/** Set by a value. */
export const SETTINGS = ['amount', 'offset', 'speed', 'form', 'give'] as const;
export const MOTION_ACTS = [...PRESSES, ...SETTINGS] as const;
export type MotionSendAct = (typeof MOTION_ACTS)[number];
export type MotionSetting = (typeof SETTINGS)[number];

export const isSetting = (act: MotionSendAct): act is MotionSetting =>
  (SETTINGS as readonly string[]).includes(act);

/** What people do to a motion by hand. */
/** `reset`: its settings are as they were written again. */
export const HAND_ACTS = ['start', 'stop', 'next', 'back', 'reset'] as const;
export type MotionHandAct = (typeof HAND_ACTS)[number];
