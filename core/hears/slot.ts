/** A slot of the line's universe that changes; its level is the value. */
import { z } from 'zod';
import { slotPlace } from '../place.js';
import { lineId, span } from '../show/fields.js';
import { readSlots, writeSpan } from '../typed/range.js';
import type { HearKindOf, Miss } from './kind.js';
import { BROAD, plainSpan, range } from './midi.js';
import { another, taking, valueMiss } from './miss.js';
import { slots, slotsOf, wantsValue } from './parts.js';
import { fillPlain } from './read.js';

const LEVEL = 'A level from 0 to 255, a range like 1-255, or any.';
const schema = z.object({
  message: z.literal('slot'),
  lineId,
  slots,
  values: z.union([z.literal('any'), span(0, 255, LEVEL)], { message: LEVEL }),
});

export const slot: HearKindOf<typeof schema> = {
  schema,
  words: 'Slot changes',
  typed: 'slot',
  wanted: 'a DMX slot',
  protocol: 'dmx',
  number: 'Slot',
  value: { words: 'Level', high: 255 },
  holds: false,
  start: (from) => ({ message: 'slot', lineId: from.lineId, slots: 'any', values: 'any' }),
  title: (hear) => (hear.slots === 'any' ? 'Any slot changes' : `Slot ${writeSpan(hear.slots)} changes`),
  detail: ({ values }) => (values === 'any' ? 'any level' : `level ${writeSpan(values)}`),
  controls(hear) {
    const [from, to] = slotsOf(hear);
    return to - from >= BROAD ? [] : range(from, to).map(slotPlace);
  },
  spot: (hear) => ({ in: 'slots', slots: slotsOf(hear) }),
  reader: (hear) => (signal, into) =>
    signal.kind === 'slot' && wantsValue(hear, signal.level)
      ? fillPlain(into, signal.level, signal.slot)
      : 'value',
  misses(hear, signal) {
    if (signal.kind !== 'slot') return [another('a DMX slot', signal)];
    const [from, to] = slotsOf(hear);
    const other: Miss<typeof hear> = {
      words: `wanted slot ${writeSpan([from, to])}, got ${signal.slot}`,
      hear: { ...hear, slots: taking([from, to], signal.slot) },
    };
    return [
      ...(signal.slot < from || signal.slot > to ? [other] : []),
      ...valueMiss(hear, 'a level of', signal.level),
    ];
  },
  column: {
    write: (hear) => plainSpan(hear.slots),
    read(text) {
      const read = readSlots(text);
      return read.ok ? { ok: true, value: { slots: read.value } } : read;
    },
  },
};
