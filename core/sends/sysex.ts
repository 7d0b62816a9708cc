/** System-exclusive as it is typed, with places for the value (core/midi/sysex-template). */
import { z } from 'zod';
import { fillSysex, readSysexTemplate } from '../midi/sysex-template.js';
import { sysexTemplate } from '../show/fields.js';
import { nowhere, plain, rounded } from './compiled.js';
import { SENT, type SendKindOf } from './kind.js';

const schema = z.object({ kind: z.literal('sysex'), ...SENT, template: sysexTemplate(false) });

export const sysex: SendKindOf<typeof schema> = {
  schema,
  words: 'System-exclusive',
  protocol: 'midi',
  out: [0, 127],
  outOf({ template }) {
    const read = readSysexTemplate(template);
    return [0, read.ok ? read.value.high : 1];
  },
  holds: false,
  start: ({ lineId, delayMs, delayBeats }) => ({
    kind: 'sysex',
    lineId,
    delayMs,
    delayBeats,
    template: 'F0 7D vv F7',
  }),
  compile({ template }) {
    const read = readSysexTemplate(template);
    if (!read.ok) return nowhere();
    const bytes = new Uint8Array(read.value.parts.length);
    const { high } = read.value;
    return plain([{ kind: 'sysex', bytes }], (value) => {
      fillSysex(read.value, rounded(value, high), bytes);
      // Without a place for the value it is only sent or not.
      return high > 1 || value > 0;
    });
  },
  title: ({ template }) => template,
  detail: () => 'system-exclusive',
  column: {
    write: ({ template }) => template,
    read: (template) => ({ ok: true, value: { template } }),
  },
};
