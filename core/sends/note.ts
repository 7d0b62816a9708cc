/** A note: the shaped value is its force, 0–127, and 0 is the release. */
import { z } from 'zod';
import { noteName, type MiddleC } from '../midi/words.js';
import { channelPlace, placeOn } from '../place.js';
import { beats, channel, duration, number } from '../show/fields.js';
import type { ChannelSignal } from '../signal.js';
import { inMs, type Span } from '../time/span.js';
import { spanWords } from '../typed/span.js';
import { readNotes, writeNotes } from '../typed/range.js';
import { nowhere, plain, rounded } from './compiled.js';
import { SENT, type SendKindOf } from './kind.js';

const schema = z.object({
  kind: z.literal('note'),
  ...SENT,
  channel,
  number,
  /** True if the note follows the heard number. The lowest heard number plays `number`; higher ones play as much higher notes. */
  follows: z.boolean().default(false),
  /** Length in ms; null if it sounds until its control is released. */
  lengthMs: duration(600_000, 'A length is a time from 0 to 600 000 ms.').nullable().default(null),
  lengthBeats: beats,
});

type Note = z.infer<typeof schema>;

function lengthOf({ lengthMs, lengthBeats }: Note): Span | null {
  if (lengthBeats) return { ms: 0, beats: lengthBeats };
  return lengthMs === null ? null : inMs(lengthMs);
}

const title = (send: Note, middleC: MiddleC): string =>
  `note ${writeNotes([send.number, send.number], middleC)}${send.follows ? ' and up' : ''}`;

export const note: SendKindOf<typeof schema> = {
  schema,
  words: 'Note',
  protocol: 'midi',
  out: [0, 127],
  holds: true,
  start: (from) => ({ kind: 'note', ...from }),
  compile(send, { step }) {
    const place = placeOn(send.channel, send.number, send.follows ? step : 0);
    if (!place) return nowhere();
    const signal: ChannelSignal = { kind: 'noteOn', ...place, value: 0 };
    return {
      ...plain([signal], () => true),
      releases: [{ kind: 'noteOff', ...place, value: 0 }],
      fill(value) {
        signal.value = rounded(value, 127);
        return signal.value === 0 ? 'releases' : 'signals';
      },
    };
  },
  title,
  detail(send) {
    const length = lengthOf(send);
    return `ch ${send.channel + 1}${length ? `, for ${spanWords(length)}` : ''}`;
  },
  said(send, value, { settings }) {
    const titled = title(send, settings.middleC);
    return value === 0 ? `${titled} off` : `${titled} ch ${send.channel + 1} at ${value}`;
  },
  typed(send, value, { settings }) {
    const force = value === 0 ? 'off' : `at ${value}`;
    const span = lengthOf(send);
    const length = span
      ? ` for ${span.beats ? spanWords(span) : `${Number((span.ms / 1000).toFixed(3))} s`}`
      : '';
    return `note ${send.number} (${noteName(send.number, settings.middleC)}) ch ${send.channel + 1} ${force}${length}`;
  },
  length: lengthOf,
  place: (send) => channelPlace('note', send.channel, send.number),
  movedOn(send, step) {
    const place = placeOn(send.channel, send.number, step);
    return place && { ...send, ...place, follows: false };
  },
  column: {
    write: (send) => String(send.number),
    read(text, middleC) {
      const notes = readNotes(text, middleC);
      if (!notes.ok) return notes;
      if (notes.value === 'any' || notes.value[0] !== notes.value[1])
        return { ok: false, reason: 'one note is sent, like 60 or C4.' };
      return { ok: true, value: { number: notes.value[0] } };
    },
  },
};
