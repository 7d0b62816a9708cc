/** The forms of what makes values, one for each kind (core/motion/makes). */
import type { ReactNode } from 'react';
import {
  MAKES,
  MAKE_KINDS,
  startMake,
  type Make,
  type MakeKind,
  type MakeOfKind,
} from '@tawny-signal/core/motion/makes';
import { WAVE_FORMS, WAVE_WORDS } from '@tawny-signal/core/motion/makes/wave';
import { isSentOn } from '@tawny-signal/core/show/line';
import { readWhole } from '@tawny-signal/core/typed/range';
import { readPercents, writePercents } from '@tawny-signal/core/typed/rate';
import { Choice } from '../ui/choice';
import { orThrow } from '../ui/or-throw';
import { SpanField } from '../ui/span-field';
import { Switch } from '../ui/switch';
import { TypedField } from '../ui/typed-field';
import { DrawnValues } from './drawn-values';
import type { MakeProps } from './make-props';
import { EnvelopeFields } from './envelope-fields';
import { CurveFields, PercentField } from './fields';
import { StepsFields } from './steps-fields';
import { TableFields } from './table-fields';

const FORMS: { [K in MakeKind]: (props: MakeProps<MakeOfKind<K>>) => ReactNode } = {
  wave: WaveFields,
  envelope: EnvelopeFields,
  steps: StepsFields,
  random: RandomFields,
  table: TableFields,
  hold: HoldFields,
  ease: EaseFields,
};

export function MakeFields(props: MakeProps<Make>) {
  const { makes, save } = props;
  const Form = FORMS[makes.kind] as (props: MakeProps<Make>) => ReactNode;
  return (
    <>
      <Choice
        label="Makes"
        value={makes.kind}
        options={MAKE_KINDS.map((kind) => ({ value: kind, words: MAKES[kind].words }))}
        hint={MAKES[makes.kind].about}
        choose={(kind) => save(startMake(kind))}
      />
      <Form {...props} />
    </>
  );
}

function WaveFields({ makes, save }: MakeProps<MakeOfKind<'wave'>>) {
  const { form, width, points, turns } = makes;
  return (
    <>
      <Choice
        label="Form"
        value={form}
        options={WAVE_FORMS.map((one) => ({ value: one, words: WAVE_WORDS[one] }))}
        choose={(next) =>
          save({
            ...makes,
            form: next,
            // A drawing begins with something to draw on.
            points:
              next === 'drawn' && points.length < 3 ? Array.from({ length: 16 }, (_, at) => at / 15) : points,
          })
        }
      />
      {(form === 'triangle' || form === 'square') && (
        <PercentField
          label="Width"
          value={width}
          low={0.01}
          high={0.99}
          hint={form === 'square' ? 'How much of the cycle it is high.' : 'How much of the cycle it rises.'}
          commit={(next) => save({ ...makes, width: next })}
        />
      )}
      {form === 'drawn' && (
        <>
          <DrawnValues
            label="The form of a cycle"
            called="Point"
            values={points}
            save={(next) => save({ ...makes, points: next })}
          />
          <TypedField
            label="Points"
            value={writePercents(points)}
            hint="Lines go from each to the next, and from the last to the first."
            commit={(text) => save({ ...makes, points: orThrow(readPercents(text, 64)) })}
          />
        </>
      )}
      <TypedField
        label="Turns"
        value={String(turns)}
        hint={turns > 1 ? `${turns} times in a cycle.` : undefined}
        commit={(text) => save({ ...makes, turns: orThrow(readWhole(text, 'A number of turns', 1, 16)) })}
      />
    </>
  );
}

const RANDOM_WAYS = [
  { value: 'held' as const, words: 'New values, held' },
  { value: 'glided' as const, words: 'New values, with a glide between' },
  { value: 'walk' as const, words: 'A walk by small steps' },
];

function RandomFields({ makes, save }: MakeProps<MakeOfKind<'random'>>) {
  return (
    <>
      <Choice label="Way" value={makes.way} options={RANDOM_WAYS} choose={(way) => save({ ...makes, way })} />
      {makes.way === 'walk' && (
        <PercentField
          label="A step"
          value={makes.far}
          low={0.01}
          hint="The most that it goes at once."
          commit={(far) => save({ ...makes, far })}
        />
      )}
      <TypedField
        label="Seed"
        value={String(makes.seed)}
        hint="Another seed gives other values; the same gives the same."
        commit={(text) => save({ ...makes, seed: orThrow(readWhole(text, 'A seed', 0, 999_999)) })}
      />
    </>
  );
}

const HOLD_WORDS = [
  { value: 'given' as const, words: 'What a control gives it' },
  { value: 'motion' as const, words: 'Another motion' },
  { value: 'slot' as const, words: 'A DMX slot' },
];

function HoldFields({ makes, motion, show, save }: MakeProps<MakeOfKind<'hold'>>) {
  const { of } = makes;
  return (
    <>
      <Choice
        label="Takes"
        value={of.what}
        options={HOLD_WORDS}
        hint={of.what === 'given' ? 'A mapping that sends “give it a value” to this motion.' : undefined}
        choose={(what) =>
          save({
            ...makes,
            of:
              what === 'given'
                ? { what }
                : what === 'motion'
                  ? { what, motionId: null }
                  : { what, lineId: null, slot: 1 },
          })
        }
      />
      {of.what === 'motion' && (
        <Choice
          label="Of"
          value={of.motionId}
          placeholder="Choose a motion"
          options={show.motions
            .filter(({ id }) => id !== motion.id)
            .map(({ id, name }) => ({ value: id, words: name }))}
          choose={(motionId) => save({ ...makes, of: { ...of, motionId } })}
        />
      )}
      {of.what === 'slot' && (
        <>
          <Choice
            label="Line"
            value={of.lineId}
            placeholder="Choose a line"
            options={show.lines
              .filter((line) => isSentOn(line) && (line.kind === 'sacn' || line.kind === 'artnet'))
              .map(({ id, name }) => ({ value: id, words: name }))}
            choose={(lineId) => save({ ...makes, of: { ...of, lineId } })}
          />
          <TypedField
            label="Slot"
            value={String(of.slot)}
            commit={(text) =>
              save({ ...makes, of: { ...of, slot: orThrow(readWhole(text, 'A slot', 1, 512)) } })
            }
          />
        </>
      )}
    </>
  );
}

const EASE_WORDS = [
  { value: 'toggle' as const, words: 'To the end, next time back' },
  { value: 'further' as const, words: 'Further by a part' },
  { value: 'there' as const, words: 'To the end' },
  { value: 'toAndFro' as const, words: 'To the end and back again' },
  { value: 'given' as const, words: 'To the value that it was given' },
];

function EaseFields({ makes, save }: MakeProps<MakeOfKind<'ease'>>) {
  const { goes, from, to, by, round, ms, beats, curve, bezier } = makes;
  return (
    <>
      <Choice
        label="Each time"
        value={goes}
        options={EASE_WORDS}
        choose={(next) => save({ ...makes, goes: next })}
      />
      <SpanField
        label="In"
        span={{ ms, beats }}
        unit="s"
        highMs={600_000}
        commit={(span) => save({ ...makes, ...span })}
      />
      <PercentField label="From" value={from} commit={(next) => save({ ...makes, from: next })} />
      {goes !== 'further' && goes !== 'given' && (
        <PercentField label="To" value={to} commit={(next) => save({ ...makes, to: next })} />
      )}
      {goes === 'further' && (
        <>
          <PercentField
            label="By"
            value={by}
            low={-1}
            hint="25 % is a quarter turn."
            commit={(next) => save({ ...makes, by: next })}
          />
          <div className="py-1 pl-24">
            <Switch
              label="Goes round, as an angle does"
              on={round}
              change={(on) => void save({ ...makes, round: on }).catch(() => undefined)}
            />
          </div>
        </>
      )}
      <CurveFields
        label="Curve"
        curve={curve}
        bezier={bezier}
        change={(values) => save({ ...makes, ...values })}
      />
    </>
  );
}
