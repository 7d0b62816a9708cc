/** What one kind of send is, in one place: each kind has a file here, and a line in `index.ts`. Its form is in web/src/mappings/send-fields. */
import type { z } from 'zod';
import type { MiddleC } from '../midi/words.js';
import { duration, lineId, scale } from '../show/fields.js';
import type { Protocol } from '../show/line.js';
import type { Typed } from '../typed/range.js';
import type { CompiledSend, SendPlace } from './compiled.js';

/** What every send has. */
export const SENT = {
  lineId,
  /** It leaves this much later. */
  delayMs: duration(60_000, 'A delay is a time from 0 to 60 000 ms.').default(0),
  /** What the shape's `out` is laid over for this one; null: as it is. */
  range: scale.nullable().default(null),
};

/** What a new send keeps of another: where it goes, and on which channel and number. */
export interface Start {
  lineId: string | null;
  delayMs: number;
  /** 0–15. */
  channel: number;
  /** 0–127. */
  number: number;
}

/** What of a show the words of sends name. */
export interface Names {
  settings: { middleC: MiddleC };
  moments: readonly { id: string; cue: string; name: string }[];
  banks: readonly { id: string; name: string }[];
}

/** How a send's number or address stands in a column of a table. */
export interface Column<S> {
  write(send: S): string;
  /** @returns what of the send the text says */
  read(text: string, middleC: MiddleC): Typed<Partial<S>>;
}

/** A send's members as they are written down, and as they are read. */
export interface SendKindInfo<Given, S> {
  /** As the interface says it. */
  words: string;
  /** What a line must carry to be sent on; null for what is done to the show itself, and needs no line. */
  protocol: Protocol | null;
  /** The whole range of what it can carry. */
  out: [low: number, high: number];
  /** The same of one that carries less or more than others of its kind. */
  outOf?(send: S): [low: number, high: number];
  /** What is sent sounds, or is held, until it is released. */
  holds: boolean;
  /** A new one. */
  start(from: Start): Given;
  compile(send: S, place: SendPlace): CompiledSend;
  /** What is sent, without its line: `/fog/density`, `note 36 (C2)`, `slot 5`. */
  title(send: S, middleC: MiddleC): string;
  /** The details under it: `float`, `ch 3`, `level 0–255`. */
  detail(send: S): string;
  /** What a moment does with it and a value: `CC 21 = 64`. Without this the title says it. */
  said?(send: S, value: number, names: Names): string;
  /** The same as it is typed into a cell of the running order (core/typed/moment-cell reads it); null where no words say it. */
  typed?(send: S, value: number, names: Names): string | null;
  /** The place that it moves, without its line (core/place); null, or without this, where it is not one place. */
  place?(send: S): string | null;
  /** Of one that can follow the number that is heard: the same for a control so many places on; null past the last place. */
  movedOn?(send: S, step: number): S | null;
  /** The places in which it leaves something that stays: what is sent there later replaces it. */
  leaves?(send: S): readonly string[];
  /** A value can be on its way to its place. */
  ramps?: boolean;
  column?: Column<S>;
}

/** A kind of send with the schema of its members. */
export interface SendKindOf<Schema extends z.ZodType> extends SendKindInfo<
  z.input<Schema>,
  z.output<Schema>
> {
  schema: Schema;
}
