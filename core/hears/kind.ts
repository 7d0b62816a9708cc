/** What one message that mappings hear is, in one place: each has a file here, and a line in `../hears.ts`. Its form is in web/src/mappings/hear-fields. */
import type { z } from 'zod';
import type { Heard } from '../mapping/heard.js';
import type { Outcome } from '../mapping/outcome.js';
import type { MiddleC } from '../midi/words.js';
import type { Protocol } from '../show/line.js';
import type { ChannelKind, Signal } from '../signal.js';
import type { Typed } from '../typed/range.js';
import type { KeyCode } from '../keys/codes.js';
import type { HearParts, Wanted } from './parts.js';

/** What a new hear keeps of another. */
export interface HearStart {
  lineId: string | null;
  channels: NonNullable<HearParts['channels']>;
  numbers: Wanted;
  code: KeyCode;
}

/** Where the index of mappings keeps those that hear it. */
export type Spot =
  /** By kind of message, channel and number. */
  | { in: 'cells'; kinds: readonly ChannelKind[] }
  | { in: 'osc'; address: string }
  | { in: 'slots'; slots: [number, number] }
  | { in: 'keys'; code: string }
  /** By channel and number, 0–31, of two controllers that say it together. */
  | { in: 'pairs'; numbers: [number, number] }
  | { in: 'parameters'; registered: boolean; parameter: number }
  | { in: 'templates'; template: string }
  /** By its command's number and its cue; empty for any. */
  | { in: 'showControl'; command: number; cue: string };

/** Reads a signal that the index gave to the mapping. @returns null once `into` is filled; else why it is not taken, and `into` is unchanged */
export type Read = (signal: Signal, into: Heard) => Outcome | null;

/** One thing of a signal that a mapping wanted otherwise. */
export interface Miss<H> {
  words: string;
  /** The hear that would not have missed it; null where that would be another mapping. */
  hear: H | null;
}

/** What a hear is of a control that a layout can name. */
export type LayoutKind = 'note' | 'control' | 'bend';

export interface HearInfo {
  /** As the interface says it. */
  words: string;
  /** The same with an article, beside what came instead: `a press`. */
  wanted: string;
  /** What a line must carry for it to come. */
  protocol: Protocol;
  /** What its number is called; null where the message has none. */
  number: 'Note' | 'Controller' | 'Program' | 'Slot' | null;
  /** What its value is called, and the largest it can be; null where it has none. */
  value: { words: string; high: number } | null;
  /** Both the press and the release are heard: what it sends can be held. */
  holds: boolean;
  /** The control of a layout that it is of. */
  layout?: LayoutKind;
}

export interface HearKindInfo<Given, H> extends HearInfo {
  /** A new one, which keeps what it can of another. */
  start(from: HearStart): Given;
  /** What is heard, without its line: `Note 36 pressed`, `CC 21 moves`. */
  title(hear: H): string;
  /** The details under the title: `note 36 (C2) · ch 10 · any force`. */
  detail(hear: H, middleC: MiddleC): string;
  /** The single controls that it hears, without their line (core/place); none where it hears broadly. */
  controls(hear: H): string[];
  spot(hear: H): Spot;
  /** @param texts what a text that is heard counts as */
  reader(hear: H, texts: readonly [string, number][]): Read;
  /** What of a signal it wanted otherwise, without its line. */
  misses(hear: H, signal: Signal, middleC: MiddleC): Miss<H>[];
  /** Its number or address as it stands in a column of a table. */
  column: { write(hear: H): string; read(text: string, middleC: MiddleC): Typed<Partial<H>> } | null;
}

/** A message with the schema of its members. */
export interface HearKindOf<Schema extends z.ZodType> extends HearKindInfo<
  z.input<Schema>,
  z.output<Schema>
> {
  schema: Schema;
}
