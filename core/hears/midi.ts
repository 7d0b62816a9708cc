/** What hears of plain MIDI messages share. Each hears some kinds of message, on some channels, with or without a number and a value. */
import { channelPlace } from '../place.js';
import { noteName, type MiddleC } from '../midi/words.js';
import type { ChannelKind } from '../signal.js';
import { readNotes, readNumbers, writeChannels, writeNotes, writeSpan, type Typed } from '../typed/range.js';
import type { HearInfo, HearKindInfo } from './kind.js';
import { another, channelMiss, numberMiss, valueMiss } from './miss.js';
import { channelsOf, numbersOf, type HearParts, type Wanted } from './parts.js';
import { readChannel } from './read.js';

/** A mapping that hears more controls than this is assumed to do so on purpose. */
export const BROAD = 256;

export const range = (from: number, to: number): number[] =>
  Array.from({ length: to - from + 1 }, (_, at) => from + at);

/** Writes a range as in tables: with a hyphen. */
export const plainSpan = (span: Wanted): string => writeSpan(span).replace('–', '-');

/** `note 36 (C2)`, `notes C2–D2`, `CC 21`, `program 3`; null for any. */
function numberWords(numbers: Wanted, called: HearInfo['number'], middleC: MiddleC): string | null {
  if (numbers === 'any') return null;
  if (called === 'Controller') return `CC ${writeSpan(numbers)}`;
  if (called === 'Program') return `program ${writeSpan(numbers)}`;
  return numbers[0] === numbers[1]
    ? `note ${writeNotes(numbers, middleC)}`
    : `notes ${numbers.map((number) => noteName(number, middleC)).join('–')}`;
}

/** Writes channels and values as in the details under a title. */
export function midiDetail(
  hear: HearParts,
  { number, value }: Pick<HearInfo, 'number' | 'value'>,
  middleC: MiddleC,
): string {
  const { numbers, channels = 'any', values = 'any' } = hear;
  return [
    numbers === undefined ? null : numberWords(numbers, number, middleC),
    channels === 'any' ? 'any channel' : `ch ${writeChannels(channels)}`,
    values === 'any' ? null : `${value?.words.toLowerCase() ?? 'value'} ${writeSpan(values)}`,
  ]
    .filter((part) => part !== null)
    .join(' · ');
}

/** Returns places by channel and number; none if there are too many to be listed. @param sort the kind of place (core/place) */
export function channelControls(hear: HearParts, sort: string): string[] {
  const channels = channelsOf(hear);
  const [from, to] = numbersOf(hear);
  if (channels.length * (to - from + 1) > BROAD) return [];
  return channels.flatMap((channel) => range(from, to).map((number) => channelPlace(sort, channel, number)));
}

interface Plain extends Omit<HearInfo, 'protocol'> {
  kinds: readonly ChannelKind[];
  /** The name of its kind of place. A press and its release are one control. */
  place: string;
  /** Its title for a range of numbers. */
  title(numbers: string): string;
  any: string;
}

type PlainHear = HearParts & { lineId: string | null };

/** Returns everything about a plain MIDI message except its schema and its `start`. */
export function plainMidi<H extends PlainHear>({
  kinds,
  place,
  title,
  any,
  ...info
}: Plain): Omit<HearKindInfo<unknown, H>, 'start'> {
  const { number, value } = info;
  return {
    ...info,
    protocol: 'midi',
    title: ({ numbers }) => (numbers === undefined || numbers === 'any' ? any : title(writeSpan(numbers))),
    detail: (hear, middleC) => midiDetail(hear, info, middleC),
    controls: (hear) => channelControls(hear, place),
    spot: () => ({ in: 'cells', kinds }),
    reader: (hear) => readChannel(hear, info.holds),
    misses(hear, signal, middleC) {
      if (!('channel' in signal)) return [another(info.wanted, signal)];
      return [
        ...(kinds.includes(signal.kind) ? [] : [another(info.wanted, signal)]),
        ...(number === null ? [] : numberMiss(hear, signal.number, number, middleC)),
        ...channelMiss(hear, signal.channel),
        // The velocity of a release does not matter.
        ...(signal.kind === 'noteOff' ? [] : valueMiss(hear, value?.words.toLowerCase() ?? '', signal.value)),
      ];
    },
    column:
      number === null
        ? null
        : {
            write: ({ numbers = 'any' }) => plainSpan(numbers),
            read(text, middleC) {
              const read: Typed<Wanted> =
                number === 'Note' ? readNotes(text, middleC) : readNumbers(text, 'A number');
              return read.ok ? { ok: true, value: { numbers: read.value } as Partial<H> } : read;
            },
          },
  };
}

export const FORCE = { words: 'Force', high: 127 };
export const SEVEN_BITS = { words: 'Value', high: 127 };
export const FOURTEEN_BITS = { words: 'Value', high: 16_383 };
