/**
 * Does something to a motion: starts and stops it, steps it, moves one of its settings, or gives it a value. A control that is let go lets go of
 * what it has pressed. Each heard number counts by itself, so that each note has a voice.
 */
import { z } from 'zod';
import { isSetting, MOTION_ACTS, type MotionSendAct } from '../motion/acts.js';
import { motionPlace } from '../place.js';
import { id } from '../show/fields.js';
import { plain, type MotionAct } from './compiled.js';
import { SENT, type SendKindOf } from './kind.js';

/** What it does, with the name of the motion between both parts. */
export const MOTION_ACT_WORDS: Readonly<Record<MotionSendAct, string>> = {
  press: 'run while held',
  start: 'start, or trigger again',
  toggle: 'start or stop in turn',
  stop: 'stop',
  next: 'next step',
  back: 'step back',
  amount: 'set its amount',
  offset: 'set its offset',
  speed: 'set its speed',
  form: 'set its form',
  give: 'give it a value',
};

/** The whole range of each setting. Anything else is a press with its force. */
const RANGES: Partial<Record<MotionSendAct, [number, number]>> = { offset: [-1, 1], speed: [0.25, 4] };

const schema = z.object({
  kind: z.literal('motion'),
  ...SENT,
  motionId: id.nullable(),
  act: z.enum(MOTION_ACTS),
  /** True if each heard number has a voice of its own. */
  follows: z.boolean().default(true),
});

export const motion: SendKindOf<typeof schema> = {
  schema,
  words: 'Move a motion',
  protocol: null,
  out: [0, 1],
  outOf: ({ act }) => RANGES[act] ?? [0, 1],
  holds: false,
  start: ({ delayMs, delayBeats }) => ({
    kind: 'motion',
    lineId: null,
    delayMs,
    delayBeats,
    motionId: null,
    act: 'press',
  }),
  compile({ motionId, act }, { step }) {
    if (motionId === null) return plain([], () => false);
    const asked: MotionAct = { do: 'motion', motionId, act, value: 0, number: 0, channel: 0, step };
    return {
      ...plain([], (value, heard) => {
        asked.value = value;
        asked.number = heard.number;
        asked.channel = heard.channel;
        // Only what runs while it is held has to know that it was let go.
        return value > 0 || act === 'press' || isSetting(act);
      }),
      act: asked,
    };
  },
  title: ({ act }) => `motion: ${MOTION_ACT_WORDS[act]}`,
  detail: () => 'this show',
  said({ motionId, act }, value, { motions }) {
    const named = motions.find((one) => one.id === motionId);
    const amount = isSetting(act) ? `, ${Math.round(value * 100)} %` : '';
    return `${named ? named.name : 'motion'}: ${MOTION_ACT_WORDS[act]}${amount}`;
  },
  typed({ motionId, act }, value, { motions }) {
    const named = motions.find((one) => one.id === motionId);
    if (!named || act === 'press') return null;
    const amount = isSetting(act) ? ` = ${Number((value * 100).toFixed(2))} %` : '';
    return `motion ${named.name} ${act}${amount}`;
  },
  movedOn: (send) => send,
  leaves: ({ motionId, act }) => [motionPlace(motionId, isSetting(act) ? act : 'runs')],
};
