/**
 * What a show does to signals. A function of the show, the inputs, and the times they are given with:
 * it reads no clock and does no I/O.
 */
import type { Because } from './because.js';
import { callersOf } from './cues/callers.js';
import {
  createRunner,
  type AskedBy,
  type OrderAct,
  type OrderEvent,
  type OrderState,
} from './cues/runner.js';
import { createFades } from './fades/fades.js';
import { createParameters, createPairs } from './midi/pairs.js';
import { createAnswers } from './mapping/answers.js';
import {
  voiceAt,
  withVoices,
  type ActiveSend,
  type CompiledMapping,
  type LowEnd,
} from './mapping/compiled.js';
import { firstOf, wantsValue } from './hears/parts.js';
import { byHand, NO_PARTS } from './mapping/heard.js';
import { createTrace, type Outcome, type Trace } from './mapping/outcome.js';
import { createPerformer, type Way } from './mapping/performer.js';
import { createRoster, type LinePlaces } from './mapping/roster.js';
import type { ShowAct } from './sends/compiled.js';
import { createPatchBay } from './routes/patch-bay.js';
import type { ChannelSignal, Signal, SlotSignal } from './signal.js';
import type { Mapping } from './show/mapping.js';
import type { Show } from './show.js';
import { beatAt, createTapper, type Tempo } from './time/tempo.js';

/**
 * What leaves because of one input: the first `count` of each list, in the order in which it must leave.
 * The lists are used again for the next input: act on them before it.
 */
export interface Outs {
  count: number;
  /** Index of the line to send on; -1 where the sender's line is not there. */
  line: number[];
  signal: Signal[];
  /** Id of the mapping or route that sends it. */
  sender: string[];
  /** True for what is only shown: the show is safe, or the line muted. */
  heldBack: boolean[];
  /** True for what a lamp or motor fader is told: it is no note that sounds. */
  lamp: boolean[];
  /** The step that it belongs to: this one, an earlier one that it was planned in, or 0 where nothing was heard for it. */
  because: number[];
  /** The number of the step that heard a signal, from 1 on; 0 for everything else. */
  step: number;
  /** A signal called for Panic: what waits elsewhere is to be forgotten. */
  panic: boolean;
}

/** How the running order was before a restart. */
export interface OrderBefore {
  /** The id of a moment, or `AT_THE_END`; null where that is not known. */
  standingBy: string | null;
  called: OrderState['called'];
  /** Moments whose fades ran then, and are to be at their ends now. */
  finished: readonly string[];
}

/** What a mapping holds now that has no release of its own, as a level has none. */
export interface HoldChange {
  /** Names the mapping. */
  key: string;
  /** What takes it back; empty where it holds nothing any more. */
  lowEnds: LowEnd[];
}

export interface Engine {
  /**
   * Takes a show, or the same show changed. What a mapping or route held that is no longer there, or no longer
   * the same, is released. Costs time in proportion to the show; signals don't.
   * @param lineIndex the number of each line that exists, by its id.
   */
  load(show: Show, lineIndex: ReadonlyMap<string, number>, now: number): Outs;
  /** One mapping of the show is other than it was, in the same place. Costs what it is, not what the show has. @param order that place */
  replace(row: Mapping, order: number, now: number): Outs;
  /** A signal heard on a line. @param now monotonic ms */
  step(line: number, signal: Signal, now: number): Outs;
  /** What each mapping that heard the last step's signal made of it. Used again for the next step. */
  trace(): Trace;
  /** Monotonic ms when `wake` is due; Infinity when nothing is. */
  wakeAt(): number;
  /** Does what is due by now. */
  wake(now: number): Outs;
  /** Presses or releases a mapping by hand, at the top of its range, whatever it hears. */
  tryMapping(id: string, pressed: boolean, now: number): Outs;
  /** Releases all that is held. */
  panic(now: number, desk?: string): Outs;
  /** Releases what is held by notes heard on this line, as when it closes. */
  lineGone(line: number, now: number): Outs;
  /** A line can be sent on anew: the lamps of its controller are told what they show. */
  lineBack(line: number, now: number): Outs;
  /** Safe: all that is held is released, and from then on what would leave is held back. */
  setArmed(armed: boolean, now: number): Outs;
  /** The running order, or what its moments name, is other than it was, and the rest of the show is not. */
  loadMoments(show: Show, now: number): Outs;
  /** Something is asked of the running order. @param desk the name of the desk that asks */
  order(act: OrderAct, now: number, desk?: string): Outs;
  /** What happened to the running order since this was asked last. */
  orderEvents(): OrderEvent[];
  /** Another object whenever something of it is other. */
  orderState(): OrderState;
  /** Goes on from where it was before a restart. */
  restoreOrder(before: OrderBefore, now: number): Outs;
  /** The beat goes on from where it was before a restart. @param since monotonic ms of beat 0, which may be long ago */
  restoreBeat(since: number): void;
  /** What the slots of a line had before a restart, slot 1 first: fades begin there. */
  restoreLevels(line: number, levels: Uint8Array): void;
  /** What the slots of a line were sent last, slot 1 first: a copy. */
  levels(line: number): Uint8Array;
  /** A beat of the tempo tapped by hand. */
  tap(now: number): Outs;
  /** Ids of the banks that are on. */
  banksOn(): ReadonlySet<string>;
  tempo(): Tempo;
  /** Mappings that fired since the last call, each once. */
  drainFired(): CompiledMapping[];
  /** Has the next `drainFired` give every mapping that ever fired, for those who have just begun to look. */
  tellAll(): void;
  /** What mappings began or ended to hold since the last call. */
  drainHolds(): HoldChange[];
  /** Routes that are cut since they closed a loop, by id, with when that was found (monotonic ms). */
  cutRoutes(): ReadonlyMap<string, number>;
  /** Opens a route that was cut. @returns whether it was. */
  restoreRoute(id: string): boolean;
}

const NO_CHANGES: HoldChange[] = [];
/** Callers of moments come after all mappings of a sheet. */
const AFTER_ALL = 1e9;
/** What one input may have done to the show: more than any show means. */
const MOST_ACTS = 256;

type MomentAct = Extract<ShowAct, { do: 'moment' }>;

/** What a send asks of the running order, as core/show/send says it. */
function orderActOf({ momentId: id, act }: MomentAct): OrderAct {
  if (act === 'stop') return id === null ? { do: 'stopAll', ms: 0 } : { do: 'stop', id };
  if (act === 'run') return id === null ? { do: 'tryNext' } : { do: 'try', id };
  return id === null ? { do: 'go' } : { do: 'call', id };
}

interface Assemblers {
  pairs: ReturnType<typeof createPairs>;
  parameters: ReturnType<typeof createParameters>;
}

/** What a control did, by the kind of signal that says it. */
function wayOf(signal: Signal): Way {
  switch (signal.kind) {
    case 'noteOn':
      return 'pressed';
    case 'noteOff':
      return 'released';
    case 'key':
      return signal.down ? 'keyDown' : 'keyUp';
    default:
      return 'value';
  }
}

/** @param seed the same seed gives the same dice */
export function createEngine(seed = 1): Engine {
  const outs: Outs = {
    count: 0,
    line: [],
    signal: [],
    sender: [],
    heldBack: [],
    lamp: [],
    because: [],
    step: 0,
    panic: false,
  };
  const because: Because = { step: 0 };
  let steps = 0;
  const trace = createTrace();
  const heard = byHand(0, 0);
  const routes = createPatchBay();
  const tapper = createTapper();
  const performer = createPerformer({
    put,
    report,
    armed: () => armed,
    isDown: (key) => down.has(key),
    beat: (now) => beatAt(tempo, now),
    because,
    act: (act, id) => acts.push({ act, by: { of: 'mapping', id } }),
    fade,
    holdChanged: (mapping) => holdChanges.add(mapping),
  });
  const fades = createFades(put);
  const runner = createRunner({
    put,
    lineOf: (id) => ({ line: lines.indexOf(id), muted: lines.isMuted(id) }),
    isMuted: (line) => mutedPlaces.has(line),
    because,
    act: (act, id) => acts.push({ act, by: { of: 'moment', id } }),
    armed: () => armed,
  });
  /** Indexes of the lines that are muted. */
  let mutedPlaces: ReadonlySet<number> = new Set();
  let lines: LinePlaces = { indexOf: () => -1, isMuted: () => false };
  let callers: readonly Mapping[] = [];
  const answers = createAnswers({
    put: putLamp,
    isBankOn: (id) => roster.banksOn().has(id),
    tempo: () => tempo,
  });
  const roster = createRoster(
    {
      report,
      touch: (mapping) => answers.touch(mapping),
      end: (mapping, now) => performer.end(mapping, now),
      forget(mappings) {
        const gone = [...mappings];
        performer.forget(gone);
        const ids = new Set(gone.map(({ source }) => source.id));
        fades.stop((sender) => ids.has(sender));
      },
    },
    seed,
  );
  /** Notes that are down on each line, as line << 11 | channel << 7 | number: for mappings that want one to be. */
  const down = new Set<number>();
  /** By line. */
  const assemblers: (Assemblers | undefined)[] = [];
  /** What is to be done to the show once all that hear the signal have had it. */
  const acts: { act: ShowAct; by: AskedBy }[] = [];
  let tempo: Tempo = { bpm: 120, since: 0 };
  let fired: CompiledMapping[] = [];
  const holdChanges = new Set<CompiledMapping>();
  let armed = true;

  function report(mapping: CompiledMapping): void {
    answers.touch(mapping);
    if (!mapping.tally.reported) return;
    mapping.tally.reported = false;
    fired.push(mapping.root);
  }

  function put(line: number, signal: Signal, sender: string, muted: boolean, step = because.step): void {
    const at = outs.count++;
    outs.line[at] = line;
    outs.signal[at] = signal;
    outs.sender[at] = sender;
    outs.heldBack[at] = !armed || muted;
    outs.lamp[at] = false;
    outs.because[at] = step;
    // What is held back leaves the slot as it is.
    if (!outs.heldBack[at]) {
      if (signal.kind === 'slot') fades.sent(line, signal);
      runner.sent(line, signal);
    }
    answers.saw(line, signal, sender);
  }

  function putLamp(line: number, signal: Signal, sender: string, muted: boolean): void {
    put(line, signal, sender, muted);
    outs.lamp[outs.count - 1] = true;
  }

  function fade({ source }: CompiledMapping, send: ActiveSend, now: number): void {
    const [coarse, fine] = send.signals as SlotSignal[];
    const level = fine ? (coarse!.level << 8) | fine.level : coarse!.level;
    const { line, muted, fadeMs: ms } = send;
    const levels: [number, number][] = [[coarse!.slot, level]];
    fades.start({ line, levels, fine: !!fine, ms, sender: source.id, muted, because: because.step }, now);
  }

  function clear(): Outs {
    outs.count = 0;
    outs.step = because.step = 0;
    outs.panic = false;
    return outs;
  }

  function doAct(act: ShowAct, by: AskedBy, now: number): void {
    switch (act.do) {
      case 'bank':
        roster.turnBank(act.bankId, act.act, now);
        return answers.touchAll();
      case 'tap':
        return takeTap(now);
      case 'moment':
        runner.do(orderActOf(act), by, now);
        return;
      case 'panic':
        endAll(by, now);
        outs.panic = true;
    }
  }

  /** What every input ends with: what was to be done to the show is, and lamps are told. */
  function finish(now: number): Outs {
    // Moments that run each other in a ring come to an end here.
    for (let done = 0; acts.length > 0 && done < MOST_ACTS; done++) {
      const { act, by } = acts.shift()!;
      doAct(act, by, now);
    }
    acts.length = 0;
    answers.flush(now);
    return outs;
  }

  /** @param by who asked for Panic; null for what makes the show safe */
  function endAll(by: AskedBy | null, now: number): void {
    performer.forget(roster.all());
    fades.stop(() => true);
    for (const mapping of roster.holders()) for (const one of withVoices(mapping)) performer.end(one, now);
    runner.endAll(by, now);
    routes.releaseAll(put);
  }

  /** What calls moments is heard as mappings are, after all of them. */
  function takeMoments({ moments, groups, looks, midiFiles, settings }: Show, now: number): void {
    runner.load(moments, { groups, looks, midiFiles }, settings.guardMs);
    const next = moments.flatMap((moment) => (moment.parked ? [] : callersOf(moment)));
    const kept = new Set(next.map(({ id }) => id));
    for (const row of callers) if (!kept.has(row.id)) roster.replace({ ...row, on: false }, AFTER_ALL, now);
    next.forEach((row, at) => roster.replace(row, AFTER_ALL + at, now));
    callers = next;
  }

  function takeTempo(bpm: number, now: number): void {
    if (bpm === tempo.bpm) return;
    // The beat goes on from where it is.
    tempo = { bpm, since: now - (beatAt(tempo, now) * 60_000) / bpm };
  }

  function takeTap(now: number): void {
    const tapped = tapper.tap(now);
    // The first tap says where the beat is, not how fast.
    tempo = tapped ?? { bpm: tempo.bpm, since: now };
    answers.touchAll();
  }

  function record(mapping: CompiledMapping, outcome: Outcome): void {
    const at = trace.count++;
    const passed = outcome === 'fired' || outcome === 'released';
    trace.mapping[at] = mapping.source.id;
    trace.outcome[at] = outcome;
    trace.heard[at] = passed ? mapping.tally.lastHeard : heard.value;
    trace.shaped[at] = mapping.tally.lastShaped;
  }

  /** A mapping takes what `heard` says. */
  function give(mapping: CompiledMapping, way: Way, now: number): Outcome {
    if (!mapping.voices) return performer.take(mapping, heard, way, now);
    const voice = voiceAt(mapping, heard.number - firstOf(mapping.source.hear), seed);
    return voice ? performer.take(voice, heard, way, now) : 'noPlace';
  }

  function hear(mapping: CompiledMapping, line: number, signal: Signal, now: number): Outcome {
    if (!mapping.live) return roster.whyNotLive(mapping);
    const refused = mapping.read(signal, heard);
    if (refused) return refused;
    if (mapping.source.answer) {
      if (answers.isEcho(mapping, line, signal, now)) return 'echo';
      answers.ownPlace(mapping, heard.value);
    }
    return give(mapping, wayOf(signal), now);
  }

  /** What several controllers say together. */
  function assemble(line: number, { channel, number, value }: ChannelSignal, now: number): void {
    const { pairs, parameters } = (assemblers[line] ??= {
      pairs: createPairs(),
      parameters: createParameters(),
    });
    const pair = pairs.take(channel, number, value);
    if (pair)
      giveAssembled(
        roster.index().findPair(line, channel, pair.number),
        channel,
        pair.number,
        pair.value,
        now,
      );
    const parameter = parameters.take(channel, number, value);
    if (!parameter) return;
    const who = roster.index().findParameter(line, channel, parameter.registered, parameter.number);
    giveAssembled(who, channel, parameter.number, parameter.value, now);
  }

  function giveAssembled(
    mappings: readonly CompiledMapping[],
    channel: number,
    number: number,
    value: number,
    now: number,
  ): void {
    for (const mapping of mappings) {
      heard.value = value;
      heard.number = number;
      heard.channel = channel;
      heard.parts = NO_PARTS;
      if (!mapping.live) record(mapping, roster.whyNotLive(mapping));
      else if (!wantsValue(mapping.source.hear, value)) record(mapping, 'value');
      else record(mapping, give(mapping, 'value', now));
    }
  }

  return {
    load(show, lineIndex, now) {
      clear();
      takeTempo(show.settings.tempo, now);
      const mutedLines = new Set(show.lines.filter((line) => line.muted).map((line) => line.id));
      const indexOf = (id: string | null): number => (id === null ? -1 : (lineIndex.get(id) ?? -1));
      const isMuted = (id: string | null): boolean => id !== null && mutedLines.has(id);
      lines = { indexOf, isMuted };
      roster.load(show, lines, now);
      mutedPlaces = new Set([...mutedLines].map(indexOf));
      takeMoments(show, now);
      answers.load(roster.all(), (id) => ({ line: indexOf(id), muted: isMuted(id) }));
      fired = fired.filter((mapping) => roster.get(mapping.source.id) === mapping);
      if (!roster.wantsShift()) down.clear();
      routes.load(show, indexOf, mutedLines, put);
      return finish(now);
    },

    loadMoments(show, now) {
      clear();
      takeMoments(show, now);
      return finish(now);
    },

    order(act, now, desk = '') {
      clear();
      runner.do(act, { of: 'desk', name: desk }, now);
      return finish(now);
    },
    orderEvents: () => runner.drainEvents(),
    orderState: () => runner.state(),
    restoreOrder({ standingBy, called, finished }, now) {
      clear();
      runner.restore(standingBy, called);
      if (finished.length > 0) runner.finish(finished, now);
      return finish(now);
    },
    restoreBeat(since) {
      tempo = { bpm: tempo.bpm, since };
      answers.touchAll();
    },
    levels: (line) => fades.levelsOf(line),
    restoreLevels(line, levels) {
      levels.forEach((level, at) => {
        const signal: SlotSignal = { kind: 'slot', slot: at + 1, level };
        fades.sent(line, signal);
        runner.sent(line, signal);
      });
    },

    replace(row, order, now) {
      clear();
      const { before, after } = roster.replace(row, order, now);
      answers.replace(before, after);
      fired = fired.filter((mapping) => mapping !== before || before === after);
      return finish(now);
    },

    step(line, signal, now) {
      clear();
      outs.step = because.step = ++steps;
      trace.count = 0;
      if (roster.wantsShift()) {
        if (signal.kind === 'noteOn') down.add((line << 11) | (signal.channel << 7) | signal.number);
        else if (signal.kind === 'noteOff') down.delete((line << 11) | (signal.channel << 7) | signal.number);
      }
      const index = roster.index();
      const who = index.find(line, signal);
      for (let i = 0; i < who.length; i++) record(who[i]!, hear(who[i]!, line, signal, now));
      if (signal.kind === 'controlChange' && index.assembles(line)) assemble(line, signal, now);
      routes.pass(line, signal, now, put);
      return finish(now);
    },

    trace: () => trace,

    wakeAt: () =>
      Math.min(performer.wakeAt(), routes.wakeAt(), fades.wakeAt(), answers.wakeAt(), runner.wakeAt()),

    wake(now) {
      clear();
      performer.wake(now);
      fades.wake(now);
      runner.wake(now);
      routes.wake(now, put);
      return finish(now);
    },

    tryMapping(id, pressed, now) {
      clear();
      const mapping = roster.get(id);
      if (mapping) performer.byHand(mapping, pressed, now);
      return finish(now);
    },

    panic(now, desk = '') {
      clear();
      endAll({ of: 'desk', name: desk }, now);
      return finish(now);
    },

    lineGone(line, now) {
      clear();
      for (const key of down) if (key >> 11 === line) down.delete(key);
      const gone = new Set<CompiledMapping>();
      for (const mapping of roster.holders()) {
        if (mapping.inLine !== line) continue;
        for (const one of withVoices(mapping)) if (performer.isHeld(one)) gone.add(one);
      }
      performer.unheard(gone, now);
      routes.lineGone(line, put);
      return finish(now);
    },

    lineBack(line, now) {
      clear();
      answers.forget(line);
      return finish(now);
    },

    setArmed(next, now) {
      clear();
      // What was planned while the show was safe does not leave when it is armed.
      if (next && !armed) {
        performer.forget(roster.all());
        fades.stop(() => true);
        runner.endAll(null, now);
      }
      if (!next) endAll(null, now);
      const changed = armed !== next;
      armed = next;
      if (changed && next) answers.forget(null);
      return finish(now);
    },

    tap(now) {
      clear();
      takeTap(now);
      return finish(now);
    },

    banksOn: () => roster.banksOn(),
    tempo: () => tempo,

    tellAll() {
      for (const mapping of roster.all()) if (mapping.tally.fired > 0) report(mapping);
    },

    drainFired() {
      const list = fired;
      fired = [];
      for (const mapping of list) mapping.tally.reported = true;
      return list;
    },

    drainHolds() {
      if (holdChanges.size === 0) return NO_CHANGES;
      const changes = [...holdChanges].map((mapping) => ({
        key: `hold ${mapping.source.id} ${mapping.step}`,
        lowEnds: performer.lowEnds(mapping),
      }));
      holdChanges.clear();
      return changes;
    },

    cutRoutes: () => routes.cut(),
    restoreRoute: (id) => routes.restore(id),
  };
}
