/** Every kind of send. A new one is a file in `sends/` and a line in each of the two lists. */
import { z } from 'zod';
import type { MiddleC } from './midi/words.js';
import { placeOnLine } from './place.js';
import { bank } from './sends/bank.js';
import { bend } from './sends/bend.js';
import { call } from './sends/call.js';
import type { CompiledSend, SendPlace } from './sends/compiled.js';
import { control } from './sends/control.js';
import { control14 } from './sends/control14.js';
import { key } from './sends/key.js';
import type { Names, SendKindInfo } from './sends/kind.js';
import { motion } from './sends/motion.js';
import { note } from './sends/note.js';
import { osc } from './sends/osc.js';
import { panic } from './sends/panic.js';
import { parameter } from './sends/parameter.js';
import { position } from './sends/position.js';
import { pressure } from './sends/pressure.js';
import { program } from './sends/program.js';
import { showControl } from './sends/show-control.js';
import { slot } from './sends/slot.js';
import { sysex } from './sends/sysex.js';
import { tap } from './sends/tap.js';
import { tempo } from './sends/tempo.js';
import { typing } from './sends/typing.js';

/** In the order in which the interface lists them. */
const KINDS = {
  osc,
  note,
  control,
  control14,
  parameter,
  program,
  bend,
  pressure,
  showControl,
  sysex,
  slot,
  key,
  typing,
  bank,
  call,
  tap,
  tempo,
  position,
  motion,
  panic,
} as const;

export const sendSchema = z.discriminatedUnion('kind', [
  osc.schema,
  note.schema,
  control.schema,
  control14.schema,
  parameter.schema,
  program.schema,
  bend.schema,
  pressure.schema,
  sysex.schema,
  slot.schema,
  key.schema,
  typing.schema,
  bank.schema,
  call.schema,
  tap.schema,
  tempo.schema,
  position.schema,
  motion.schema,
  panic.schema,
  showControl.schema,
]);
export type Send = z.infer<typeof sendSchema>;
export type SendKind = Send['kind'];
export type SendOf<K extends SendKind> = Extract<Send, { kind: K }>;
type Given = z.input<typeof sendSchema>;

/** A send with the defaults for all that is not given. @throws ZodError */
export const makeSend = <K extends SendKind>(given: Extract<Given, { kind: K }>): SendOf<K> =>
  sendSchema.parse(given) as SendOf<K>;

export const MOST_SENDS = 8;

/** The description of each kind of send. Call its functions only with sends of that kind. */
export const SENDS = KINDS as unknown as Readonly<Record<SendKind, SendKindInfo<Given, Send>>>;
export const SEND_KINDS = Object.keys(KINDS) as SendKind[];

const AT_START: SendPlace = { step: 0, colour: null };

export const compileSend = (send: Send, place: SendPlace = AT_START): CompiledSend =>
  SENDS[send.kind].compile(send, place);

/** Returns the whole range of the values of a send. */
export const rangeOf = (send: Send): [number, number] => {
  const { out, outOf } = SENDS[send.kind];
  return outOf ? outOf(send) : out;
};

/** Returns whether a send follows the heard number. */
export const followsNumber = (send: Send): boolean => 'follows' in send && send.follows;

/** Creates a send of a kind, and takes over what fits from another one. */
export function sendAs<K extends SendKind>(kind: K, lineId: string | null, from?: Send): SendOf<K> {
  const start = {
    lineId,
    delayMs: from?.delayMs ?? 0,
    delayBeats: from?.delayBeats ?? null,
    channel: from && 'channel' in from ? from.channel : 0,
    number: from && 'number' in from ? Math.min(127, from.number) : 60,
  };
  return sendSchema.parse(SENDS[kind].start(start)) as SendOf<K>;
}

/** Says what is sent, without its line: `/fog/density`, `note 36 (C2)`, `slot 5`. */
export const sendTitle = (send: Send, middleC: MiddleC): string => SENDS[send.kind].title(send, middleC);

/** The details under it: `float`, `ch 3`, `level 0–255`. */
export const sendDetail = (send: Send): string => SENDS[send.kind].detail(send);

/** Says what a moment does with a send and a value: `CC 21 = 64`. */
export function saidSend(send: Send, value: number, names: Names): string {
  const { said, title } = SENDS[send.kind];
  return said ? said(send, value, names) : title(send, names.settings.middleC);
}

/** Returns the place that a send moves, without its line; null if it does not move exactly one place. */
export const placeOf = (send: Send): string | null => SENDS[send.kind].place?.(send) ?? null;

/** The same with its line. */
export function targetOf(send: Send): string | null {
  const place = placeOf(send);
  return place === null ? null : placeOnLine(send.lineId, place);
}

/** Moves a send that follows the heard number by a number of places. Returns null beyond the last place. */
export function movedOn(send: Send, step: number): Send | null {
  const { movedOn: moved } = SENDS[send.kind];
  return moved ? moved(send, step) : send;
}

/** Returns the places where a send leaves something that stays, with their line. */
export const leavesBehind = (send: Send): string[] =>
  (SENDS[send.kind].leaves?.(send) ?? []).map((place) => placeOnLine(send.lineId, place));
