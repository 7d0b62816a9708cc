/** The lines whose MIDI clock the tempo may follow, and which of them counts. Given the time; reads no clock. */
import type { Signal } from '../signal.js';
import { createClockChase, type ClockChase } from './clock-chase.js';
import { AUTO, OWN } from './position.js';
import type { Tempo } from './tempo.js';
import { TIME_WAYS, type TimeSource } from './ways.js';

/** A clock that is silent for this many beats is lost. */
const LOST_BEATS = 2;
const LOST_MS = 1000;

export interface TempoSourceState {
  state: 'silent' | 'locking' | 'locked';
  /** Beats a minute; null while unknown. */
  bpm: number | null;
  /** Whether the sender has said that it runs. */
  runs: boolean;
  jitterMs: number;
  /** When its last clock came, in monotonic ms; null for never. */
  lastAt: number | null;
}

export interface TempoSources {
  /** @param loses whether the line of this id can lose messages */
  load(
    rows: readonly TimeSource[],
    lineOf: (id: string | null) => number,
    loses: (id: string | null) => boolean,
  ): void;
  /** Whether any source listens to a line. */
  on(line: number): boolean;
  /** Takes a signal. @returns the id of the source that it was for; null for none */
  hear(line: number, signal: Signal, at: number): string | null;
  /** Forgets clocks that are silent for too long. */
  expire(now: number): void;
  /** The source that counts; null if none does. */
  pick(chosen: string): string | null;
  tempoOf(id: string): Tempo | null;
  /** When the silence of a source has to be looked at. */
  lookAt(id: string): number;
  stateOf(id: string): TempoSourceState | null;
  ids(): readonly string[];
}

interface Source {
  row: TimeSource;
  line: number;
  chase: ClockChase;
}

export function createTempoSources(): TempoSources {
  let sources: Source[] = [];
  const byId = (id: string): Source | undefined => sources.find(({ row }) => row.id === id);

  function lostAt({ chase }: Source): number {
    const tempo = chase.tempo();
    return chase.lastAt() + (tempo ? Math.max(LOST_MS, (LOST_BEATS * 60_000) / tempo.bpm) : LOST_MS);
  }

  return {
    load(rows, lineOf, loses) {
      sources = rows
        .filter(({ kind }) => TIME_WAYS[kind].of === 'tempo')
        .map((row) => {
          const line = lineOf(row.lineId);
          const before = byId(row.id);
          return before?.line === line
            ? { ...before, row }
            : { row, line, chase: createClockChase(loses(row.lineId)) };
        });
    },
    on: (line) => sources.some((one) => one.line === line),
    hear(line, signal, at) {
      if (signal.kind !== 'system') return null;
      const source = sources.find((one) => one.line === line);
      if (!source) return null;
      source.chase.heard(signal.status, signal.data1, signal.data2, at + source.row.offsetMs);
      return source.row.id;
    },
    expire(now) {
      for (const source of sources) if (source.chase.tempo() && now > lostAt(source)) source.chase.lose();
    },
    pick(chosen) {
      if (chosen === OWN) return null;
      const one = chosen === AUTO ? sources.find(({ chase }) => chase.tempo()) : byId(chosen);
      return one?.chase.tempo() ? one.row.id : null;
    },
    tempoOf: (id) => byId(id)?.chase.tempo() ?? null,
    lookAt(id) {
      const source = byId(id);
      return source ? lostAt(source) : Infinity;
    },
    stateOf(id) {
      const chase = byId(id)?.chase;
      if (!chase) return null;
      const bpm = chase.tempo()?.bpm ?? null;
      const lastAt = chase.lastAt();
      return {
        state: bpm !== null ? 'locked' : lastAt === -Infinity ? 'silent' : 'locking',
        bpm,
        runs: chase.runs(),
        jitterMs: chase.jitterMs(),
        lastAt: lastAt === -Infinity ? null : lastAt,
      };
    },
    ids: () => sources.map(({ row }) => row.id),
  };
}
