/**
 * The engine: turns the inputs of a show into outputs. It is a list of parts and the code that calls them in order. Its output depends only on
 * the seed, the inputs and their times: it reads no clock and does no I/O. To add a part, write a file in engine/parts/ and add it to `parts`.
 */
import type { Because } from './because.js';
import type { AskedBy, OrderEvent, OrderState } from './cues/order.js';
import type { EngineInput, InputOf } from './engine/input.js';
import { createOuts, type Outs } from './engine/outs.js';
import type { Part, Stage } from './engine/part.js';
import { createDelaysPart } from './engine/parts/delays.js';
import { createLineTryPart } from './engine/parts/line-try.js';
import { createMappingsPart } from './engine/parts/mappings.js';
import { createMotionsPart, type MotionsView } from './engine/parts/motions.js';
import { createMomentsPart } from './engine/parts/moments.js';
import { createPositionPart, type PositionView } from './engine/parts/position.js';
import { createRoutesPart } from './engine/parts/routes.js';
import { createTempoPart, type TempoView } from './engine/parts/tempo.js';
import { createLevels } from './fades/levels.js';
import { createKeyHolders } from './keys/holders.js';
import { createTimeOutPart } from './engine/parts/time-out.js';
import type { CompiledMapping, HoldChange } from './mapping/compiled.js';
import type { Trace } from './mapping/outcome.js';
import { NO_PLACES, placesOf } from './mapping/line-places.js';
import type { Mapping } from './show/mapping.js';
import type { ShowAct } from './sends/compiled.js';
import type { Show } from './show.js';
import type { Signal } from './signal.js';

export type { EngineInput } from './engine/input.js';
export type { Outs } from './engine/outs.js';

export interface Engine {
  /** Processes one input. @param now its time in monotonic ms, not before that of the last input. @returns the output, valid until the next input */
  take(input: EngineInput, now: number): Outs;
  /**
   * Gets ready for the input `show` with the same show and lines, a little with each step: then it takes little time. Changes nothing that can be seen.
   * Other inputs may be processed between the steps; if one of them loads or edits a show, what was made ready is not used.
   */
  prepare(show: Show, lineIndex: ReadonlyMap<string, number>): Generator<void>;
  /** When the input `wake` is due, in monotonic ms; Infinity if nothing is planned. */
  wakeAt(): number;

  /** What each mapping that matched the last signal did with it. Overwritten by the next signal. */
  trace(): Trace;
  /** Returns the events of the running order since the last call. */
  orderEvents(): OrderEvent[];
  /** The state of the running order. Returns a new object after each change, so that callers can compare by identity. */
  orderState(): OrderState;
  /** A copy of the last levels sent to the slots of a line, slot 1 first. */
  levels(line: number): Uint8Array;
  /** Ids of the banks that are on. Returns a new set after each change. */
  banksOn(): ReadonlySet<string>;
  /** The tempo, and where it comes from. */
  tempo: TempoView;
  position: PositionView;
  motions: MotionsView;
  /** Returns the mappings that fired since the last call, each once. */
  drainFired(): CompiledMapping[];
  /** Makes the next `drainFired` return every mapping that has ever fired, for a new observer. */
  tellAll(): void;
  /** Returns what mappings and voices of motions started or stopped holding since the last call. */
  drainHolds(): readonly HoldChange[];
  /** The routes that were cut because they closed a loop: ids, with when each was cut in monotonic ms. */
  cutRoutes(): ReadonlyMap<string, number>;
}

/** The most acts that one input may cause: more than any real show needs. */
const MOST_ACTS = 256;

/** @param seed of the random numbers */
export function createEngine(seed = 1): Engine {
  const outs = createOuts();
  const because: Because = { step: 0 };
  const levels = createLevels();
  const keys = createKeyHolders();
  /** What the current input asked to be done to the show. */
  const acts: { act: ShowAct; by: AskedBy }[] = [];
  let steps = 0;
  let instant = 0;
  let arrived = 0;
  let armed = true;
  /** True while output skips the delay of its line. */
  let undelayed = false;
  let lines = NO_PLACES;
  /** Indexes of muted lines. */
  let mutedPlaces: ReadonlySet<number> = new Set();

  const stage: Stage = {
    put: (line, signal, sender, muted, step = because.step) => send(line, signal, sender, muted, step, false),
    tell: (line, signal, sender, muted) => send(line, signal, sender, muted, because.step, true),
    // The act is copied: a send fills the same one again the next time.
    act: (act, by) => acts.push({ act: { ...act }, by }),
    armed: () => armed,
    lineOf: (id) => ({ line: lines.indexOf(id), muted: lines.isMuted(id) }),
    isMuted: (line) => mutedPlaces.has(line),
    tempo: () => tempo.tempo(),
    position: () => position.motion(),
    arrivedAt: () => arrived,
    keys,
    levels,
    because,
  };
  const position = createPositionPart(stage);
  const tempo = createTempoPart(stage, () => position.motion());
  const mappings = createMappingsPart(stage, seed);
  const motions = createMotionsPart(stage, () => mappings.banksOn(), seed);
  const moments = createMomentsPart(stage);
  const routes = createRoutesPart(stage);
  const delays = createDelaysPart(({ line, signal, sender, lamp, because: step }) =>
    leave(line, signal, sender, !armed || mutedPlaces.has(line), step, lamp),
  );
  /** The parts, in the order in which they are called. */
  const parts: readonly Part[] = [
    delays,
    tempo,
    position,
    mappings,
    motions,
    moments,
    routes,
    createTimeOutPart(stage, position, tempo),
    createLineTryPart(stage),
  ];
  /** The parts that hear the signals of each line: only these are called on the path of a signal. Filled as lines are heard. */
  let hearing: (readonly Part[])[] = [];
  /** The parts that watch what is sent. */
  let seeing: readonly Part[] = [];
  let finishing: readonly Part[] = [];
  /** False while no output can be delayed. */
  let delaying = false;
  const waking = parts.filter((part) => part.wakeAt);

  /** Adds one output. @returns its place in the lists */
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
    // Output that is held back does not change the stored level.
    if (signal.kind === 'slot' && !heldBack) levels.sent(line, signal);
    if (delaying && !heldBack && !undelayed && delays.has(line)) {
      const kept = delays.keep({ line, signal, sender, lamp, because: step }, instant);
      if (!kept) outs.dropped[leave(line, signal, sender, false, step, lamp)] = true;
    } else leave(line, signal, sender, heldBack, step, lamp);
    for (let i = 0; i < seeing.length; i++) seeing[i]!.saw!(line, signal, sender, heldBack);
  }

  /** @param by who asked for Panic; null if the show is made safe */
  function letGo(by: AskedBy | null, now: number): void {
    const before = undelayed;
    undelayed = true;
    for (const part of parts) part.letGo?.(by, now);
    for (const { line, code } of keys.clear())
      send(line, { kind: 'key', code, down: false }, '', mutedPlaces.has(line), because.step, false);
    undelayed = before;
    if (by) outs.panic = true;
  }

  function setArmed(next: boolean, now: number): void {
    if (!next) letGo(null, now);
    // Nothing that was planned while the show was safe may be sent now.
    else if (!armed) for (const part of parts) part.forget?.(now);
    armed = next;
  }

  const listenersOf = (show: Show): Mapping[] => parts.flatMap((part) => part.listeners?.(show) ?? []);

  function load(show: Show, whole: boolean, now: number): void {
    const listeners = listenersOf(show);
    for (const part of parts) part.load?.({ show, whole, lines, listeners }, now);
  }

  function loadWhole({ show, lineIndex }: InputOf<'show'>, now: number): void {
    lines = placesOf(show, lineIndex);
    mutedPlaces = new Set(show.lines.filter((line) => line.muted).map(({ id }) => lines.indexOf(id)));
    load(show, true, now);
  }

  function hear({ line, signal }: InputOf<'heard'>, now: number): void {
    outs.step = because.step = ++steps;
    const heardBy = (hearing[line] ??= parts.filter((part) => part.hear && (part.hears?.(line) ?? true)));
    for (let i = 0; i < heardBy.length; i++) heardBy[i]!.hear!(line, signal, now);
  }

  /** The part of an input that concerns all parts. */
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

  function perform(now: number): void {
    // The bound ends a ring of moments that run each other.
    for (let done = 0; acts.length > 0 && done < MOST_ACTS; done++) {
      const { act, by } = acts.shift()!;
      if (act.do === 'panic') letGo(by, now);
      else for (const part of parts) part.act?.(act, by, now);
    }
    acts.length = 0;
  }

  /** An input other than a signal may have changed what has to be done for each signal and each output. */
  function refresh(): void {
    hearing = [];
    finishing = parts.filter((part) => part.finish && (part.finishes?.() ?? true));
    seeing = parts.filter((part) => part.saw && (part.watches?.() ?? true));
    delaying = delays.any();
  }

  /** Ends an input: performs the acts that it asked for, and lets parts finish. */
  function finish(now: number): void {
    if (acts.length > 0) perform(now);
    for (let i = 0; i < finishing.length; i++) finishing[i]!.finish!(now);
  }

  return {
    take(input, now) {
      outs.count = 0;
      outs.step = because.step = 0;
      outs.panic = undelayed = false;
      arrived = instant = now;
      if (input.t === 'heard') {
        if (input.at !== undefined && input.at < now) arrived = input.at;
        hear(input, now);
      } else {
        begin(input, now);
        for (const part of parts) part.take?.(input, now);
      }
      if (input.t !== 'heard' && input.t !== 'wake') refresh();
      finish(now);
      return outs;
    },
    *prepare(show, lineIndex) {
      const loaded = { show, whole: true, lines: placesOf(show, lineIndex), listeners: listenersOf(show) };
      for (const part of parts) if (part.prepare) yield* part.prepare(loaded);
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
    tempo,
    position,
    motions,
    drainFired: () => mappings.drainFired(),
    tellAll: () => mappings.tellAll(),
    drainHolds() {
      const ofMappings = mappings.drainHolds();
      const ofMotions = motions.drainHolds();
      return ofMotions.length === 0 ? ofMappings : [...ofMappings, ...ofMotions];
    },
    cutRoutes: () => routes.cut(),
  };
}
