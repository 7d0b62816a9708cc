/** Fields that the forms of motions share. */
import { CURVE_NAMES, type Bezier, type CurveName } from '@tawny-signal/core/motion/curves';
import { readList } from '@tawny-signal/core/typed/range';
import { readPercent, writePercent } from '@tawny-signal/core/typed/rate';
import { Choice } from '../ui/choice';
import { orThrow } from '../ui/or-throw';
import { TypedField } from '../ui/typed-field';
import { DrawnCurve } from './drawn-curve';

interface PercentProps {
  label: string;
  value: number;
  low?: number;
  high?: number;
  hint?: string | undefined;
  commit: (value: number) => unknown;
}

export function PercentField({ label, value, low = 0, high = 1, hint, commit }: PercentProps) {
  return (
    <TypedField
      label={label}
      value={writePercent(value)}
      unit="%"
      hint={hint}
      understood={(text) => {
        const read = readPercent(text, low, high);
        return read.ok ? writePercent(read.value) : null;
      }}
      commit={(text) => commit(orThrow(readPercent(text, low, high)))}
    />
  );
}

const CURVE_WORDS: Record<CurveName, string> = {
  straight: 'Straight',
  'slow-start': 'Slow start (square)',
  'fast-start': 'Fast start (square root)',
  'slow-ends': 'Slow at both ends',
  natural: 'Natural, as a sound dies away',
  bezier: 'Bézier',
};

interface CurveProps {
  label: string;
  curve: CurveName;
  bezier: Bezier;
  change: (values: { curve?: CurveName; bezier?: Bezier }) => Promise<unknown>;
}

export function CurveFields({ label, curve, bezier, change }: CurveProps) {
  return (
    <>
      <Choice
        label={label}
        value={curve}
        options={CURVE_NAMES.map((name) => ({ value: name, words: CURVE_WORDS[name] }))}
        choose={(next) => change({ curve: next })}
      />
      {curve === 'bezier' && (
        <>
          <DrawnCurve bezier={bezier} save={(next) => change({ bezier: next })} />
          <TypedField
            label="Its points"
            value={bezier.join(', ')}
            hint="x1, y1, x2, y2, as in cubic-bezier() of CSS."
            commit={(text) => change({ bezier: orThrow(readList(text)) as Bezier })}
          />
        </>
      )}
    </>
  );
}
