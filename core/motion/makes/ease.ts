/** An ease: from where it is to a target in a time, at each trigger. */
import { z } from 'zod';
import { beats, duration } from '../../show/fields.js';
import { paceOf, type Pace } from '../../time/span.js';
import { spanWords } from '../../typed/span.js';
import { curveFields, curveOf } from '../curves.js';
import type { MakeOf } from '../make.js';

const PLACE = 'A place is 0 to 100 %.';
const place = z.number(PLACE).min(0, PLACE).max(1, PLACE);
const BY = 'It goes further by -100 to 100 %.';

const schema = z.object({
  kind: z.literal('ease'),
  /**
   * What each trigger does. `there`: to the end. `toggle`: to the end, and at the next trigger back to the beginning. `further`: on by a part.
   * `toAndFro`: to the end and back again. `given`: to the value that was given last.
   */
  goes: z.enum(['there', 'toggle', 'further', 'toAndFro', 'given']).default('toggle'),
  from: place.default(0),
  to: place.default(1),
  /** For `further`. */
  by: z.number(BY).min(-1, BY).max(1, BY).default(0.25),
  /** For `further`: true if it goes on at 0 % beyond 100 %, as an angle does. */
  round: z.boolean().default(true),
  /** The time of each way. */
  ms: duration(600_000, 'An ease takes 0 to 600 s.').default(1000),
  beats,
  ...curveFields,
});
export type Ease = z.infer<typeof schema>;

const TITLES: Record<Ease['goes'], string> = {
  there: 'there',
  toggle: 'to and back in turn',
  further: 'further',
  toAndFro: 'to and fro',
  given: 'to what is given',
};

/** Within this a way round is at its end. */
const ROUNDING = 1e-9;

export const ease: MakeOf<typeof schema> = {
  schema,
  words: 'Ease',
  about: 'Goes from where it is to a target in a time, at each trigger.',
  cycles: false,
  waits: true,
  start: () => ({ kind: 'ease' }),
  run(make, { tempo, before }) {
    const curve = curveOf(make);
    const within = (value: number): number => {
      if (make.goes !== 'further' || !make.round) return Math.max(0, Math.min(1, value));
      const rest = value - Math.floor(value);
      return 1 - rest < ROUNDING ? 0 : rest;
    };
    let from = before ?? make.from;
    let to = from;
    let pace: Pace | null = null;
    /** For `toAndFro`: it has to come back. */
    let back = false;
    let given: number | null = null;

    const here = (now: number): number => (pace ? from + (to - from) * curve(pace.part(now)) : to);
    function go(next: number, now: number): void {
      from = here(now);
      to = next;
      pace = paceOf(make, now, tempo);
    }
    /** Goes further, by so many times; below 0 it goes back. */
    function further(times: number, now: number): void {
      const next = to + make.by * times;
      go(make.round ? next : Math.max(0, Math.min(1, next)), now);
    }
    const targets: Record<Ease['goes'], () => number> = {
      there: () => make.to,
      toggle: () => (to === make.to ? make.from : make.to),
      further: () => to + make.by,
      toAndFro: () => make.to,
      given: () => given ?? to,
    };
    return {
      press(now) {
        if (make.goes === 'further') return further(1, now);
        back = make.goes === 'toAndFro';
        go(targets[make.goes](), now);
      },
      step(by, now) {
        if (make.goes === 'further') further(by, now);
        else this.press(now);
      },
      give: (value) => void (given = value),
      resume: () => undefined,
      keep: () => (back ? make.from : within(to)),
      at(now) {
        if (!pace || pace.part(now) < 1) return;
        const ended = Math.min(now, pace.endsAt());
        pace = null;
        if (back) go(make.from, ended);
        back = false;
      },
      value: (now) => within(here(now)),
      moves: () => pace !== null,
      nextAt: () => pace?.endsAt() ?? Infinity,
    };
  },
  title: ({ goes, ...span }) => `${TITLES[goes]} in ${spanWords(span)}`,
};
