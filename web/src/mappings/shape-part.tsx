import { useState } from 'react';
import { HEAR_MESSAGES } from '@tawny-signal/core/mapping/hear';
import { curveValue } from '@tawny-signal/core/mapping/shape';
import type { Hear } from '@tawny-signal/core/show/hear';
import type { Shape } from '@tawny-signal/core/show/shape';
import {
  readList,
  readMs,
  readPoints,
  readScale,
  readWhole,
  writePoints,
  writeScale,
} from '@tawny-signal/core/typed/range';
import { useLiveValue } from '../live/live';
import { Button } from '../ui/button';
import { Choice } from '../ui/choice';
import type { Option } from '../ui/select';
import { orThrow } from '../ui/or-throw';
import { Switch } from '../ui/switch';
import { TypedField } from '../ui/typed-field';
import { curvePath, placeOf } from './curve';
import type { PartProps } from './part-props';

const CURVES: Option<Shape['curve']>[] = [
  { value: 'straight', words: 'Straight' },
  { value: 'slow-start', words: 'Slow start (square)' },
  { value: 'fast-start', words: 'Fast start (square root)' },
  { value: 'slow-ends', words: 'Slow at both ends' },
  { value: 'table', words: 'By points of my own' },
];
const EACH: Option<Shape['each']>[] = [
  { value: 'value', words: 'Its own value' },
  { value: 'toggle', words: 'One end, then the other' },
  { value: 'list', words: 'The next of a list' },
  { value: 'dice', words: 'A random value' },
  { value: 'dial', words: 'Steps of a dial, added up' },
];
const CODINGS: Option<Shape['coding']>[] = [
  { value: 'two', words: '1 up, 127 down' },
  { value: 'offset', words: '65 up, 63 down' },
  { value: 'sign', words: '1 up, 65 down' },
];
const WIDTH = 286;
const HEIGHT = 76;

type Change = (values: Partial<Shape>) => Promise<unknown>;

function fromsOf(hear: Hear): Option<Shape['from']>[] {
  const info = HEAR_MESSAGES[hear.message];
  const words = info.value?.words ?? (hear.message === 'osc' ? 'First number' : 'Down or up');
  return [
    ...(info.value || !info.number ? [{ value: 'value' as const, words }] : []),
    ...(info.number
      ? [{ value: 'number' as const, words: `The ${info.number.toLowerCase()}’s number` }]
      : []),
  ];
}

export function ShapePart({ mapping, save }: PartProps) {
  const { hear, shape } = mapping;
  const curved = shape.each === 'value' || shape.each === 'dial';
  const change: Change = (values) => save({ shape: { ...shape, ...values } });
  return (
    <>
      <Graph mappingId={mapping.id} shape={shape} />
      <Choice label="From" value={shape.from} options={fromsOf(hear)} choose={(from) => change({ from })} />
      <Choice
        label="Each makes"
        value={shape.each}
        options={EACH}
        choose={(each) => change(startOf(shape, each))}
      />
      {shape.each === 'dial' && (
        <Choice
          label="Its steps"
          value={shape.coding}
          options={CODINGS}
          choose={(coding) => change({ coding })}
        />
      )}
      {curved && <ValueFields shape={shape} change={change} />}
      {shape.each === 'list' && (
        <TypedField
          label="List"
          value={shape.list.join(', ')}
          commit={(text) => change({ list: orThrow(readList(text)) })}
        />
      )}
      {shape.each !== 'list' && !(curved && shape.curve === 'table') && (
        <TypedField
          label={curved ? 'Becomes' : shape.each === 'toggle' ? 'Ends' : 'Within'}
          value={writeScale(shape.out)}
          commit={(text) => change({ out: orThrow(readScale(text)) })}
        />
      )}
      <MoreFields shape={shape} change={change} />
    </>
  );
}

/** A list that has nothing in it begins with the ends. */
const startOf = (shape: Shape, each: Shape['each']): Partial<Shape> =>
  each === 'list' && shape.list.length === 0 ? { each, list: [...shape.out] } : { each };

function ValueFields({ shape, change }: { shape: Shape; change: Change }) {
  const ownPoints = (): [number, number][] => shape.in.map((x) => [x, curveValue(shape, x)]);
  return (
    <>
      {shape.curve !== 'table' && (
        <TypedField
          label="Heard"
          value={writeScale(shape.in)}
          commit={(text) => change({ in: orThrow(readScale(text)) })}
        />
      )}
      <Choice
        label="Curve"
        value={shape.curve}
        options={CURVES}
        choose={(curve) =>
          change(curve === 'table' && shape.table.length === 0 ? { curve, table: ownPoints() } : { curve })
        }
      />
      {shape.curve === 'table' && (
        <TypedField
          label="Points"
          value={writePoints(shape.table)}
          hint="What is heard and what it becomes, like 0 0, 64 0.2, 127 1."
          commit={(text) => change({ table: orThrow(readPoints(text)) })}
        />
      )}
    </>
  );
}

function readDeadband(text: string): number {
  const value = Number(text.trim());
  if (text.trim() === '' || !(value >= 0)) throw new Error('A deadband is 0 or more, like 3.');
  return value;
}

/** What most mappings need none of: shown where it is set, and on demand. */
function MoreFields({ shape, change }: { shape: Shape; change: Change }) {
  const [more, setMore] = useState(false);
  return (
    <>
      {(more || shape.deadband > 0) && (
        <TypedField
          label="Deadband"
          value={String(shape.deadband)}
          hint="A change of no more than this does not pass."
          commit={(text) => change({ deadband: readDeadband(text) })}
        />
      )}
      {(more || shape.glideMs > 0) && (
        <TypedField
          label="Glide"
          value={`${shape.glideMs} ms`}
          commit={(text) => change({ glideMs: orThrow(readMs(text, 60_000)) })}
        />
      )}
      {(more || shape.steps > 0) && (
        <TypedField
          label="Steps"
          value={shape.steps === 0 ? 'none' : String(shape.steps)}
          commit={(text) =>
            change({ steps: /^\s*(none|)\s*$/i.test(text) ? 0 : orThrow(readWhole(text, 'Steps', 0, 1000)) })
          }
        />
      )}
      {(more || shape.round) && (
        <div className="py-1 pl-24">
          <Switch
            label="Whole numbers"
            on={shape.round}
            change={(round) => void change({ round }).catch(() => undefined)}
          />
        </div>
      )}
      {!more && (
        <Button look="bare" className="ml-22" onClick={() => setMore(true)}>
          Deadband, glide, steps …
        </Button>
      )}
    </>
  );
}

/** The curve, with a dot where the last value fell. */
function Graph({ mappingId, shape }: { mappingId: string; shape: Shape }) {
  const fired = useLiveValue('mappings', (store) => store.fired(mappingId), 33);
  const place = fired && shape.each === 'value' ? placeOf(shape, fired.heard) : null;
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
