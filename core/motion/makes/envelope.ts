/** An envelope: it rises and falls once for each trigger. Delay, attack, hold, decay, sustain while the trigger is held, release. */
import { z } from 'zod';
import { beats, duration } from '../../show/fields.js';
import { inMs, paceOf, type Pace } from '../../time/span.js';
import { spanWords } from '../../typed/span.js';
import { curveFields, curveOf } from '../curves.js';
import type { MakeOf } from '../make.js';

const TIME = 'A stage takes 0 to 600 s.';
const LEVEL = 'A level is 0 to 100 %.';

const stageFields = { ms: duration(600_000, TIME).default(0), beats, ...curveFields };
const level = z.number(LEVEL).min(0, LEVEL).max(1, LEVEL);
/** A stage of a time, with its way there. */
export const stageSchema = z.object(stageFields);
export type EnvelopeStage = z.infer<typeof stageSchema>;
const stage = (ms: number): z.ZodDefault<typeof stageSchema> =>
  stageSchema.default(stageSchema.parse({ ms }));

const schema = z.object({
  kind: z.literal('envelope'),
  delay: stage(0),
  attack: stage(50),
  hold: stage(0),
  decay: stage(300),
  sustain: level.default(0.6),
  release: stageSchema.default(stageSchema.parse({ ms: 800, curve: 'natural' })),
  /** `release`: it stays at `sustain` until its trigger is let go. `end`: it goes through all stages, held or not. */
  until: z.enum(['release', 'end']).default('release'),
  /** What a trigger does while it runs: it begins at 0, or goes on from where it is. */
  again: z.enum(['restart', 'goOn']).default('goOn'),
  /** Below this it is over: a tail never quite reaches 0. 0–1. */
  over: z
    .number('Write a part of the whole, like 0.1 %.')
    .min(0)
    .max(0.5, 'It is over below 50 % at most.')
    .default(0.002),
});
export type Envelope = z.infer<typeof schema>;

export const STAGES = ['delay', 'attack', 'hold', 'decay', 'sustain', 'release', 'over'] as const;
type Stage = (typeof STAGES)[number];
/** The stages that end by themselves, with what comes after them. */
const NEXT: Partial<Record<Stage, Stage>> = {
  delay: 'attack',
  attack: 'hold',
  hold: 'decay',
  decay: 'sustain',
  release: 'over',
};

export const envelope: MakeOf<typeof schema> = {
  schema,
  words: 'Envelope',
  about: 'Rises and falls once for each trigger.',
  cycles: false,
  waits: true,
  start: () => ({ kind: 'envelope' }),
  run(make, { tempo }) {
    const curves = {
      attack: curveOf(make.attack),
      decay: curveOf(make.decay),
      release: curveOf(make.release),
    };
    let at: Stage = 'over';
    /** Where the stage began. */
    let from = 0;
    let pace: Pace | null = null;

    function enter(next: Stage, began: number, level: number): void {
      at = next;
      from = level;
      const span = next === 'sustain' || next === 'over' ? null : make[next];
      pace = span && paceOf(span.beats ? span : inMs(span.ms), began, tempo);
      if (next === 'sustain' && make.until === 'end') enter('release', began, level);
    }

    function value(now: number): number {
      const part = pace ? pace.part(now) : 1;
      switch (at) {
        case 'delay':
          return from;
        case 'attack':
          return from + (1 - from) * curves.attack(part);
        case 'hold':
          return 1;
        case 'decay':
          return 1 + (make.sustain - 1) * curves.decay(part);
        case 'sustain':
          return make.sustain;
        case 'release':
          return from * (1 - curves.release(part));
        case 'over':
          return 0;
      }
    }

    return {
      press(now) {
        enter('delay', now, at === 'over' || make.again === 'restart' ? 0 : value(now));
        this.at!(now);
      },
      release(now) {
        if (make.until === 'release' && at !== 'over' && at !== 'release') enter('release', now, value(now));
        this.at!(now);
      },
      at(now) {
        for (let next = NEXT[at]; next && pace && pace.part(now) >= 1; next = NEXT[at])
          enter(next, Math.min(now, pace.endsAt()), value(now));
      },
      value,
      moves: () => at === 'attack' || at === 'decay' || at === 'release',
      nextAt: () => (NEXT[at] && pace ? pace.endsAt() : Infinity),
      isOver: (now) => at === 'over' || (at === 'release' && value(now) <= make.over),
    };
  },
  title: ({ attack, release }) => `attack ${spanWords(attack)}, release ${spanWords(release)}`,
};
