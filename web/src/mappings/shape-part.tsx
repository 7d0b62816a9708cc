import { HEAR_MESSAGES } from '@tawny-signal/core/mapping/hear';
import type { Shape } from '@tawny-signal/core/show/mapping';
import { readScale, writeScale } from '@tawny-signal/core/typed/range';
import { useLiveValue } from '../live/live';
import { Choice } from '../ui/choice';
import type { Option } from '../ui/select';
import { orThrow } from '../ui/or-throw';
import { TypedField } from '../ui/typed-field';
import { curvePath, placeOf } from './curve';
import type { PartProps } from './part-props';

const CURVES: Option<Shape['curve']>[] = [
  { value: 'straight', words: 'Straight' },
  { value: 'slow-start', words: 'Slow start (square)' },
  { value: 'fast-start', words: 'Fast start (square root)' },
];
const WIDTH = 286;
const HEIGHT = 76;

export function ShapePart({ mapping, save }: PartProps) {
  const { hear, shape } = mapping;
  const info = HEAR_MESSAGES[hear.message];
  const change = (values: Partial<Shape>): Promise<unknown> => save({ shape: { ...shape, ...values } });
  const froms: Option<Shape['from']>[] = [
    ...(info.value || !info.number
      ? [
          {
            value: 'value' as const,
            words: info.value?.words ?? (hear.message === 'osc' ? 'First number' : 'Down or up'),
          },
        ]
      : []),
    ...(info.number
      ? [{ value: 'number' as const, words: `The ${info.number.toLowerCase()}’s number` }]
      : []),
  ];
  return (
    <>
      <Graph mappingId={mapping.id} shape={shape} />
      <Choice label="From" value={shape.from} options={froms} choose={(from) => change({ from })} />
      <TypedField
        label="Heard"
        value={writeScale(shape.in)}
        commit={(text) => change({ in: orThrow(readScale(text)) })}
      />
      <TypedField
        label="Becomes"
        value={writeScale(shape.out)}
        commit={(text) => change({ out: orThrow(readScale(text)) })}
      />
      <Choice label="Curve" value={shape.curve} options={CURVES} choose={(curve) => change({ curve })} />
    </>
  );
}

/** The curve, with a dot where the last value fell. */
function Graph({ mappingId, shape }: { mappingId: string; shape: Shape }) {
  const fired = useLiveValue('mappings', (store) => store.fired(mappingId), 33);
  const place = fired ? placeOf(shape, fired.heard) : null;
  const x = (place?.x ?? 0) * WIDTH;
  const y = (1 - (place?.y ?? 0)) * HEIGHT;
  return (
    <svg
      viewBox={`-6 -6 ${WIDTH + 12} ${HEIGHT + 12}`}
      role="img"
      aria-label={`Heard ${writeScale(shape.in)} becomes ${writeScale(shape.out)}`}
      className="mb-1.5 h-21 w-full rounded border border-rule bg-paper"
    >
      {[0.25, 0.5, 0.75].map((part) => (
        <g key={part} stroke="var(--bark-2)">
          <line x1={part * WIDTH} x2={part * WIDTH} y1={0} y2={HEIGHT} />
          <line y1={part * HEIGHT} y2={part * HEIGHT} x1={0} x2={WIDTH} />
        </g>
      ))}
      <path d={curvePath(shape, WIDTH, HEIGHT)} fill="none" stroke="var(--tawny)" strokeWidth="2" />
      {place && (
        <>
          <path d={`M${x} ${HEIGHT}V${y}H0`} fill="none" stroke="var(--dusk)" strokeDasharray="3 3" />
          <circle cx={x} cy={y} r="4.5" fill="var(--tawny-2)" />
        </>
      )}
    </svg>
  );
}
