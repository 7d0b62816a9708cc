/** The lines of the demo show by their ids, and what is on its pads and its water screen. */
import type { Hear } from '@tawny-signal/core/hears';
import { makeSend, type Send } from '@tawny-signal/core/sends';

export const PADS = 'pier-pads';
export const SCORE = 'score-player';
export const WATER = 'water-screen';
export const RIG = 'lantern-rig';
export const LASER = 'fog-laser';
export const BELLS = 'bell-player';
export const STREAM = 'quay-stream';
export const DECK = 'deck-desk';
export const TIDE = 'tide-clock';
export const HOUSE = 'front-of-house';

export const MOTION_IDS = {
  swell: 'slow-swell',
  lens: 'lens-turns',
  sky: 'sky-changes',
  fog: 'fog-lifts',
} as const;

/** Does something to a motion. */
export const moving = (
  motionId: string,
  act: 'start' | 'next' | 'back' | 'stop',
): ReturnType<typeof makeSend> => makeSend({ kind: 'motion', lineId: null, motionId, act });

/** A drum of the score. */
export const drum = (number: number): Hear => ({
  message: 'pressed',
  lineId: SCORE,
  channels: [9, 9],
  numbers: [number, number],
  values: 'any',
});

export const pad = (number: number, message: 'pressed' | 'held' = 'pressed'): Hear => ({
  message,
  lineId: PADS,
  channels: [9, 9],
  numbers: [number, number],
  values: 'any',
});
export const fader = (number: number): Hear => ({
  message: 'control',
  lineId: PADS,
  channels: [1, 1],
  numbers: [number, number],
  values: 'any',
});

export const water = (address: string): Send =>
  makeSend({ kind: 'osc', lineId: WATER, address, args: [{ type: 'f', value: 'shaped' }] });
