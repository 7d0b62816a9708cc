/** Mappings in words, for the sheet, the reports and the screen reader. */
import { keyWords } from '../keys/codes.js';
import { COMMAND_WORDS } from '../midi/show-control.js';
import { HEAR_MESSAGES } from './hear.js';
import { noteName, type MiddleC } from '../midi/words.js';
import type { Hear } from '../show/hear.js';
import type { Mapping } from '../show/mapping.js';
import type { Shape } from '../show/shape.js';
import type { When } from '../show/when.js';
import { writeChannels, writeNotes, writeScale, writeSpan } from '../typed/range.js';

/** What is heard, without its line: `Note 36 pressed`, `CC 21 moves`. */
export function hearTitle(hear: Hear): string {
  switch (hear.message) {
    case 'pressed':
    case 'released':
    case 'held':
      return hear.numbers === 'any'
        ? `Any note ${hear.message}`
        : `Note ${writeSpan(hear.numbers)} ${hear.message}`;
    case 'notePressure':
      return hear.numbers === 'any' ? 'Pressure on any note' : `Pressure on note ${writeSpan(hear.numbers)}`;
    case 'control':
      return hear.numbers === 'any' ? 'Any controller moves' : `CC ${writeSpan(hear.numbers)} moves`;
    case 'program':
      return hear.numbers === 'any' ? 'Any program' : `Program ${writeSpan(hear.numbers)}`;
    case 'pressure':
      return 'Pressure';
    case 'bend':
      return 'Pitch bend';
    case 'control14':
      return hear.numbers === 'any'
        ? 'Any 14-bit controller moves'
        : `CC ${writeSpan(hear.numbers)} moves, 14-bit`;
    case 'parameter':
      return `${hear.registered ? 'RPN' : 'NRPN'} ${hear.parameter} moves`;
    case 'sysex':
      return 'System-exclusive';
    case 'showControl':
      return `Show control: ${COMMAND_WORDS[hear.command]}${hear.cue && ` cue ${hear.cue}`}`;
    case 'osc':
      return hear.address;
    case 'slot':
      return hear.slots === 'any' ? 'Any slot changes' : `Slot ${writeSpan(hear.slots)} changes`;
    case 'keyPressed':
      return `Key ${keyWords(hear.code)} pressed`;
    case 'keyHeld':
      return `Key ${keyWords(hear.code)} held`;
  }
}

/** The details under the title: `note 36 (C2) · ch 10 · any force`. */
export function hearDetail(hear: Hear, middleC: MiddleC): string {
  if (hear.message === 'osc') return hear.argument === 0 ? 'first number' : `argument ${hear.argument}`;
  if (hear.message === 'sysex') return hear.template;
  if (hear.message === 'showControl') {
    const device = hear.device === null ? 'any device' : `as device ${hear.device}`;
    return hear.list ? `list ${hear.list} · ${device}` : device;
  }
  if (hear.message === 'slot') return hear.values === 'any' ? 'any level' : `level ${writeSpan(hear.values)}`;
  if ('code' in hear) return hear.code;
  const parts: string[] = [];
  if ('numbers' in hear && hear.numbers !== 'any') {
    if (hear.message === 'control' || hear.message === 'control14')
      parts.push(`CC ${writeSpan(hear.numbers)}`);
    else if (hear.message === 'program') parts.push(`program ${writeSpan(hear.numbers)}`);
    else if (hear.numbers[0] === hear.numbers[1]) parts.push(`note ${writeNotes(hear.numbers, middleC)}`);
    else parts.push(`notes ${hear.numbers.map((n) => noteName(n, middleC)).join('–')}`);
  }
  parts.push(hear.channels === 'any' ? 'any channel' : `ch ${writeChannels(hear.channels)}`);
  if ('values' in hear && hear.values !== 'any')
    parts.push(
      `${HEAR_MESSAGES[hear.message].value?.words.toLowerCase() ?? 'value'} ${writeSpan(hear.values)}`,
    );
  return parts.join(' · ');
}

/** When it is heeded, where not always: `twice in 300 ms · while note 40 is held`. */
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
  if (shape.glideMs > 0) parts.push(`glide ${shape.glideMs} ms`);
  return parts.filter(Boolean).join(' · ');
}

/** What a mapping is called: the name it was given, or what it hears. */
export function mappingName(mapping: Mapping): string {
  return mapping.name || hearTitle(mapping.hear);
}
