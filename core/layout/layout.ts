/** Uses layouts: finds the control of a message and its name and the place of the next control. core/uses/controls says which are free. */
import type { LearnControl } from '../learn/gather.js';
import { channelsOf, numbersOf } from '../hears/parts.js';
import { HEARS, type Hear } from '../hears.js';
import type { Layout, LayoutControl } from '../show/layout.js';

/** Returns the single control that a hear belongs to; null for a range, and for messages that no controller sends. */
function controlOfHear(hear: Hear): Pick<LayoutControl, 'kind' | 'channel' | 'number'> | null {
  const channels = channelsOf(hear);
  const [from, to] = numbersOf(hear);
  if (channels.length !== 1 || from !== to) return null;
  const kind = HEARS[hear.message].layout;
  return kind ? { kind, channel: channels[0]!, number: from } : null;
}

/** The control of a layout that a mapping hears; null where no layout has it. */
export function layoutControlOf(layouts: readonly Layout[], hear: Hear): LayoutControl | null {
  const wanted = controlOfHear(hear);
  if (!wanted) return null;
  const { kind, channel, number } = wanted;
  for (const layout of layouts) {
    if (layout.lineId === null || layout.lineId !== hear.lineId) continue;
    const found = layout.controls.find(
      (control) => control.kind === kind && control.channel === channel && control.number === number,
    );
    if (found) return found;
  }
  return null;
}

/** Returns the hear of a mapping that is made for a control of a layout. */
export function hearOfControl({ kind, shape, channel, number }: LayoutControl, lineId: string | null): Hear {
  const channels: [number, number] = [channel, channel];
  const numbers: [number, number] = [number, number];
  if (kind === 'bend') return { message: 'bend', lineId, channels, values: 'any' };
  if (kind === 'note') return { message: 'pressed', lineId, channels, numbers, values: 'any' };
  return { message: 'control', lineId, channels, numbers, values: shape === 'button' ? [1, 127] : 'any' };
}

const SIZES: Record<LayoutControl['shape'], [width: number, height: number]> = {
  pad: [1, 1],
  button: [1, 1],
  knob: [1, 1],
  fader: [1, 3],
};
const NAMES: Record<LayoutControl['shape'], string> = {
  pad: 'Pad',
  button: 'Button',
  fader: 'Fader',
  knob: 'Knob',
};
/** The number of controls in a row, as on most controllers. */
const ROW = 8;

const covers = (control: LayoutControl, x: number, y: number): boolean =>
  x >= control.x && x < control.x + control.width && y >= control.y && y < control.y + control.height;

/** Returns the place of the next control: beside the last one of the same shape, or in a new row below all others. */
export function nextPlace(
  controls: readonly LayoutControl[],
  shape: LayoutControl['shape'],
): { x: number; y: number } {
  const [width, height] = SIZES[shape];
  const same = controls.findLast((control) => control.shape === shape);
  const bottom = Math.max(0, ...controls.map((control) => control.y + control.height));
  const free = (x: number, y: number): boolean =>
    controls.every((control) => !covers(control, x, y) && !covers(control, x + width - 1, y + height - 1));
  if (same && same.x + same.width + width <= ROW && free(same.x + same.width, same.y))
    return { x: same.x + same.width, y: same.y };
  return { x: 0, y: Math.min(63, bottom) };
}

const shapeOf = ({ options }: LearnControl, kind: LayoutControl['kind']): LayoutControl['shape'] => {
  if (kind === 'note') return 'pad';
  const [likely] = options;
  if (likely?.shape.each === 'dial') return 'knob';
  return likely && 'values' in likely.hear && likely.hear.values !== 'any' ? 'button' : 'fader';
};

/** Returns a touched control as the next one of a layout; null if no controller sends it or the layout has it already. */
export function controlFromTouch(
  controls: readonly LayoutControl[],
  touched: LearnControl,
  id: string,
): LayoutControl | null {
  const wanted = touched.options[0] && controlOfHear(touched.options[0].hear);
  if (!wanted) return null;
  const { kind, channel, number } = wanted;
  if (controls.some((one) => one.kind === kind && one.channel === channel && one.number === number))
    return null;
  const shape = shapeOf(touched, kind);
  const [width, height] = SIZES[shape];
  const name = `${NAMES[shape]} ${controls.filter((one) => one.shape === shape).length + 1}`;
  return { id, name, shape, kind, channel, number, ...nextPlace(controls, shape), width, height, lamp: null };
}
