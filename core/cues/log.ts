/** The log of the show: what happened, and how long it was from one moment to the next, compared with another performance. */
import type { OrderEvent } from './order.js';

/** What happened: to the running order, or to the whole. */
export type LogWhat =
  | OrderEvent['what']
  | 'armed'
  | 'safe'
  | 'locked'
  | 'unlocked'
  | 'lineTrouble'
  | 'lineBack'
  | 'engineRestarted'
  | 'serverStarted';

export const LOG_WORDS: Record<LogWhat, string> = {
  called: 'called',
  ran: 'run',
  tried: 'tried',
  stopped: 'stopped',
  stoppedAll: 'all stopped',
  held: 'held',
  resumed: 'resumed',
  stoodBy: 'standby moved',
  caughtUp: 'caught up',
  panic: 'Panic',
  armed: 'armed',
  safe: 'safe',
  locked: 'locked',
  unlocked: 'unlocked',
  lineTrouble: 'line in trouble',
  lineBack: 'line OK again',
  engineRestarted: 'engine restarted',
  serverStarted: 'server restarted',
};

/** What one line was sent for a moment. */
export interface LineTally {
  line: string;
  sent: number;
  /** The show was safe, or the line muted. */
  heldBack: number;
  /** The line could not take it. */
  failed: number;
}

export interface LogEntry {
  id: string;
  /** Milliseconds since 1970. */
  at: number;
  what: LogWhat;
  /** Of what: a moment's or a line's; empty for the whole. */
  momentId: string | null;
  cue: string;
  name: string;
  /** By whom or what, in words. */
  askedBy: string;
  lines: LineTally[];
}

export interface Performance {
  id: string;
  name: string;
  /** Milliseconds since 1970. */
  begunAt: number;
  endedAt: number | null;
}

/** From one moment that was called to the next. */
export interface Gap {
  momentId: string;
  /** The moment that was called, and the one after it. */
  from: string;
  to: string;
  ms: number;
}

const title = ({ cue, name }: LogEntry): string => (name ? `${cue} · ${name}` : cue);

/** The gaps of a performance, in the order of their time; what was tried is no part of it. */
export function gapsOf(entries: readonly LogEntry[]): Gap[] {
  const called = entries.filter(({ what }) => what === 'called').toSorted((a, b) => a.at - b.at);
  return called.slice(1).map((entry, at) => {
    const before = called[at]!;
    return {
      momentId: before.momentId ?? '',
      from: title(before),
      to: title(entry),
      ms: entry.at - before.at,
    };
  });
}

export interface ComparedGap extends Gap {
  /** Of the other performance: the gap from the same moment to the same one, the same time it was called; null where it had none. */
  otherMs: number | null;
}

/** Gaps beside those of another performance. A moment that was called twice is compared first with first, second with second. */
export function compareGaps(entries: readonly LogEntry[], other: readonly LogEntry[]): ComparedGap[] {
  const others = new Map<string, number[]>();
  const keyOf = ({ momentId, to }: Gap): string => `${momentId} ${to}`;
  for (const gap of gapsOf(other)) others.set(keyOf(gap), [...(others.get(keyOf(gap)) ?? []), gap.ms]);
  return gapsOf(entries).map((gap) => ({ ...gap, otherMs: others.get(keyOf(gap))?.shift() ?? null }));
}
