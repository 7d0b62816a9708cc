/** The form of a shape. */
import { HEARS, type Hear } from '@tawny-signal/core/hears';
import { curveValue } from '@tawny-signal/core/mapping/shape';
import type { Mapping } from '@tawny-signal/core/show/mapping';
import type { Shape } from '@tawny-signal/core/show/shape';
import { readList, readPoints, readScale, writePoints, writeScale } from '@tawny-signal/core/typed/range';
import { Choice } from '../ui/choice';
import type { Option } from '../ui/select';
import { orThrow } from '../ui/or-throw';
import { TypedField } from '../ui/typed-field';
import { FormulaField } from './formula-field';
import type { ChangeShape, PartProps } from './part-props';
import { ShapeGraph } from './shape-graph';
import { MoreShape } from './shape-more';

const CURVES: Option<Shape['curve']>[] = [
  { value: 'straight', words: 'Straight' },
  { value: 'slow-start', words: 'Slow start (square)' },
  { value: 'fast-start', words: 'Fast start (square root)' },
  { value: 'slow-ends', words: 'Slow at both ends' },
  { value: 'table', words: 'By points' },
  { value: 'formula', words: 'By a formula' },
  { value: 'frequency', words: 'A note’s number to Hz' },
];
const EACH: Option<Shape['each']>[] = [
  { value: 'value', words: 'The value itself' },
  { value: 'toggle', words: 'Toggle between the ends' },
  { value: 'list', words: 'Next of a list' },
  { value: 'dice', words: 'A random value' },
  { value: 'dial', words: 'Steps of a dial, added up' },
];
const CODINGS: Option<Shape['coding']>[] = [
  { value: 'two', words: '1 up, 127 down' },
  { value: 'offset', words: '65 up, 63 down' },
  { value: 'sign', words: '1 up, 65 down' },
];
function fromsOf(hear: Hear): Option<Shape['from']>[] {
  const info = HEARS[hear.message];
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
  const change: ChangeShape = (values) => save({ shape: { ...shape, ...values } });
  return (
    <>
      <ShapeGraph mappingId={mapping.id} shape={shape} change={change} />
      <Choice label="From" value={shape.from} options={fromsOf(hear)} choose={(from) => change({ from })} />
      <Choice
        label="Output"
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
      {curved && <ValueFields mapping={mapping} change={change} />}
      {shape.each === 'list' && (
        <TypedField
          label="List"
          value={shape.list.join(', ')}
          commit={(text) => change({ list: orThrow(readList(text)) })}
        />
      )}
      {shape.each !== 'list' && !(curved && WITHOUT_RANGE.includes(shape.curve)) && (
        <TypedField
          label={curved ? 'Becomes' : shape.each === 'toggle' ? 'Ends' : 'Within'}
          value={writeScale(shape.out)}
          commit={(text) => change({ out: orThrow(readScale(text)) })}
        />
      )}
      <MoreShape hear={hear} shape={shape} change={change} />
    </>
  );
}

/** An empty list starts with the ends of the range. */
const startOf = (shape: Shape, each: Shape['each']): Partial<Shape> =>
  each === 'list' && shape.list.length === 0 ? { each, list: [...shape.out] } : { each };

/** Curves that set the sent value by themselves. */
const WITHOUT_RANGE: Shape['curve'][] = ['table', 'formula', 'frequency'];

function ValueFields({ mapping, change }: { mapping: Mapping; change: ChangeShape }) {
  const { shape } = mapping;
  const ownPoints = (): [number, number][] => shape.in.map((x) => [x, curveValue(shape, x)]);
  function startOfCurve(curve: Shape['curve']): Partial<Shape> {
    if (curve === 'table' && shape.table.length === 0) return { curve, table: ownPoints() };
    if (curve === 'formula' && shape.formula === '') return { curve, formula: 'value / 127' };
    return curve === 'frequency' ? { curve, from: 'number' } : { curve };
  }
  return (
    <>
      {!WITHOUT_RANGE.includes(shape.curve) && (
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
        choose={(curve) => change(startOfCurve(curve))}
      />
      {shape.curve === 'formula' && <FormulaField mapping={mapping} change={change} />}
      {shape.curve === 'table' && (
        <TypedField
          label="Points"
          value={writePoints(shape.table)}
          hint="Input and output pairs, like 0 0, 64 0.2, 127 1."
          commit={(text) => change({ table: orThrow(readPoints(text)) })}
        />
      )}
    </>
  );
}
