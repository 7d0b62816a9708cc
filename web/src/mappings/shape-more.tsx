/** Settings that most shapes do not need. Shown if they are set, and on demand. */
import { useState, type ReactNode } from 'react';
import type { Hear } from '@tawny-signal/core/hears';
import type { Shape } from '@tawny-signal/core/show/shape';
import {
  readNumber,
  readScale,
  readTexts,
  readWhole,
  writeScale,
  writeTexts,
} from '@tawny-signal/core/typed/range';
import { Button } from '../ui/button';
import { orThrow } from '../ui/or-throw';
import { Switch } from '../ui/switch';
import { SpanField } from '../ui/span-field';
import { TypedField } from '../ui/typed-field';
import { ColourFields } from './colour-fields';
import type { ChangeShape } from './part-props';
import { isNone as takesNone } from '@tawny-signal/core/time/span';

interface MoreProps {
  hear: Hear;
  shape: Shape;
  change: ChangeShape;
}

const isNone = (text: string): boolean => /^\s*(none|)\s*$/i.test(text);

function readDeadband(text: string): number {
  const value = orThrow(readNumber(text, 'A deadband'));
  if (value < 0) throw new Error('A deadband is 0 or more, like 3.');
  return value;
}

export function MoreShape({ hear, shape, change }: MoreProps) {
  const [more, setMore] = useState(false);
  const glide = { ms: shape.glideMs, beats: shape.glideBeats };
  const field = (isSet: boolean, what: ReactNode): ReactNode => (more || isSet ? what : null);
  const toggle = (label: string, key: 'round' | 'pickUp'): ReactNode => (
    <div className="py-1 pl-24">
      <Switch
        label={label}
        on={shape[key]}
        change={(on) => void change({ [key]: on }).catch(() => undefined)}
      />
    </div>
  );
  return (
    <>
      {hear.message === 'osc' &&
        field(
          shape.texts.length > 0,
          <TypedField
            label="Texts"
            value={writeTexts(shape.texts)}
            placeholder="none"
            hint="The number that each text stands for, like low 0, high 1."
            commit={(text) => change({ texts: orThrow(readTexts(text)) })}
          />,
        )}
      {field(
        shape.offset !== 0,
        <TypedField
          label="Offset"
          value={String(shape.offset)}
          commit={(text) => change({ offset: orThrow(readNumber(text, 'An offset')) })}
        />,
      )}
      {field(
        shape.limits !== null,
        <TypedField
          label="Stays within"
          value={shape.limits ? writeScale(shape.limits) : 'anything'}
          commit={(text) =>
            change({ limits: /^\s*(anything|none|)\s*$/i.test(text) ? null : orThrow(readScale(text)) })
          }
        />,
      )}
      {field(
        shape.deadband > 0,
        <TypedField
          label="Deadband"
          value={String(shape.deadband)}
          hint="Smaller changes are ignored."
          commit={(text) => change({ deadband: readDeadband(text) })}
        />,
      )}
      {field(
        !takesNone(glide),
        <SpanField
          label="Glide"
          span={glide}
          unit="ms"
          highMs={60_000}
          commit={({ ms, beats }) => change({ glideMs: ms, glideBeats: beats })}
        />,
      )}
      {field(
        shape.steps > 0,
        <TypedField
          label="Steps"
          value={shape.steps === 0 ? 'none' : String(shape.steps)}
          commit={(text) => change({ steps: isNone(text) ? 0 : orThrow(readWhole(text, 'Steps', 0, 1000)) })}
        />,
      )}
      {field(
        shape.colour !== null,
        <ColourFields
          colour={shape.colour}
          change={(colour) =>
            change(
              colour
                ? {
                    colour,
                    out:
                      colour.of === shape.colour?.of ? shape.out : colour.of === 'hue' ? [0, 360] : [0, 100],
                  }
                : { colour },
            )
          }
        />,
      )}
      {field(shape.round, toggle('Whole numbers', 'round'))}
      {field(shape.pickUp, toggle('Soft takeover after its bank was off', 'pickUp'))}
      {!more && (
        <Button look="bare" className="ml-22" onClick={() => setMore(true)}>
          Glide, limits, colour …
        </Button>
      )}
    </>
  );
}
