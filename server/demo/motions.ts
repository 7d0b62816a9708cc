/** What moves by itself in the demo show, and the drums of the score that start it. */
import { makeSend, type Send } from '@tawny-signal/core/sends';
import { makeMotion, type Motion } from '@tawny-signal/core/show/motion';
import { MOTION_IDS, RIG, water } from './controls.js';

/** The slot of the lantern's lens: 0–255 is once around. */
export const LENS_SLOT = 102;

const ranged = (send: Send, range: [number, number]): Send => ({ ...send, range });

export const motions: Motion[] = [
  makeMotion({
    id: MOTION_IDS.swell,
    name: 'Slow swell',
    begins: 'asked',
    makes: { kind: 'wave' },
    drive: { everyBeats: 16 },
    shape: { amount: 0.8, bothWays: true },
    sends: [ranged(water('/tide/swell'), [0, 0.6])],
  }),
  makeMotion({
    id: MOTION_IDS.lens,
    name: 'Lens turns',
    begins: 'asked',
    makes: { kind: 'ease', goes: 'further', by: 0.25, beats: { beats: 0.5 }, curve: 'slow-ends' },
    sends: [makeSend({ kind: 'slot', lineId: RIG, slot: LENS_SLOT, range: [0, 255] })],
  }),
  makeMotion({
    id: MOTION_IDS.sky,
    name: 'Sky changes',
    makes: { kind: 'random', way: 'held', seed: 7 },
    drive: { by: 'steps' },
    shape: { smoothMs: 250 },
    sends: [ranged(water('/sky/hue'), [0.45, 0.95])],
  }),
  makeMotion({
    id: MOTION_IDS.fog,
    name: 'Fog lifts',
    begins: 'asked',
    makes: { kind: 'ease', goes: 'toAndFro', beats: { beats: 1 }, curve: 'slow-ends' },
    sends: [ranged(water('/fog/density'), [0.1, 0.7])],
  }),
];
