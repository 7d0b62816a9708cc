/** Describes one kind of send. Each kind has a file here and a line in `../sends.ts`; its form is in web/src/mappings/send-fields. */
import type { z } from 'zod';
import type { MiddleC } from '../midi/words.js';
import { beats, duration, lineId, scale } from '../show/fields.js';
import type { Protocol } from '../show/line.js';
import type { BeatSpan, Span } from '../time/span.js';
import type { Typed } from '../typed/range.js';
import type { CompiledSend, SendPlace } from './compiled.js';

/** What every send has. */
export const SENT = {
  lineId,
  /** It is sent this much later, in ms. */
  delayMs: duration(60_000, 'A delay is a time from 0 to 60 000 ms.').default(0),
  /** The same in beats, or until the next beat or bar. */
  delayBeats: beats,
  /** The range that the shape's `out` is mapped to for this send; null to leave the value as it is. */
  range: scale.nullable().default(null),
};

/** The members that a new send takes over from the one before it. */
export interface Start {
  lineId: string | null;
  delayMs: number;
  delayBeats: BeatSpan | null;
  /** 0–15. */
  channel: number;
  /** 0–127. */
  number: number;
}

/** The parts of a show that the words of sends refer to. */
export interface Names {
  settings: { middleC: MiddleC };
  moments: readonly { id: string; cue: string; name: string }[];
  banks: readonly { id: string; name: string }[];
  motions: readonly { id: string; name: string }[];
}

/** How the show is after a send has done something to it. */
export interface Done {
  /** Whether a bank is on now. */
  isOn(bankId: string | null): boolean;
  /** The tempo now, in beats a minute; null if it is not known. */
  bpm: number | null;
}

/** How the number or address of a send is written in a column of a table. */
export interface Column<S> {
  write(send: S): string;
  /** @returns the members of the send that the text sets */
  read(text: string, middleC: MiddleC): Typed<Partial<S>>;
}

/** `Given` is a send as it is written down, `S` the same after it was read. */
export interface SendKindInfo<Given, S> {
  /** Its name in the interface. */
  words: string;
  /** The protocol of the lines that it can be sent on; null if it acts on the show itself and needs no line. */
  protocol: Protocol | null;
  /** The whole range of its values. */
  out: [low: number, high: number];
  /** The whole range of one send, if it differs from that of its kind. */
  outOf?(send: S): [low: number, high: number];
  /** True if what it sends sounds or is held until it is released. */
  holds: boolean;
  /** A new one. */
  start(from: Start): Given;
  compile(send: S, place: SendPlace): CompiledSend;
  /** Says what is sent, without its line: `/fog/density`, `note 36 (C2)`, `slot 5`. */
  title(send: S, middleC: MiddleC): string;
  /** The details under it: `float`, `ch 3`, `level 0–255`. */
  detail(send: S): string;
  /** What a moment does with it and a value: `CC 21 = 64`. Without this the title says it. */
  said?(send: S, value: number, names: Names): string;
  /** Says what a mapping has just done to the show with it: `bank Storm on`, `tapped: 97.3`. Without this `said` says it. */
  done?(send: S, value: number, names: Names, now: Done): string;
  /** The same as it is typed into a cell of the running order (core/typed/moment-cell reads it); null if it cannot be typed. */
  typed?(send: S, value: number, names: Names): string | null;
  /** The place that it moves, without its line (core/place); null or left out if it does not move exactly one place. */
  place?(send: S): string | null;
  /** Returns the same send, moved by a number of places, if it can follow the heard number; null beyond the last place. */
  movedOn?(send: S, step: number): S | null;
  /** Returns the same send to the next target, for a mapping that is copied. Without this `movedOn` says it. */
  next?(send: S, step: number): S;
  /** The places where it leaves something that stays until something else is sent there. */
  leaves?(send: S): readonly string[];
  /** True if its value can move to its end over time. */
  ramps?: boolean;
  /** The slot that it sets and the level, 0–255; null if it does not set exactly one level. */
  level?(send: S, value: number): { slot: number; level: number } | null;
  /** How long what it sends sounds; null or left out if something else ends it. */
  length?(send: S): Span | null;
  column?: Column<S>;
}

/** A kind of send with the schema of its members. */
export interface SendKindOf<Schema extends z.ZodType> extends SendKindInfo<
  z.input<Schema>,
  z.output<Schema>
> {
  schema: Schema;
}
