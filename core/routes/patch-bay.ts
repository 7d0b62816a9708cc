/** The routes of a show: passes signals on, knows what sounds through each route, and cuts loops. */
import type { Show } from '../show.js';
import type { Route } from '../show/route.js';
import type { Signal } from '../signal.js';
import { compilePass, type CompiledRoute } from './compiled.js';
import { createRounds, createWatch, type Watch } from './loop-guard.js';

/** Sends a signal. `signal` is valid until the same route passes something on again. */
export type Emit = (outLine: number, signal: Signal, routeId: string, outMuted: boolean) => void;

export interface PatchBay {
  /** Loads the routes of a show. What sounds through a removed or changed route is released. */
  load(
    show: Show,
    indexOf: (lineId: string | null) => number,
    mutedLines: ReadonlySet<string>,
    emit: Emit,
  ): void;
  /** Whether any route passes something on; only `load` changes this. */
  any(): boolean;
  /** Passes on what was heard on a line. */
  pass(line: number, signal: Signal, now: number, emit: Emit): void;
  /** When `wake` is due, in monotonic ms; Infinity if nothing is planned. */
  wakeAt(): number;
  wake(now: number, emit: Emit): void;
  /** Releases all notes that sound through routes. */
  releaseAll(emit: Emit): void;
  /** Releases the notes that were heard on a line, for example because it closed. */
  lineGone(line: number, emit: Emit): void;
  /** The routes that were cut because they closed a loop: ids, with when each was cut in monotonic ms. */
  cut(): ReadonlyMap<string, number>;
  /** Opens a route that was cut. @returns whether it was. */
  restore(routeId: string): boolean;
}

interface Entry extends CompiledRoute {
  watch: Watch;
}

const NOBODY: readonly Entry[] = [];

/** Returns whether the notes that sound through one route can go on through the other. */
const sameRoute = (a: Entry, b: Entry): boolean =>
  a.inLine === b.inLine &&
  a.outLine === b.outLine &&
  a.outMuted === b.outMuted &&
  (a.source === b.source || JSON.stringify(a.source) === JSON.stringify(b.source));

export function createPatchBay(): PatchBay {
  const rounds = createRounds();
  const cuts = new Map<string, number>();
  let entries = new Map<string, Entry>();
  let byLine: Entry[][] = [];
  let asked: Entry[] = [];

  function release(entry: Entry, emit: Emit): void {
    const notes = [...entry.held];
    entry.held.clear();
    for (const note of notes) {
      const signal: Signal = { kind: 'noteOff', channel: note >> 7, number: note & 0x7f, value: 0 };
      emit(entry.outLine, signal, entry.source.id, entry.outMuted);
    }
  }

  function letThrough(entry: Entry, signal: Signal, count: number, now: number, emit: Emit): void {
    const out = entry.pass(signal);
    if (!out) return;
    if (out.kind === 'noteOn') {
      if (!entry.outMuted) entry.held.add((out.channel << 7) | out.number);
    } else if (out.kind === 'noteOff') entry.held.delete((out.channel << 7) | out.number);
    rounds.left(out, count, now);
    emit(entry.outLine, out, entry.source.id, entry.outMuted);
  }

  function compile(source: Route, indexOf: (id: string | null) => number, muted: ReadonlySet<string>): Entry {
    const isMuted = (id: string | null): boolean => id !== null && muted.has(id);
    return {
      source,
      inLine: isMuted(source.fromId) ? -1 : indexOf(source.fromId),
      outLine: indexOf(source.toId),
      outMuted: isMuted(source.toId),
      pass: compilePass(source),
      held: new Set(),
      watch: createWatch(),
    };
  }

  return {
    load(show, indexOf, mutedLines, emit) {
      const before = entries;
      entries = new Map();
      byLine = [];
      for (const route of show.routes) {
        if (!route.on) continue;
        const entry = compile(route, indexOf, mutedLines);
        const known = before.get(route.id);
        const kept = known && sameRoute(known, entry) ? known : entry;
        kept.source = route;
        entries.set(route.id, kept);
        if (kept.inLine >= 0 && kept.outLine >= 0) (byLine[kept.inLine] ??= []).push(kept);
      }
      for (const [id, entry] of before) {
        if (entries.get(id) === entry) continue;
        cuts.delete(id);
        release(entry, emit);
      }
      asked = asked.filter((entry) => entries.get(entry.source.id) === entry);
    },

    any: () => byLine.length > 0,

    pass(line, signal, now, emit) {
      const list = byLine[line] ?? NOBODY;
      if (list.length === 0) return;
      const count = rounds.of(signal, now);
      for (let i = 0; i < list.length; i++) {
        const entry = list[i]!;
        if (!entry.watch.allows(signal, count, rounds.tookMs, now)) {
          if (entry.watch.state === 'asked' && !asked.includes(entry)) asked.push(entry);
          continue;
        }
        letThrough(entry, signal, count, now, emit);
      }
    },

    wakeAt() {
      let at = Infinity;
      for (const { watch } of asked) at = Math.min(at, watch.decideAt);
      return at;
    },

    wake(now, emit) {
      for (const entry of asked.filter(({ watch }) => watch.decideAt <= now)) {
        asked = asked.filter((other) => other !== entry);
        if (entry.watch.decide(now) === 'loop') {
          cuts.set(entry.source.id, now);
          release(entry, emit);
          continue;
        }
        const { kept } = entry.watch;
        entry.watch.kept = [];
        // The route writes over what it gives; these leave together, so each is a copy.
        for (const { signal, rounds: count } of kept)
          letThrough(entry, signal, count, now, (outLine, out, id, muted) =>
            emit(outLine, { ...out }, id, muted),
          );
      }
    },

    releaseAll(emit) {
      for (const entry of entries.values()) release(entry, emit);
    },

    lineGone(line, emit) {
      for (const entry of entries.values()) if (entry.inLine === line) release(entry, emit);
    },

    cut: () => cuts,

    restore(routeId) {
      const entry = entries.get(routeId);
      if (!entry || !cuts.delete(routeId)) return false;
      entry.watch.restore();
      return true;
    },
  };
}
