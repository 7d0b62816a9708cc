/** Describes one kind of message that mappings hear. Each kind has a file here and a line in `../hears.ts`; its form is in web/src/mappings/hear-fields. */
import type { z } from 'zod';
import type { Heard } from '../mapping/heard.js';
import type { Outcome } from '../mapping/outcome.js';
import type { MiddleC } from '../midi/words.js';
import type { Protocol } from '../show/line.js';
import type { ChannelKind, Signal } from '../signal.js';
import type { Typed } from '../typed/range.js';
import type { KeyCode } from '../keys/codes.js';
import type { HearParts, Wanted } from './parts.js';

/** The members that a new hear takes over from the one before it. */
export interface HearStart {
  lineId: string | null;
  channels: NonNullable<HearParts['channels']>;
  numbers: Wanted;
  code: KeyCode;
}

/** Where the index stores the mappings that hear this message. */
export type Spot =
  /** By kind of message, channel and number. */
  | { in: 'cells'; kinds: readonly ChannelKind[] }
  | { in: 'osc'; address: string }
  | { in: 'slots'; slots: [number, number] }
  | { in: 'keys'; code: string }
  /** By channel and number, 0–31, of the two controllers that form one value. */
  | { in: 'pairs'; numbers: [number, number] }
  | { in: 'parameters'; registered: boolean; parameter: number }
  | { in: 'templates'; template: string }
  /** By the number of its command and by its cue; an empty cue stands for any. */
  | { in: 'showControl'; command: number; cue: string };

/** Reads a signal that the index gave to the mapping. @returns null once `into` is filled; else why it is not taken, and `into` is unchanged */
export type Read = (signal: Signal, into: Heard) => Outcome | null;

/** One way in which a signal differs from what a mapping hears. */
export interface Miss<H> {
  words: string;
  /** The hear changed so that it matches; null if that would make it a different mapping. */
  hear: H | null;
  /** How far off it is: 1 by default, less for what is most often wrong by mistake. */
  far?: number;
}

/** The kind of control in a layout that a hear belongs to. */
export type LayoutKind = 'note' | 'control' | 'bend';

export interface HearInfo {
  /** Its name in the interface. */
  words: string;
  /** Its name with an article, for “wanted a press, got a release”. */
  wanted: string;
  /** The protocol of the lines that carry it. */
  protocol: Protocol;
  /** The name of its number; null if the message has none. */
  number: 'Note' | 'Controller' | 'Program' | 'Slot' | null;
  /** The name and the largest value of its value; null if it has none. */
  value: { words: string; high: number } | null;
  /** True if both the press and the release are heard, so that what is sent can be held. */
  holds: boolean;
  /** If it never says that its control was let go, by a release or by a value that comes back: the message that does instead, or null for none. */
  neverLetGo?: { readonly instead: string | null };
  /** The kind of control in a layout that it belongs to. */
  layout?: LayoutKind;
  /** What is typed before its number in a table: `note`, `cc`; empty before an address. Without this it is written as JSON. */
  typed?: string;
}

export interface HearKindInfo<Given, H> extends HearInfo {
  /** Creates a new hear, and takes over what fits from the one before it. */
  start(from: HearStart): Given;
  /** Says what is heard, without its line: `Note 36 pressed`, `CC 21 moves`. */
  title(hear: H): string;
  /** The details under the title: `note 36 (C2) · ch 10 · any force`. */
  detail(hear: H, middleC: MiddleC): string;
  /** The single controls that it hears, without their line (core/place); none if it hears a wide range. */
  controls(hear: H): string[];
  spot(hear: H): Spot;
  /** @param texts pairs of a text and the number that it counts as */
  reader(hear: H, texts: readonly [string, number][]): Read;
  /** Returns how a signal differs from what it hears, without its line. */
  misses(hear: H, signal: Signal, middleC: MiddleC): Miss<H>[];
  /** How its number or address is written in a column of a table. */
  column: { write(hear: H): string; read(text: string, middleC: MiddleC): Typed<Partial<H>> } | null;
}

/** A kind of message, with the schema of its members. */
export interface HearKindOf<Schema extends z.ZodType> extends HearKindInfo<
  z.input<Schema>,
  z.output<Schema>
> {
  schema: Schema;
}
