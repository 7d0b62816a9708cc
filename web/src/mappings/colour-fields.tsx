/** The form of a colour: the shaped value sets its hue, saturation or brightness, and the other two are fixed. */
import type { Colour } from '@tawny-signal/core/show/shape';
import { readWhole } from '@tawny-signal/core/typed/range';
import { Choice } from '../ui/choice';
import { orThrow } from '../ui/or-throw';
import { TypedField } from '../ui/typed-field';

const COLOURS = [
  { value: 'none' as const, words: 'No colour' },
  { value: 'hue' as const, words: 'The hue of a colour' },
  { value: 'saturation' as const, words: 'The saturation of a colour' },
  { value: 'brightness' as const, words: 'The brightness of a colour' },
];
const FIRST_COLOUR: Colour = { of: 'hue', hue: 0, saturation: 100, brightness: 100 };
const PARTS = ['hue', 'saturation', 'brightness'] as const;
const NAMED = { hue: 'Hue', saturation: 'Saturation', brightness: 'Brightness' };

interface ColourFieldsProps {
  colour: Colour | null;
  change: (colour: Colour | null) => Promise<unknown>;
}

export function ColourFields({ colour, change }: ColourFieldsProps) {
  return (
    <>
      <Choice
        label="Colour"
        value={colour?.of ?? 'none'}
        options={COLOURS}
        hint={colour ? 'Send red, green and blue as slots or OSC arguments.' : undefined}
        choose={(of) => change(of === 'none' ? null : { ...(colour ?? FIRST_COLOUR), of })}
      />
      {colour &&
        PARTS.filter((part) => part !== colour.of).map((part) => (
          <TypedField
            key={part}
            label={NAMED[part]}
            value={`${colour[part]}${part === 'hue' ? '°' : ' %'}`}
            commit={(text) =>
              change({
                ...colour,
                [part]: orThrow(
                  readWhole(text.replace(/\s*[%°]$/, ''), NAMED[part], 0, part === 'hue' ? 360 : 100),
                ),
              })
            }
          />
        ))}
    </>
  );
}
