/** Two controllers as one of fourteen bits: `numbers` are those of the high seven, 0–31 (MIDI 1.0). */
import { z } from 'zod';
import { lineId, span } from '../show/fields.js';
import { readNumbers, writeSpan } from '../typed/range.js';
import type { HearKindOf } from './kind.js';
import { channelControls, FOURTEEN_BITS, midiDetail, plainSpan } from './midi.js';
import { another, channelMiss, taking } from './miss.js';
import { channels, values } from './parts.js';
import { readChannel } from './read.js';

const NUMBER = 'A 14-bit controller is a number from 0 to 31, a range, or any.';
const LAST = 31;
const schema = z.object({
  message: z.literal('control14'),
  lineId,
  channels,
  numbers: z.union([z.literal('any'), span(0, LAST, NUMBER)], { message: NUMBER }),
  values,
});
type Control14 = z.infer<typeof schema>;

const INFO = { number: 'Controller', value: FOURTEEN_BITS } as const;
const WANTED = 'a 14-bit control change';
const numbersOf = ({ numbers }: Control14): [number, number] => (numbers === 'any' ? [0, LAST] : numbers);

export const control14: HearKindOf<typeof schema> = {
  schema,
  ...INFO,
  words: 'Control change, 14-bit',
  wanted: WANTED,
  protocol: 'midi',
  holds: false,
  layout: 'control',
  start: ({ lineId: line, channels: on, numbers }) => ({
    message: 'control14',
    lineId: line,
    channels: on,
    numbers: numbers === 'any' || numbers[1] > LAST ? 'any' : numbers,
    values: 'any',
  }),
  title: ({ numbers }) =>
    numbers === 'any' ? 'Any 14-bit controller moves' : `CC ${writeSpan(numbers)} moves, 14-bit`,
  detail: (hear, middleC) => midiDetail(hear, INFO, middleC),
  controls: (hear) => channelControls(hear, 'control14'),
  spot: (hear) => ({ in: 'pairs', numbers: numbersOf(hear) }),
  reader: (hear) => readChannel(hear),
  /** A signal is only one of the controllers that form the value. Only the engine knows whether the others arrived too. */
  misses(hear, signal) {
    if (signal.kind !== 'controlChange') return [another(WANTED, signal)];
    const onChannel = channelMiss(hear, signal.channel);
    const [from, to] = numbersOf(hear);
    const number = signal.number & LAST;
    if (signal.number >= 64) return [another(WANTED, signal), ...onChannel];
    if (number >= from && number <= to) return onChannel;
    return [
      {
        words: `wanted controller ${writeSpan([from, to])}, got ${number}`,
        hear: { ...hear, numbers: taking([from, to], number) },
      },
      ...onChannel,
    ];
  },
  column: {
    write: ({ numbers }) => plainSpan(numbers),
    read(text) {
      const read = readNumbers(text, 'A number');
      return read.ok ? { ok: true, value: { numbers: read.value } } : read;
    },
  },
};
