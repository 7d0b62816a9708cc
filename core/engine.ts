/**
 * What a show does to signals: parts, and the middle that calls them in their order. A function of the seed and of the inputs with their
 * instants: it reads no clock and does no I/O. A new part is a file in engine/parts/, and a line in the list below.
 */
import type { Because } from './because.js';
import type { AskedBy, OrderEvent, OrderState } from './cues/runner.js';
import type { EngineInput, InputOf } from './engine/input.js';
import { createOuts, type Outs } from './engine/outs.js';
import type { Part, Stage } from './engine/part.js';
import { createDelaysPart } from './engine/parts/delays.js';
import { createLineTryPart } from './engine/parts/line-try.js';
import { createMappingsPart, type HoldChange } from './engine/parts/mappings.js';
import { createMomentsPart } from './engine/parts/moments.js';
import { createRoutesPart } from './engine/parts/routes.js';
import { createTempoPart } from './engine/parts/tempo.js';
import { createLevels } from './fades/levels.js';
import type { CompiledMapping } from './mapping/compiled.js';
import type { Trace } from './mapping/outcome.js';
import type { LinePlaces } from './mapping/roster.js';
import type { ShowAct } from './sends/compiled.js';
import type { Show } from './show.js';
import type { Signal } from './signal.js';
import type { Tempo } from './time/tempo.js';

export type { EngineInput } from './engine/input.js';
export type { Outs } from './engine/outs.js';

export interface Engine {
  /** Something happens. @param now its instant, in monotonic ms; no earlier than the last. @returns what leaves, valid until the next input */
  take(input: EngineInput, now: number): Outs;
  /** Monotonic ms when the input `wake` is due; Infinity when nothing is. */
  wakeAt(): number;

  /** What each mapping that heard the last signal made of it. Used again for the next. */
  trace(): Trace;
  /** What happened to the running order since this was asked last. */
  orderEvents(): OrderEvent[];
  /** Another object whenever something of it is changed. */
  orderState(): OrderState;
  /** What the slots of a line were sent last, slot 1 first: a copy. */
  levels(line: number): Uint8Array;
  /** Ids of the banks that are on: another set whenever one is switched. */
  banksOn(): ReadonlySet<string>;
  /** Another object whenever it is another tempo. */
  tempo(): Tempo;
  /** Mappings that fired since the last call, each once. */
  drainFired(): CompiledMapping[];
  /** Has the next `drainFired` give every mapping that ever fired, for those who have just begun to look. */
  tellAll(): void;
  /** What mappings began or ended to hold since the last call. */
  drainHolds(): HoldChange[];
  /** Routes that are cut since they closed a loop, by id, with when that was found (monotonic ms). */
  cutRoutes(): ReadonlyMap<string, number>;
}

/** What one input may do to the show: more than any show means. */
const MOST_ACTS = 256;

/** @param seed the same seed gives the same dice */
export function createEngine(seed = 1): Engine {
  const outs = createOuts();
  const because: Because = { step: 0 };
  const levels = createLevels();
  /** What is to be done to the show once all that hear the signal have had it. */
  const acts: { act: ShowAct; by: AskedBy }[] = [];
  let steps = 0;
  let instant = 0;
  let armed = true;
  /** What leaves now leaves without the delay of its line. */
  let undelayed = false;
  let lines: LinePlaces = { indexOf: () => -1, isMuted: () => false };
  /** Indexes of the lines that are muted. */
  let mutedPlaces: ReadonlySet<number> = new Set();

  const stage: Stage = {
    put: (line, signal, sender, muted, step = because.step) => send(line, signal, sender, muted, step, false),
    tell: (line, signal, sender, muted) => send(line, signal, sender, muted, because.step, true),
    act: (act, by) => acts.push({ act, by }),
    armed: () => armed,
    lineOf: (id) => ({ line: lines.indexOf(id), muted: lines.isMuted(id) }),
    isMuted: (line) => mutedPlaces.has(line),
    tempo: () => tempo.tempo(),
    levels,
    because,
  };
  const tempo = createTempoPart();
  const mappings = createMappingsPart(stage, seed);
  const moments = createMomentsPart(stage);
  const routes = createRoutesPart(stage);
  const delays = createDelaysPart(({ line, signal, sender, lamp, because: step }) =>
    leave(line, signal, sender, !armed || mutedPlaces.has(line), step, lamp),
  );
  /** Each in its turn: whoever comes later sees what those before it have done. */
  const parts: readonly Part[] = [delays, tempo, mappings, moments, routes, createLineTryPart(stage)];
  // A signal passes only those that heed it.
  const hearing = parts.filter((part) => part.hear);
  const seeing = parts.filter((part) => part.saw);
  const finishing = parts.filter((part) => part.finish);
  const waking = parts.filter((part) => part.wakeAt);

  /** Adds what leaves. @returns where */
  function leave(
    line: number,
    signal: Signal,
    sender: string,
    heldBack: boolean,
    step: number,
    lamp: boolean,
  ): number {
    const at = outs.count++;
    outs.line[at] = line;
    outs.signal[at] = signal;
    outs.sender[at] = sender;
    outs.heldBack[at] = heldBack;
    outs.dropped[at] = false;
    outs.lamp[at] = lamp;
    outs.because[at] = step;
    return at;
  }

  function send(
    line: number,
    signal: Signal,
    sender: string,
    muted: boolean,
    step: number,
    lamp: boolean,
  ): void {
    const heldBack = !armed || muted;
    // What is held back leaves the slot as it is.
    if (signal.kind === 'slot' && !heldBack) levels.sent(line, signal);
    if (!heldBack && !undelayed && delays.has(line)) {
      const kept = delays.keep({ line, signal, sender, lamp, because: step }, instant);
      if (!kept) outs.dropped[leave(line, signal, sender, false, step, lamp)] = true;
    } else leave(line, signal, sender, heldBack, step, lamp);
    for (let i = 0; i < seeing.length; i++) seeing[i]!.saw!(line, signal, sender, heldBack);
  }

  /** @param by who asked for Panic; null for what makes the show safe */
  function letGo(by: AskedBy | null, now: number): void {
    const before = undelayed;
    undelayed = true;
    for (const part of parts) part.letGo?.(by, now);
    undelayed = before;
    if (by) outs.panic = true;
  }

  function setArmed(next: boolean, now: number): void {
    if (!next) letGo(null, now);
    // What was planned while the show was safe does not leave when it is armed.
    else if (!armed) for (const part of parts) part.forget?.(now);
    armed = next;
  }

  function load(show: Show, whole: boolean, now: number): void {
    const listeners = parts.flatMap((part) => part.listeners?.(show) ?? []);
    for (const part of parts) part.load?.({ show, whole, lines, listeners }, now);
  }

  function loadWhole({ show, lineIndex }: InputOf<'show'>, now: number): void {
    const muted = new Set(show.lines.filter((line) => line.muted).map((line) => line.id));
    lines = {
      indexOf: (id) => (id === null ? -1 : (lineIndex.get(id) ?? -1)),
      isMuted: (id) => id !== null && muted.has(id),
    };
    mutedPlaces = new Set([...muted].map(lines.indexOf));
    load(show, true, now);
  }

  function hear({ line, signal }: InputOf<'heard'>, now: number): void {
    outs.step = because.step = ++steps;
    for (let i = 0; i < hearing.length; i++) hearing[i]!.hear!(line, signal, now);
  }

  /** What an input does before the parts take it. */
  function begin(input: Exclude<EngineInput, { t: 'heard' }>, now: number): void {
    switch (input.t) {
      case 'wake':
        for (const part of parts) part.wake?.(now);
        return;
      case 'show':
        return loadWhole(input, now);
      case 'moments':
        return load(input.show, false, now);
      case 'panic':
        return letGo({ of: 'desk', name: input.desk }, now);
      case 'armed':
        return setArmed(input.armed, now);
      case 'trySend':
        undelayed = true;
        return;
      case 'restoreLevels':
        input.levels.forEach((level, at) => levels.sent(input.line, { kind: 'slot', slot: at + 1, level }));
    }
  }

  /** What every input ends with: what was to be done to the show is, and lamps are told. */
  function finish(now: number): Outs {
    // Moments that run each other in a ring come to an end here.
    for (let done = 0; acts.length > 0 && done < MOST_ACTS; done++) {
      const { act, by } = acts.shift()!;
      if (act.do === 'panic') letGo(by, now);
      else for (const part of parts) part.act?.(act, by, now);
    }
    acts.length = 0;
    for (let i = 0; i < finishing.length; i++) finishing[i]!.finish!(now);
    return outs;
  }

  return {
    take(input, now) {
      outs.count = 0;
      outs.step = because.step = 0;
      outs.panic = undelayed = false;
      instant = now;
      if (input.t === 'heard') hear(input, now);
      else {
        begin(input, now);
        for (const part of parts) part.take?.(input, now);
      }
      return finish(now);
    },
    wakeAt() {
      let at = Infinity;
      for (let i = 0; i < waking.length; i++) at = Math.min(at, waking[i]!.wakeAt!());
      return at;
    },

    trace: () => mappings.trace(),
    orderEvents: () => moments.drainEvents(),
    orderState: () => moments.state(),
    levels: (line) => levels.levelsOf(line),
    banksOn: () => mappings.banksOn(),
    tempo: () => tempo.tempo(),
    drainFired: () => mappings.drainFired(),
    tellAll: () => mappings.tellAll(),
    drainHolds: () => mappings.drainHolds(),
    cutRoutes: () => routes.cut(),
  };
}
