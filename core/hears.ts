/** Every message that mappings hear. A new one is a file in `hears/` and a line in each of the two lists. */
import { z } from 'zod';
import { bend } from './hears/bend.js';
import { control } from './hears/control.js';
import { control14 } from './hears/control14.js';
import { held } from './hears/held.js';
import { keyHeld } from './hears/key-held.js';
import { keyPressed } from './hears/key-pressed.js';
import type { HearKindInfo } from './hears/kind.js';
import { notePressure } from './hears/note-pressure.js';
import { osc } from './hears/osc.js';
import { parameter } from './hears/parameter.js';
import { pressed } from './hears/pressed.js';
import { pressure } from './hears/pressure.js';
import { program } from './hears/program.js';
import { released } from './hears/released.js';
import { showControl } from './hears/show-control.js';
import { slot } from './hears/slot.js';
import { sysex } from './hears/sysex.js';
import type { MiddleC } from './midi/words.js';
import { placeOnLine } from './place.js';
import type { Protocol } from './show/line.js';

/** In the order in which the interface lists them. */
const MESSAGES = {
  pressed,
  released,
  held,
  control,
  notePressure,
  program,
  pressure,
  bend,
  control14,
  parameter,
  sysex,
  showControl,
  osc,
  slot,
  keyPressed,
  keyHeld,
} as const;

export const hearSchema = z.discriminatedUnion('message', [
  pressed.schema,
  released.schema,
  held.schema,
  control.schema,
  notePressure.schema,
  program.schema,
  pressure.schema,
  bend.schema,
  control14.schema,
  parameter.schema,
  sysex.schema,
  showControl.schema,
  osc.schema,
  slot.schema,
  keyPressed.schema,
  keyHeld.schema,
]);
export type Hear = z.infer<typeof hearSchema>;
export type HearMessage = Hear['message'];
export type HearOf<M extends HearMessage> = Extract<Hear, { message: M }>;
type Given = z.input<typeof hearSchema>;

/** A hear with the defaults for all that is not given. @throws ZodError */
export const makeHear = (given: Given): Hear => hearSchema.parse(given);

/** The description of each kind of message. Call its functions only with hears of that kind. */
export const HEARS = MESSAGES as unknown as Readonly<Record<HearMessage, HearKindInfo<Given, Hear>>>;
export const HEAR_MESSAGES = Object.keys(MESSAGES) as HearMessage[];

/** Returns the kinds of message of a protocol. */
export const messagesOf = (protocol: Protocol): HearMessage[] =>
  HEAR_MESSAGES.filter((message) => HEARS[message].protocol === protocol);

/** Returns the largest value of a kind of message; 1 if it has no value. */
export const highOf = (message: HearMessage): number => {
  const { value, number } = HEARS[message];
  return value ? value.high : number ? 127 : 1;
};

/** Creates a hear of a kind of message, and takes over what fits from another one. The rest accepts everything. */
export function hearAs(message: HearMessage, from?: Hear): Hear {
  return hearSchema.parse(
    HEARS[message].start({
      lineId: from?.lineId ?? null,
      channels: from && 'channels' in from ? from.channels : 'any',
      numbers: from && 'numbers' in from ? from.numbers : 'any',
      code: from && 'code' in from ? from.code : 'KeyA',
    }),
  );
}

/** Says what is heard, without its line: `Note 36 pressed`, `CC 21 moves`. */
export const hearTitle = (hear: Hear): string => HEARS[hear.message].title(hear);

/** The details under the title: `note 36 (C2) · ch 10 · any force`. */
export const hearDetail = (hear: Hear, middleC: MiddleC): string => HEARS[hear.message].detail(hear, middleC);

/** Returns the single controls that a mapping hears, with their line; none if it hears a wide range. A press and its release are one control. */
export const controlsOf = (hear: Hear): string[] =>
  HEARS[hear.message].controls(hear).map((place) => placeOnLine(hear.lineId, place));
