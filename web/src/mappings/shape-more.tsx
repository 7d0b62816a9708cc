/** Settings that most shapes do not need. Shown if they are set, and on demand. */
import { useState, type ReactNode } from 'react';
import type { Hear } from '@tawny-signal/core/hears';
import type { Colour, Shape } from '@tawny-signal/core/show/shape';
import {
  readNumber,
  readScale,
  readTexts,
  readWhole,
  writeScale,
  writeTexts,
} from '@tawny-signal/core/typed/range';
import { Button } from '../ui/button';
import { Choice } from '../ui/choice';
import { orThrow } from '../ui/or-throw';
import { Switch } from '../ui/switch';
import { SpanField } from '../ui/span-field';
import { TypedField } from '../ui/typed-field';
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

const COLOURS = [
  { value: 'none' as const, words: 'No colour' },
  { value: 'hue' as const, words: 'The hue of a colour' },
  { value: 'saturation' as const, words: 'The saturation of a colour' },
  { value: 'brightness' as const, words: 'The brightness of a colour' },
];
const FIRST_COLOUR: Colour = { of: 'hue', hue: 0, saturation: 100, brightness: 100 };

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
      {field(shape.colour !== null, <ColourFields colour={shape.colour} change={change} />)}
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

/** The form of a colour: the shaped value sets its hue, saturation or brightness, and the other two are fixed. */
function ColourFields({ colour, change }: { colour: Colour | null; change: ChangeShape }) {
  function choose(of: (typeof COLOURS)[number]['value']): Promise<unknown> {
    if (of === 'none') return change({ colour: null });
    return change({ colour: { ...(colour ?? FIRST_COLOUR), of }, out: of === 'hue' ? [0, 360] : [0, 100] });
  }
  const rest = (['hue', 'saturation', 'brightness'] as const).filter((part) => part !== colour?.of);
  const named = { hue: 'Hue', saturation: 'Saturation', brightness: 'Brightness' };
  return (
    <>
      <Choice
        label="Colour"
        value={colour?.of ?? 'none'}
        options={COLOURS}
        hint={colour ? 'Send red, green and blue as slots or OSC arguments.' : undefined}
        choose={choose}
      />
      {colour &&
        rest.map((part) => (
          <TypedField
            key={part}
            label={named[part]}
            value={`${colour[part]}${part === 'hue' ? '°' : ' %'}`}
            commit={(text) =>
              change({
                colour: {
                  ...colour,
                  [part]: orThrow(
                    readWhole(text.replace(/\s*[%°]$/, ''), named[part], 0, part === 'hue' ? 360 : 100),
                  ),
                },
              })
            }
          />
        ))}
    </>
  );
}
