/**
 * What a show does to signals. A function of the show, the inputs, and the times they are given with:
 * it reads no clock and does no I/O.
 */
import { createFades } from './fades/fades.js';
import { createParameters, createPairs } from './midi/pairs.js';
import { createAnswers } from './mapping/answers.js';
import {
  compileMapping,
  voiceAt,
  withVoices,
  type ActiveSend,
  type CompiledMapping,
  type MappingLines,
} from './mapping/compiled.js';
import { firstOf, wantsValue } from './mapping/hear.js';
import { byHand, NO_PARTS } from './mapping/heard.js';
import { buildIndex, type MappingIndex } from './mapping/lookup.js';
import { createTrace, type Outcome, type Trace } from './mapping/outcome.js';
import { createPerformer, type Way } from './mapping/performer.js';
import type { ShowAct } from './mapping/sends.js';
import { createPatchBay } from './routes/patch-bay.js';
import type { ChannelSignal, Signal, SlotSignal } from './signal.js';
import { switchBank, type Bank, type BankAct } from './show/bank.js';
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
  /** A signal called for Panic: what waits elsewhere is to be forgotten. */
  panic: boolean;
}

export interface Engine {
  /**
   * Takes a show, or the same show changed. What a mapping or route held that is no longer there, or no longer
   * the same, is released. Costs time in proportion to the show; signals don't.
   * @param lineIndex the number of each line that exists, by its id.
   */
  load(show: Show, lineIndex: ReadonlyMap<string, number>, now: number): Outs;
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
  panic(now: number): Outs;
  /** Releases what is held by notes heard on this line, as when it closes. */
  lineGone(line: number, now: number): Outs;
  /** A line can be sent on anew: the lamps of its controller are told what they show. */
  lineBack(line: number, now: number): Outs;
  /** Safe: all that is held is released, and from then on what would leave is held back. */
  setArmed(armed: boolean, now: number): Outs;
  /** A beat of the tempo tapped by hand. */
  tap(now: number): Outs;
  /** Ids of the banks that are on. */
  banksOn(): ReadonlySet<string>;
  tempo(): Tempo;
  /** Mappings that fired since the last call, each once. */
  drainFired(): CompiledMapping[];
  /** Has the next `drainFired` give every mapping that ever fired, for those who have just begun to look. */
  tellAll(): void;
  /** Routes that are cut since they closed a loop, by id, with when that was found (monotonic ms). */
  cutRoutes(): ReadonlyMap<string, number>;
  /** Opens a route that was cut. @returns whether it was. */
  restoreRoute(id: string): boolean;
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
  const outs: Outs = { count: 0, line: [], signal: [], sender: [], heldBack: [], lamp: [], panic: false };
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
    act: (act) => acts.push(act),
    fade,
  });
  const fades = createFades(put);
  const answers = createAnswers({ put: putLamp, isBankOn: (id) => banksOn.has(id), tempo: () => tempo });
  /** Notes that are down on each line, as line << 11 | channel << 7 | number: for mappings that want one to be. */
  const down = new Set<number>();
  /** By line. */
  const assemblers: (Assemblers | undefined)[] = [];
  /** What is to be done to the show once all that hear the signal have had it. */
  const acts: ShowAct[] = [];
  let byId = new Map<string, CompiledMapping>();
  let byBank = new Map<string, CompiledMapping[]>();
  let holders: CompiledMapping[] = []; // mappings that can hold
  let banks: readonly Bank[] = [];
  let banksOn: ReadonlySet<string> = new Set<string>();
  let tempo: Tempo = { bpm: 120, since: 0 };
  let shifts = false;
  let index: MappingIndex = buildIndex([]);
  let fired: CompiledMapping[] = [];
  let armed = true;

  function report(mapping: CompiledMapping): void {
    answers.touch(mapping);
    if (!mapping.tally.reported) return;
    mapping.tally.reported = false;
    fired.push(mapping.root);
  }

  function put(line: number, signal: Signal, sender: string, muted: boolean): void {
    const at = outs.count++;
    outs.line[at] = line;
    outs.signal[at] = signal;
    outs.sender[at] = sender;
    outs.heldBack[at] = !armed || muted;
    outs.lamp[at] = false;
    if (signal.kind === 'slot') fades.sent(line, signal);
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
    fades.start({ line, slot: coarse!.slot, fine: !!fine, level, ms, sender: source.id, muted }, now);
  }

  function clear(): Outs {
    outs.count = 0;
    outs.panic = false;
    return outs;
  }

  /** What every input ends with: what was to be done to the show is, and lamps are told. */
  function finish(now: number): Outs {
    for (let act = acts.shift(); act; act = acts.shift()) {
      if (act.do === 'bank') turnBank(act.bankId, act.act, now);
      else if (act.do === 'tap') takeTap(now);
      else {
        endAll(now);
        outs.panic = true;
      }
    }
    answers.flush(now);
    return outs;
  }

  function endAll(now: number): void {
    performer.forget(byId.values());
    fades.stop(() => true);
    for (const mapping of holders) for (const one of withVoices(mapping)) performer.end(one, now);
    routes.releaseAll(put);
  }

  function takeTap(now: number): void {
    const tapped = tapper.tap(now);
    // The first tap says where the beat is, not how fast.
    tempo = tapped ?? { bpm: tempo.bpm, since: now };
    answers.touchAll();
  }

  const isLive = ({ bankId, when }: Mapping): boolean =>
    (bankId === null || banksOn.has(bankId)) && (when.bankId === null || banksOn.has(when.bankId));

  /** What a mapping holds ends when its bank goes; what is to be picked up waits when it comes. */
  function setLive(mapping: CompiledMapping, now: number): void {
    const live = isLive(mapping.source);
    if (live === mapping.live) return;
    mapping.live = live;
    answers.touch(mapping);
    if (live) {
      for (const one of withVoices(mapping)) one.shaper.resume();
      return;
    }
    performer.forget([mapping]);
    fades.stop((sender) => sender === mapping.source.id);
    for (const one of withVoices(mapping)) performer.end(one, now);
  }

  function turnBank(id: string, act: BankAct, now: number): void {
    const before = banksOn;
    banksOn = switchBank(banks, (bank) => before.has(bank), id, act);
    for (const bank of banks) {
      if (before.has(bank.id) === banksOn.has(bank.id)) continue;
      for (const mapping of byBank.get(bank.id) ?? []) setLive(mapping, now);
    }
    answers.touchAll();
  }

  const alike = ({ hear, when, shape, sends }: Mapping, other: Mapping): boolean =>
    JSON.stringify([hear, when, shape, sends]) ===
    JSON.stringify([other.hear, other.when, other.shape, other.sends]);

  const sameLines = (mapping: CompiledMapping, { inLine, outs: ends }: MappingLines): boolean =>
    mapping.inLine === inLine &&
    mapping.sends.length === ends.length &&
    mapping.sends.every((send, at) => send.line === ends[at]!.line && send.muted === ends[at]!.muted);

  /**
   * The mapping as it was compiled before, with all that it holds and does, if it hears, shapes and sends the same: most
   * of a show stays when one row is edited.
   */
  function asBefore(
    before: CompiledMapping | undefined,
    source: Mapping,
    order: number,
    lines: MappingLines,
  ): CompiledMapping | null {
    if (!before || !sameLines(before, lines)) return null;
    if (before.source !== source && !alike(before.source, source)) return null;
    for (const one of withVoices(before)) {
      one.source = source;
      one.order = order;
    }
    return before;
  }

  /** Takes over what `before` did last; what it held is ended. */
  function takeOver(before: CompiledMapping, after: CompiledMapping | undefined, now: number): void {
    if (after) {
      const { fired: times, lastHeard, lastShaped, lastAt, reported } = before.tally;
      Object.assign(after.tally, { fired: times, lastHeard, lastShaped, lastAt });
      if (!reported) report(after);
    }
    for (const one of withVoices(before)) performer.end(one, now);
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
    if (!mapping.live) return isBankOff(mapping) ? 'bankOff' : 'whileBank';
    const refused = mapping.reader.read(signal, heard);
    if (refused) return refused;
    if (mapping.source.answer) {
      if (answers.isEcho(mapping, line, signal, now)) return 'echo';
      answers.ownPlace(mapping, heard.value);
    }
    return give(mapping, wayOf(signal), now);
  }

  const isBankOff = ({ source: { bankId } }: CompiledMapping): boolean =>
    bankId !== null && !banksOn.has(bankId);

  /** What several controllers say together. */
  function assemble(line: number, { channel, number, value }: ChannelSignal, now: number): void {
    const { pairs, parameters } = (assemblers[line] ??= {
      pairs: createPairs(),
      parameters: createParameters(),
    });
    const pair = pairs.take(channel, number, value);
    if (pair)
      giveAssembled(index.findPair(line, channel, pair.number), channel, pair.number, pair.value, now);
    const parameter = parameters.take(channel, number, value);
    if (!parameter) return;
    const who = index.findParameter(line, channel, parameter.registered, parameter.number);
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
      if (!mapping.live) record(mapping, isBankOff(mapping) ? 'bankOff' : 'whileBank');
      else if (!wantsValue(mapping.source.hear, value)) record(mapping, 'value');
      else record(mapping, give(mapping, 'value', now));
    }
  }

  function takeBanks(show: Show): void {
    ({ banks } = show);
    banksOn = new Set(banks.filter((bank) => bank.on).map((bank) => bank.id));
  }

  return {
    load(show, lineIndex, now) {
      clear();
      const before = byId;
      takeBanks(show);
      if (show.settings.tempo !== tempo.bpm) {
        // The beat goes on from where it is.
        const beat = beatAt(tempo, now);
        const bpm = show.settings.tempo;
        tempo = { bpm, since: now - (beat * 60_000) / bpm };
      }
      const mutedLines = new Set(show.lines.filter((line) => line.muted).map((line) => line.id));
      const indexOf = (id: string | null): number => (id === null ? -1 : (lineIndex.get(id) ?? -1));
      const isMuted = (id: string | null): boolean => id !== null && mutedLines.has(id);
      const compiled: CompiledMapping[] = [];
      show.mappings.forEach((mapping, order) => {
        if (!mapping.on) return;
        const {
          hear: { lineId },
          sends,
        } = mapping;
        const lines = {
          inLine: isMuted(lineId) ? -1 : indexOf(lineId),
          outs: sends.map((send) => ({ line: indexOf(send.lineId), muted: isMuted(send.lineId) })),
        };
        const known = asBefore(before.get(mapping.id), mapping, order, lines);
        const made = known ?? compileMapping(mapping, order, lines, seed);
        if (!known) made.live = isLive(mapping);
        compiled.push(made);
      });
      byId = new Map(compiled.map((mapping) => [mapping.source.id, mapping]));
      answers.load(compiled, (id) => ({ line: indexOf(id), muted: isMuted(id) }));
      const gone = new Set<CompiledMapping>();
      for (const mapping of before.values()) {
        const after = byId.get(mapping.source.id);
        if (after === mapping) continue;
        gone.add(mapping);
        takeOver(mapping, after, now);
      }
      if (gone.size > 0) {
        performer.forget(gone);
        fades.stop((sender) => !byId.has(sender));
      }
      for (const mapping of compiled) setLive(mapping, now);
      byBank = new Map();
      for (const mapping of compiled) {
        for (const id of new Set([mapping.source.bankId, mapping.source.when.bankId])) {
          if (id === null) continue;
          const list = byBank.get(id);
          if (list) list.push(mapping);
          else byBank.set(id, [mapping]);
        }
      }
      fired = fired.filter((mapping) => byId.get(mapping.source.id) === mapping);
      holders = compiled.filter(
        (mapping) => mapping.holds || mapping.sends.some((send) => send.releases.length > 0),
      );
      shifts = compiled.some((mapping) => mapping.shift >= 0);
      if (!shifts) down.clear();
      index = buildIndex(compiled);
      routes.load(show, indexOf, mutedLines, put);
      return finish(now);
    },

    step(line, signal, now) {
      clear();
      trace.count = 0;
      if (shifts) {
        if (signal.kind === 'noteOn') down.add((line << 11) | (signal.channel << 7) | signal.number);
        else if (signal.kind === 'noteOff') down.delete((line << 11) | (signal.channel << 7) | signal.number);
      }
      const who = index.find(line, signal);
      for (let i = 0; i < who.length; i++) record(who[i]!, hear(who[i]!, line, signal, now));
      if (signal.kind === 'controlChange' && index.assembles(line)) assemble(line, signal, now);
      routes.pass(line, signal, now, put);
      return finish(now);
    },

    trace: () => trace,

    wakeAt: () => Math.min(performer.wakeAt(), routes.wakeAt(), fades.wakeAt(), answers.wakeAt()),

    wake(now) {
      clear();
      performer.wake(now);
      fades.wake(now);
      routes.wake(now, put);
      return finish(now);
    },

    tryMapping(id, pressed, now) {
      clear();
      const mapping = byId.get(id);
      if (mapping) performer.byHand(mapping, pressed, now);
      return finish(now);
    },

    panic(now) {
      clear();
      endAll(now);
      return finish(now);
    },

    lineGone(line, now) {
      clear();
      for (const key of down) if (key >> 11 === line) down.delete(key);
      const gone = new Set<CompiledMapping>();
      for (const mapping of holders) {
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
        performer.forget(byId.values());
        fades.stop(() => true);
      }
      if (!next) endAll(now);
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

    banksOn: () => banksOn,
    tempo: () => tempo,

    tellAll() {
      for (const mapping of byId.values()) if (mapping.tally.fired > 0) report(mapping);
    },

    drainFired() {
      const list = fired;
      fired = [];
      for (const mapping of list) mapping.tally.reported = true;
      return list;
    },

    cutRoutes: () => routes.cut(),
    restoreRoute: (id) => routes.restore(id),
  };
}
