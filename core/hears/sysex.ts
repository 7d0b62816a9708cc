/** System-exclusive: bytes as they are typed (core/midi/sysex-template). What stands at vv, or hh ll, is the value. */
import { z } from 'zod';
import { matchSysex, readSysexTemplate } from '../midi/sysex-template.js';
import { lineId, sysexTemplate } from '../show/fields.js';
import type { HearKindOf } from './kind.js';
import { another } from './miss.js';
import { fillPlain } from './read.js';

const schema = z.object({ message: z.literal('sysex'), lineId, template: sysexTemplate(true) });

const WANTED = 'other system-exclusive';

export const sysex: HearKindOf<typeof schema> = {
  schema,
  words: 'System-exclusive',
  wanted: WANTED,
  protocol: 'midi',
  number: null,
  value: null,
  holds: false,
  neverLetGo: { instead: null },
  start: (from) => ({ message: 'sysex', lineId: from.lineId, template: 'F0 7D vv F7' }),
  title: () => 'System-exclusive',
  detail: ({ template }) => template,
  controls: ({ template }) => [`sysex ${template.toLowerCase()}`],
  spot: ({ template }) => ({ in: 'templates', template }),
  reader({ template }) {
    const read = readSysexTemplate(template, true);
    return (signal, into) => {
      const value = signal.kind === 'sysex' && read.ok ? matchSysex(read.value, signal.bytes) : null;
      return value === null ? 'value' : fillPlain(into, value);
    };
  },
  misses({ template }, signal) {
    if (signal.kind !== 'sysex') return [another(WANTED, signal)];
    const read = readSysexTemplate(template, true);
    if (read.ok && matchSysex(read.value, signal.bytes) !== null) return [];
    return [{ words: `wanted the bytes ${template}, got others`, hear: null }];
  },
  column: {
    write: ({ template }) => template,
    read: (template) => ({ ok: true, value: { template } }),
  },
};
