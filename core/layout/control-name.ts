/** The one name of a control: its name in a layout, else as it is written: `Pad 12`, `note 49 ch 10`. */
import { beginning } from '../show/text.js';
import type { Hear } from '../hears.js';
import type { Layout, LayoutControl } from '../show/layout.js';
import type { ChannelKind, Signal } from '../signal.js';
import { controlWords } from '../typed/hear-words.js';
import { layoutControlOf } from './layout.js';

const LONGEST = 60;

/** Names what is heard; empty for what has no name and no words, such as show control. */
export function controlName(layouts: readonly Layout[], hear: Hear): string {
  // What is held is the same control as what is pressed.
  const pressed = hear.message === 'held' ? ({ ...hear, message: 'pressed' } as Hear) : hear;
  return beginning(layoutControlOf(layouts, hear)?.name ?? controlWords(pressed) ?? '', LONGEST);
}

const KINDS: Partial<Record<ChannelKind, LayoutControl['kind']>> = {
  noteOn: 'note',
  noteOff: 'note',
  polyPressure: 'note',
  controlChange: 'control',
  pitchBend: 'bend',
};

/** Returns the name of the control that has sent a signal on a line; null where no layout of the line has it. */
export function senderControl(layouts: readonly Layout[], lineId: string, signal: Signal): string | null {
  if (!('channel' in signal)) return null;
  const kind = KINDS[signal.kind];
  for (const layout of layouts) {
    if (layout.lineId !== lineId) continue;
    const found = layout.controls.find(
      (one) =>
        one.kind === kind &&
        one.channel === signal.channel &&
        (kind === 'bend' || one.number === signal.number),
    );
    if (found) return found.name;
  }
  return null;
}
