/** How the value of a motion is shaped. */
import { useState } from 'react';
import { noteName } from '@tawny-signal/core/midi/words';
import { SCALES, type MotionScale } from '@tawny-signal/core/motion/scale';
import type { Motion } from '@tawny-signal/core/show/motion';
import { readNotes, readWhole, writeNotes } from '@tawny-signal/core/typed/range';
import { readPercents, writePercents } from '@tawny-signal/core/typed/rate';
import { ColourFields } from '../mappings/colour-fields';
import { BareButton, Button } from '../ui/button';
import { Choice } from '../ui/choice';
import { orThrow } from '../ui/or-throw';
import { Switch } from '../ui/switch';
import { TimeField } from '../ui/time-field';
import { TypedField } from '../ui/typed-field';
import { CurveFields, PercentField } from './fields';
import type { MotionPartProps } from './moves-part';

const NONE = 'none';
const OWN = 'own';
const OCTAVE = 12;
const FIRST: MotionScale = { notes: [...SCALES[0]!.notes], root: 0, low: 60, high: 72 };

/** `C`, `C#` … without the octave. */
const rootName = (root: number): string => noteName(60 + root, 4).replace(/-?\d+$/, '');

export function MotionShapeFields({ motion, show, save }: MotionPartProps) {
  const [more, setMore] = useState(false);
  const { shape } = motion;
  const change = (values: Partial<Motion['shape']>): Promise<unknown> =>
    save({ shape: { ...shape, ...values } });
  const isPlain =
    shape.curve === 'straight' &&
    shape.steps === 0 &&
    shape.smoothMs === 0 &&
    shape.limits[0] === 0 &&
    shape.limits[1] === 1 &&
    !shape.colour;
  return (
    <>
      <PercentField
        label="Amount"
        value={shape.amount}
        low={-2}
        high={2}
        hint={shape.amount < 0 ? 'Below 0 it is upside down.' : undefined}
        commit={(amount) => change({ amount })}
      />
      <PercentField label="Offset" value={shape.offset} low={-1} commit={(offset) => change({ offset })} />
      <div className="py-1 pl-24">
        <Switch
          label="Both ways about the middle"
          on={shape.bothWays}
          change={(bothWays) => void change({ bothWays }).catch(() => undefined)}
        />
      </div>
      <ScaleFields motion={motion} show={show} save={save} />
      {more || !isPlain ? (
        <>
          <CurveFields label="Curve" curve={shape.curve} bezier={shape.bezier} change={change} />
          <TypedField
            label="Steps"
            value={String(shape.steps)}
            hint="Equal steps; 0 for none."
            commit={(text) => change({ steps: orThrow(readWhole(text, 'A number of steps', 0, 1000)) })}
          />
          <TypedField
            label="Limits"
            value={writePercents(shape.limits)}
            commit={(text) => {
              const [low, high, ...rest] = orThrow(readPercents(text, 2));
              if (low === undefined || high === undefined || rest.length > 0)
                throw new Error('Write two limits, like 10, 90 %.');
              return change({ limits: [low, high] });
            }}
          />
          <TimeField
            label="Smoothing"
            ms={shape.smoothMs}
            unit="ms"
            highMs={60_000}
            commit={(smoothMs) => change({ smoothMs })}
          />
          <ColourFields colour={shape.colour} change={(colour) => change({ colour })} />
        </>
      ) : (
        <div className="pl-22">
          <Button look="bare" className="text-sm" onClick={() => setMore(true)}>
            + Curve, steps, limits, smoothing, colour
          </Button>
        </div>
      )}
    </>
  );
}

function ScaleFields({ motion, show, save }: MotionPartProps) {
  const { scale } = motion.shape;
  const change = (next: MotionScale | null): Promise<unknown> =>
    save({ shape: { ...motion.shape, scale: next } });
  const known =
    scale && SCALES.find(({ notes }) => String(notes) === String([...scale.notes].sort((a, b) => a - b)));
  const { middleC } = show.settings;
  return (
    <>
      <Choice
        label="Notes of"
        value={scale === null ? NONE : (known?.name ?? OWN)}
        options={[
          { value: NONE, words: 'No scale: the value itself' },
          ...SCALES.map(({ name }) => ({ value: name, words: name })),
          { value: OWN, words: 'A scale of your own' },
        ]}
        choose={(name) => {
          if (name === NONE) return change(null);
          const notes = SCALES.find((one) => one.name === name)?.notes ?? scale?.notes ?? FIRST.notes;
          return change({ ...(scale ?? FIRST), notes: name === OWN ? notes.slice(0, -1) : [...notes] });
        }}
      />
      {scale && (
        <>
          <Choice
            label="Root"
            value={String(scale.root)}
            options={Array.from({ length: OCTAVE }, (_, root) => ({
              value: String(root),
              words: rootName(root),
            }))}
            choose={(root) => change({ ...scale, root: Number(root) })}
          />
          <TypedField
            label="From, to"
            value={writeNotes([scale.low, scale.high], middleC)}
            commit={(text) => {
              const notes = orThrow(readNotes(text, middleC));
              if (notes === 'any') throw new Error('Write the lowest and the highest note, like C4-C6.');
              return change({ ...scale, low: notes[0], high: notes[1] });
            }}
          />
          <div role="group" aria-label="Notes of the scale" className="flex flex-wrap gap-0.5 py-1 pl-24">
            {Array.from({ length: OCTAVE }, (_, step) => {
              const on = scale.notes.includes(step);
              const name = rootName((scale.root + step) % OCTAVE);
              return (
                <BareButton
                  needs="edit"
                  key={step}
                  aria-pressed={on}
                  onClick={() =>
                    void change({
                      ...scale,
                      notes: on
                        ? scale.notes.filter((one) => one !== step)
                        : [...scale.notes, step].sort((a, b) => a - b),
                    }).catch(() => undefined)
                  }
                  className={`min-h-8 min-w-8 rounded border px-1 text-xs ${on ? 'border-tawny bg-tawny/20 text-ink' : 'border-rule text-ink-2'}`}
                >
                  {name}
                </BareButton>
              );
            })}
          </div>
        </>
      )}
    </>
  );
}
