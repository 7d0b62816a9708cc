/** A DMX slot: the shaped value is its level, 0–255; or 0–65,535 over two slots, the coarse one first. */
import { z } from 'zod';
import { slotPlace } from '../place.js';
import { beats, duration, slot as slotNumber } from '../show/fields.js';
import type { SlotSignal } from '../signal.js';
import { isNone } from '../time/span.js';
import { readWhole } from '../typed/range.js';
import { spanWords } from '../typed/span.js';
import { equals } from './channel-words.js';
import { nowhere, plain, rgbOf, rounded, single } from './compiled.js';
import { SENT, type SendKindOf } from './kind.js';

const schema = z.object({
  kind: z.literal('slot'),
  ...SENT,
  slot: slotNumber,
  /** True if the slot follows the heard number. The lowest heard number moves `slot`; higher ones move slots that are as much higher. */
  follows: z.boolean().default(false),
  fine: z.boolean().default(false),
  /** The level, or a part of the shape's colour. */
  part: z.enum(['level', 'red', 'green', 'blue']).default('level'),
  /** Time in ms in which it fades from the current level of the slot. */
  fadeMs: duration(600_000, 'A fade is a time from 0 to 600 000 ms.').default(0),
  fadeBeats: beats,
});
type Slot = z.infer<typeof schema>;

const LAST = 512;
const widthOf = ({ fine }: Slot): number => (fine ? 2 : 1);

function title(send: Slot): string {
  if (send.follows) return `slot ${send.slot} and up`;
  return send.fine ? `slots ${send.slot} and ${send.slot + 1}` : `slot ${send.slot}`;
}

export const slot: SendKindOf<typeof schema> = {
  schema,
  words: 'DMX slot',
  protocol: 'dmx',
  out: [0, 255],
  outOf: ({ fine }) => [0, fine ? 65_535 : 255],
  holds: false,
  start: ({ lineId, delayMs, delayBeats }) => ({ kind: 'slot', lineId, delayMs, delayBeats, slot: 1 }),
  compile(send, { step, colour }) {
    const first = send.slot + (send.follows ? step * widthOf(send) : 0);
    if (first < 1 || first > LAST) return nowhere();
    const { part } = send;
    const levelOf = (value: number, high: number): number =>
      rounded(part === 'level' ? value : rgbOf(colour, value)[part] * high, high);
    const coarse: SlotSignal = { kind: 'slot', slot: first, level: 0 };
    if (!send.fine || first === LAST)
      return single(coarse, (signal, value) => (signal.level = levelOf(value, 255)));
    const second: SlotSignal = { kind: 'slot', slot: first + 1, level: 0 };
    return plain([coarse, second], (value) => {
      const all = levelOf(value, 65_535);
      coarse.level = all >> 8;
      second.level = all & 0xff;
      return true;
    });
  },
  title,
  detail: ({ part, fine, fadeMs: ms, fadeBeats }) =>
    [
      part === 'level' ? (fine ? 'coarse and fine' : 'level 0–255') : part,
      !isNone({ ms, beats: fadeBeats }) && `fade ${spanWords({ ms, beats: fadeBeats })}`,
    ]
      .filter(Boolean)
      .join(', '),
  said: equals(title),
  level: ({ slot: at, fine, part }, value) =>
    fine || part !== 'level' ? null : { slot: at, level: rounded(value, 255) },
  place: (send) => slotPlace(send.slot),
  movedOn(send, step) {
    const moved = send.slot + step * widthOf(send);
    return moved <= LAST ? { ...send, slot: moved, follows: false } : null;
  },
  leaves: (send) => Array.from({ length: widthOf(send) }, (_, at) => slotPlace(send.slot + at)),
  column: {
    write: (send) => String(send.slot),
    read(text) {
      const read = readWhole(text, 'A slot', 1, LAST);
      return read.ok ? { ok: true, value: { slot: read.value } } : read;
    },
  },
};
