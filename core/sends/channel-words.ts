/** What sends on a MIDI channel share: their words and columns. */
import type { Typed } from '../typed/range.js';
import { readWhole } from '../typed/range.js';
import type { Names } from './kind.js';

export const channelDetail = ({ channel }: { channel: number }): string => `ch ${channel + 1}`;

/** Writes a value with at most four decimal places. */
export const shownValue = (value: number): string => String(Number(value.toFixed(4)));

/** `CC 21 = 64` */
export const equals =
  <S>(title: (send: S, middleC: Names['settings']['middleC']) => string) =>
  (send: S, value: number, { settings }: Names): string =>
    `${title(send, settings.middleC)} = ${shownValue(value)}`;

/** The column of a send that has a plain number. */
export const numberColumn = <S extends { number: number }>() => ({
  write: ({ number }: S): string => String(number),
  read(text: string): Typed<Partial<S>> {
    const read = readWhole(text, 'A number', 0, 16_383);
    return read.ok ? { ok: true, value: { number: read.value } as Partial<S> } : read;
  },
});
