/** Mappings in words, for the sheet, the reports and the screen reader. */
import { isNone } from '../time/span.js';
import { spanWords } from '../typed/span.js';
import { hearTitle } from '../hears.js';
import { noteName, type MiddleC } from '../midi/words.js';
import type { Mapping } from '../show/mapping.js';
import type { Shape } from '../show/shape.js';
import type { When } from '../show/when.js';
import { writeScale } from '../typed/range.js';

/** Says the conditions of a mapping: `twice in 300 ms · while note 40 is held`. Empty for none. */
export function whenWords(when: When, middleC: MiddleC): string {
  const parts: string[] = [];
  const { onceInMs, twiceInMs, heldForMs, changed, crossing, shift } = when;
  if (shift)
    parts.push(
      `while note ${shift.number} (${noteName(shift.number, middleC)}) ch ${shift.channel + 1} is held`,
    );
  if (crossing) parts.push(`as it ${crossing.way === 'rises' ? 'rises to' : 'falls below'} ${crossing.at}`);
  if (changed) parts.push('when it changes');
  if (twiceInMs > 0) parts.push(`twice in ${twiceInMs} ms`);
  if (heldForMs > 0) parts.push(`held for ${heldForMs} ms`);
  if (onceInMs > 0) parts.push(`once in ${onceInMs} ms`);
  return parts.join(' · ');
}

const CURVE_WORDS: Record<Shape['curve'], string> = {
  straight: '',
  'slow-start': 'slow start',
  'fast-start': 'fast start',
  'slow-ends': 'slow at both ends',
  table: 'by a table',
  frequency: 'note to Hz',
  formula: '',
};

const shownNumber = (value: number): string => String(Number(value.toFixed(4))).replace('-', '−');

export function shapeWords(shape: Shape): string {
  if (shape.each === 'value' && shape.curve === 'formula') return `= ${shape.formula || '…'}`;
  const scale = `${shape.from === 'number' ? 'number ' : ''}${writeScale(shape.in)} → ${writeScale(shape.out)}`;
  const made = {
    value: scale,
    toggle: `toggles ${writeScale(shape.out)}`,
    list: `next of ${shape.list.join(', ')}`,
    dice: `random in ${writeScale(shape.out)}`,
    dial: `a dial’s steps · ${scale}`,
  };
  const parts = [made[shape.each]];
  if (shape.each === 'value') parts.push(CURVE_WORDS[shape.curve]);
  if (shape.colour) parts.push(`${shape.colour.of} of a colour`);
  if (shape.texts.length > 0) parts.push('texts by a table');
  if (shape.offset !== 0) parts.push(`${shape.offset > 0 ? '+' : ''}${shownNumber(shape.offset)}`);
  if (shape.limits) parts.push(`within ${writeScale(shape.limits)}`);
  if (shape.pickUp) parts.push('picked up');
  if (shape.steps > 0) parts.push(`${shape.steps} steps`);
  if (shape.round) parts.push('whole numbers');
  if (shape.deadband > 0) parts.push(`deadband ${shape.deadband}`);
  const glide = { ms: shape.glideMs, beats: shape.glideBeats };
  if (!isNone(glide)) parts.push(`glide ${spanWords(glide)}`);
  return parts.filter(Boolean).join(' · ');
}

/** Returns the name of a mapping; if it has none, what it hears. */
export function mappingName(mapping: Mapping): string {
  return mapping.name || hearTitle(mapping.hear);
}
