/** What goes over the live connection as text: JSON, one message each way described here. */
import { z } from 'zod';
import type { Performance } from '../cues/log.js';
import type { Op } from '../edits.js';
import type { Outcome } from '../mapping/outcome.js';
import type { LiveShow } from '../show/live.js';
import type { MotionsSeen } from '../motion/seen.js';
import type { LineState } from './line-state.js';
import { hereSchema, type HereSeen } from '../people/here.js';
import { DAY_MS, FASTEST, SHORTEST_LOOP_MS, SLOWEST } from '../time/position.js';
import type { Transport } from '../time/transport.js';
import { momentSendSchema } from '../show/moment.js';
import { sendSchema } from '../sends.js';
import { line } from '../show/text.js';

const NAME = 'A name has at most 60 characters.';

export const portSchema = z.object({
  name: line(200, 'A port’s name has at most 200 characters.').min(1),
  in: z.boolean(),
  out: z.boolean(),
  /** True if another program uses the port, so that nothing can pass. */
  held: z.boolean().optional(),
});
export type Port = z.infer<typeof portSchema>;

/** Kinds of line whose ports a browser or stand-in connects over the live connection. */
export const CARRIED_KINDS = [
  'midi-browser',
  'midi-inside',
  'keys-browser',
  'keys-inside',
  'sound-browser',
] as const;

/** A message from a browser tab or a stand-in. */
export const fromClientSchema = z.discriminatedUnion('t', [
  /** All the ports that this client carries now. A port's index in `ports` names it in PORT_BYTES messages. */
  z.object({
    t: z.literal('ports'),
    ports: z.array(portSchema.extend({ kind: z.enum(CARRIED_KINDS) })).max(64),
  }),
  /** A mapping pressed or let go by hand. */
  z.object({ t: z.literal('try'), mappingId: z.string().max(64), pressed: z.boolean() }),
  /** A signal sent on a line by hand, to try it. */
  z.object({
    t: z.literal('tryLine'),
    lineId: z.string().max(64),
    send: sendSchema,
    pressed: z.boolean(),
    /** In the range of the send; the top of the range if left out. */
    value: z.number().min(-1e9).max(1e9).optional(),
  }),
  /** A stand-in reports its name and its state. */
  z.object({ t: z.literal('standIn'), name: line(60, NAME), state: z.unknown() }),
  /** Asks for the time of the server's clock. `sent` is sent back as it is. */
  z.object({ t: z.literal('clock'), sent: z.number() }),
  /** Where a page is, and what somebody does there. */
  hereSchema.extend({ t: z.literal('here') }),
  /** Whether this page shows what motions make. */
  z.object({ t: z.literal('watchMotions'), on: z.boolean() }),
  /** Something asked of a stand-in. */
  z.object({ t: z.literal('toStandIn'), name: line(60, NAME), ask: z.unknown() }),
]);
export type FromClient = z.infer<typeof fromClientSchema>;

/** What is known of the slots of a line beside the levels that were sent, slot 1 first, in base64. */
export interface SlotsSeen {
  /** The levels that were heard, a byte each; left out if none were. */
  heard?: string;
  /** Who set each slot, four bytes each, little-endian: the number of the sender and one; 0 for nobody (core/live/slots reads it). */
  setBy?: string;
}

/** A note that is down; times are milliseconds since 1970. */
export interface HeldSeen {
  channel: number;
  number: number;
  velocity: number;
  since: number;
}

/** Notes that are down on a line: heard and not released, and sent and not released. */
export interface LineHeld {
  in: HeldSeen[];
  out: HeldSeen[];
}

export interface DeskState {
  armed: boolean;
  /** Nothing can be edited. */
  locked: boolean;
  /** False if edits cannot be saved now. Signals go on. */
  saving: boolean;
  /** The reason, as it continues “Nothing is being saved: ”. */
  savingTrouble: string | null;
  /** False while the engine restarts. What is known of it is out of date then. */
  engine: boolean;
  /** How often the engine was restarted since the server started. */
  engineRestarts: number;
  /** The current performance; null for none. */
  performance: Performance | null;
  /** The engine was started again while these moments ran: `ended`, and their fades are at their ends. Null once somebody has gone on. */
  restored: { at: number; running: string[]; ended: boolean } | null;
}

/** Numbers that stand for ids in a batch. */
export interface Indexes {
  lines: Record<string, number>;
  /** Mappings and routes. */
  senders: Record<string, number>;
}

/** The state of the running order. Times are milliseconds since 1970. */
export interface OrderSeen {
  standingBy: string | null;
  /** `soundsOn`: something of it sounds until it is stopped. */
  running: { id: string; since: number; endsAt: number; soundsOn: boolean }[];
  following: { id: string; at: number }[];
  /** When it was held; null while it runs. */
  heldAt: number | null;
  called: { id: string; at: number } | null;
  /** The last calls, the newest first. */
  lastCalls: { id: string; at: number }[];
  /** What stood by before the last catching up, which can be taken back; else null. */
  jumpedFrom: string | null;
}
export const NO_ORDER: OrderSeen = {
  standingBy: null,
  running: [],
  following: [],
  heldAt: null,
  called: null,
  lastCalls: [],
  jumpedFrom: null,
};

/** The commands to the running order (core/cues/order says what each does). */
export const orderActSchema = z.discriminatedUnion('do', [
  z.object({ do: z.literal('go') }),
  z.object({ do: z.literal('call'), id: z.string().max(64) }),
  z.object({ do: z.literal('try'), id: z.string().max(64) }),
  z.object({ do: z.literal('tryNext') }),
  z.object({ do: z.literal('trySend'), send: momentSendSchema }),
  z.object({ do: z.literal('hold') }),
  z.object({ do: z.literal('resume') }),
  z.object({ do: z.literal('stop'), id: z.string().max(64) }),
  z.object({ do: z.literal('stopAll'), ms: z.number().min(0).max(60_000).default(0) }),
  z.object({ do: z.literal('back') }),
  z.object({
    do: z.literal('standBy'),
    id: z.string().max(64),
    catchUp: z.boolean(),
    fadeMs: z.number().min(0).max(60_000).optional(),
  }),
  z.object({ do: z.literal('jumpBack'), fadeMs: z.number().min(0).max(60_000).optional() }),
]);

const POSITION = 'A position is a time from 0 to 24 h.';
const position = z.number(POSITION).min(0, POSITION).max(DAY_MS, POSITION);
const SPEED = 'A speed is 25 to 400 %.';

/** The commands to the position (core/time/position says what each does). */
export const positionActSchema = z.discriminatedUnion('do', [
  z.object({ do: z.literal('play') }),
  z.object({ do: z.literal('stop') }),
  z.object({ do: z.literal('locate'), ms: position }),
  z.object({ do: z.literal('playFrom'), ms: position }),
  z.object({ do: z.literal('speed'), speed: z.number(SPEED).min(SLOWEST, SPEED).max(FASTEST, SPEED) }),
  z.object({
    do: z.literal('loop'),
    loop: z
      .object({ from: position, to: position })
      .refine(({ from, to }) => to - from >= SHORTEST_LOOP_MS, 'A loop ends at least 0.1 s after it begins.')
      .nullable(),
  }),
  z.object({ do: z.literal('choose'), source: z.string().max(64) }),
  z.object({ do: z.literal('calls'), on: z.boolean() }),
]);

/** What a mapping did with a message. */
export interface WhyStep {
  mappingId: string;
  outcome: Outcome;
  /** The value that the mapping read, and the shaped value. */
  heard: number;
  shaped: number;
}

export type FromServer =
  | { t: 'order'; order: OrderSeen }
  | { t: 'desk'; desk: DeskState }
  /** `more`: the senders are those that are new; else they are all that there are. */
  | { t: 'indexes'; indexes: Indexes; more: boolean }
  | { t: 'lineStates'; states: Record<string, LineState> }
  /** All lines on which notes are down. */
  | { t: 'held'; held: Record<string, LineHeld> }
  /** Routes that were cut because they closed a loop, with the time in milliseconds since 1970. */
  | { t: 'cutRoutes'; cut: Record<string, number> }
  /** Signals have switched banks. */
  | { t: 'live'; live: LiveShow }
  /** The levels of the slots of each line that was sent some, slot 1 first, in base64; only those that changed. */
  | { t: 'levels'; levels: Record<string, string> }
  /** What else is known of the slots of lines; only of those where something changed. */
  | { t: 'slots'; slots: Record<string, SlotsSeen> }
  /** The tempo and its beat, each time that one of them changes. */
  | { t: 'transport'; transport: Transport }
  /** Which motions run; and, while somebody looks, what they make, some 25 times a second. */
  | { t: 'motions'; motions: MotionsSeen }
  /**
   * An edit was made; `rev` is the number of the show after it. Without `ops`, the show must be read again. `page` is the id of the page that made it,
   * and `by` who sits there, both empty if unknown.
   */
  | { t: 'edit'; showId: string; rev: number; ops: Op[] | null; label: string; page: string; by: string }
  /** State of a stand-in; null when it is gone. */
  | { t: 'standIn'; name: string; state: unknown }
  /** The time of the server's clock, in milliseconds since 1970 with fractions. */
  | { t: 'clock'; sent: number; now: number }
  /** The number of the connection of this page. */
  | { t: 'you'; id: number }
  /**
   * Of the pages that are connected and that this one shows, which have changed, and the ids of those that have gone; `anew` if `changed` are all that it
   * shows. `count` is how many are connected everywhere. At most a hundred are told.
   */
  | { t: 'here'; changed: HereSeen[]; gone: number[]; count: number; anew: boolean }
  /** To operators: sessions have changed, or somebody has given a wrong passphrase. Times are milliseconds since 1970. */
  | { t: 'people'; guesses: { address: string; wrong: number; at: number }[] }
  /** To a stand-in. */
  | { t: 'ask'; ask: unknown };
