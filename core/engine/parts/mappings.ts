/** Mappings: shape what is heard, send it, and keep the lamps and motor faders of controls up to date. */
import { createFades } from '../../fades/fades.js';
import { firstOf, wantsValue } from '../../hears/parts.js';
import { createAnswers } from '../../mapping/answers.js';
import {
  voiceAt,
  withVoices,
  type ActiveSend,
  type CompiledMapping,
  type HoldChange,
} from '../../mapping/compiled.js';
import { byHand, NO_PARTS } from '../../mapping/heard.js';
import { createTrace, type Outcome, type Trace } from '../../mapping/outcome.js';
import { createPerformer, type Way } from '../../mapping/performer.js';
import { createRoster } from '../../mapping/roster.js';
import { createStraight } from '../../mapping/straight.js';
import { createLineAssembler } from '../../midi/pairs.js';
import type { ChannelSignal, Signal, SlotSignal } from '../../signal.js';
import type { Tempo } from '../../time/tempo.js';
import type { InputOf } from '../input.js';
import type { Part, Stage } from '../part.js';

export interface MappingsPart extends Part {
  /** What each mapping that matched the last signal did with it. Overwritten by the next signal. */
  trace(): Trace;
  /** Ids of the banks that are on. Returns a new set after each change. */
  banksOn(): ReadonlySet<string>;
  /** Returns the mappings that fired since the last call, each once. */
  drainFired(): CompiledMapping[];
  /** Makes the next `drainFired` return every mapping that has ever fired, for a new observer. */
  tellAll(): void;
  /** Returns what mappings started or stopped holding since the last call. */
  drainHolds(): readonly HoldChange[];
}

const NO_CHANGES: readonly HoldChange[] = [];

/** Returns what the control did, from the kind of signal. */
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

/** @param seed of the random numbers */
export function createMappingsPart(stage: Stage, seed: number): MappingsPart {
  const { armed, because, tempo, lineOf } = stage;
  const trace = createTrace();
  const heard = byHand(0, 0);
  const fades = createFades(stage.put, stage.levels, tempo);
  const performer = createPerformer({
    put: stage.put,
    keys: stage.keys,
    report,
    armed,
    isDown: (key) => down.has(key),
    tempo,
    because,
    act: (act, id) => stage.act(act, { of: 'mapping', id }),
    fade,
    holdChanged: (mapping) => holdChanges.add(mapping),
  });
  const straight = createStraight({ put: stage.put, report });
  const answers = createAnswers({ put: stage.tell, isBankOn: (id) => roster.banksOn().has(id), tempo });
  const roster = createRoster(
    {
      report,
      touch: (mapping) => answers.touch(mapping),
      end: (mapping, now) => performer.end(mapping, now),
      forget(mappings) {
        performer.forget(mappings);
        let ids: Set<string> | null = null;
        fades.stop((sender) => (ids ??= new Set([...mappings].map(({ source }) => source.id))).has(sender));
      },
    },
    seed,
  );
  /** Notes that are down, as line << 11 | channel << 7 | number. Mappings may require one of them. */
  const down = new Set<number>();
  const assembler = createLineAssembler();
  const holdChanges = new Set<CompiledMapping>();
  let fired: CompiledMapping[] = [];
  let wasArmed = true;
  /** The banks and the tempo when lamps were last updated. */
  let toldBanks: ReadonlySet<string> = roster.banksOn();
  let toldTempo: Tempo | null = null;

  function report(mapping: CompiledMapping): void {
    answers.touch(mapping);
    if (!mapping.tally.reported) return;
    mapping.tally.reported = false;
    fired.push(mapping.root);
  }

  function fade({ source }: CompiledMapping, send: ActiveSend, now: number): void {
    const [coarse, fine] = send.signals as SlotSignal[];
    const level = fine ? (coarse!.level << 8) | fine.level : coarse!.level;
    const { line, muted, fade: over } = send;
    const levels: [number, number][] = [[coarse!.slot, level]];
    fades.start(
      { line, levels, fine: !!fine, over: over!, sender: source.id, muted, because: because.step },
      now,
    );
  }

  function record(mapping: CompiledMapping, outcome: Outcome): void {
    const at = trace.count++;
    const { source, tally } = mapping;
    trace.mapping[at] = source.id;
    trace.outcome[at] = outcome;
    trace.heard[at] = outcome === 'fired' || outcome === 'released' ? tally.lastHeard : heard.value;
    trace.shaped[at] = tally.lastShaped;
  }

  /** Passes `heard` to a mapping. */
  function give(mapping: CompiledMapping, way: Way, now: number): Outcome {
    if (!mapping.voices) return performer.take(mapping, heard, way, now);
    const voice = voiceAt(mapping, heard.number - firstOf(mapping.source.hear), seed);
    return voice ? performer.take(voice, heard, way, now) : 'noPlace';
  }

  function hearOne(mapping: CompiledMapping, line: number, signal: Signal, now: number): Outcome {
    if (!mapping.live) return roster.whyNotLive(mapping);
    if (mapping.straight) return straight(mapping, signal, now);
    const refused = mapping.read(signal, heard);
    if (refused) return refused;
    if (mapping.source.answer) {
      if (answers.isEcho(mapping, line, signal, now)) return 'echo';
      answers.ownPlace(mapping, heard.value);
    }
    return give(mapping, wayOf(signal), now);
  }

  /** Passes a controller on as part of a combined value, if it completes one. */
  function assemble(line: number, signal: ChannelSignal, now: number): void {
    const { channel } = signal;
    const { pair, parameter } = assembler.take(line, signal);
    const index = roster.index();
    if (pair) giveAssembled(index.findPair(line, channel, pair.number), channel, pair, now);
    if (!parameter) return;
    const who = index.findParameter(line, channel, parameter.registered, parameter.number);
    giveAssembled(who, channel, parameter, now);
  }

  function giveAssembled(
    mappings: readonly CompiledMapping[],
    channel: number,
    { number, value }: { number: number; value: number },
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

  function replace({ row, order }: InputOf<'mapping'>, now: number): void {
    const { before, after } = roster.replace(row, order, now);
    answers.replace(before, after);
    fired = fired.filter((mapping) => mapping !== before || before === after);
  }

  function lineGone(line: number, now: number): void {
    for (const key of down) if (key >> 11 === line) down.delete(key);
    const gone = new Set<CompiledMapping>();
    for (const mapping of roster.holders()) {
      if (mapping.inLine !== line) continue;
      for (const one of withVoices(mapping)) if (performer.isHeld(one)) gone.add(one);
    }
    performer.unheard(gone, now);
  }

  function forget(): void {
    performer.forget(new Set(roster.all()));
    fades.stop(() => true);
  }

  return {
    prepare: ({ show, lines, listeners: wanted }) => roster.prepare(show, wanted, lines),
    load({ show, whole, lines, listeners: wanted }, now) {
      if (!whole) return roster.takeListeners(wanted, now);
      roster.load(show, wanted, lines, now);
      answers.load(roster.all(), lineOf);
      fired = fired.filter((mapping) => roster.get(mapping.source.id) === mapping);
      if (!roster.wantsShift()) down.clear();
    },
    hear(line, signal, now) {
      trace.count = 0;
      if (roster.wantsShift()) {
        if (signal.kind === 'noteOn') down.add((line << 11) | (signal.channel << 7) | signal.number);
        else if (signal.kind === 'noteOff') down.delete((line << 11) | (signal.channel << 7) | signal.number);
      }
      const index = roster.index();
      const who = index.find(line, signal);
      for (let i = 0; i < who.length; i++) record(who[i]!, hearOne(who[i]!, line, signal, now));
      if (signal.kind === 'controlChange' && index.assembles(line)) assemble(line, signal, now);
    },
    take(input, now) {
      switch (input.t) {
        case 'mapping':
          return replace(input, now);
        case 'tryMapping': {
          const mapping = roster.get(input.id);
          if (mapping) performer.byHand(mapping, input.pressed, now);
          return;
        }
        case 'lineGone':
          return lineGone(input.line, now);
        case 'lineBack':
          return answers.forget(input.line);
        case 'armed':
          // Lamps changed while the show was safe, and could not be told.
          if (input.armed && !wasArmed) answers.forget(null);
          wasArmed = input.armed;
      }
    },
    act(act, _, now) {
      if (act.do === 'bank') roster.turnBank(act.bankId, act.act, now);
    },
    watches: () => answers.follows(),
    saw: (line, signal, sender) => answers.saw(line, signal, sender),
    wakeAt: () => Math.min(performer.wakeAt(), fades.wakeAt(), answers.wakeAt()),
    wake(now) {
      performer.wake(now);
      fades.wake(now);
    },
    letGo(_, now) {
      forget();
      for (const mapping of roster.holders()) for (const one of withVoices(mapping)) performer.end(one, now);
    },
    forget,
    finishes: () => answers.any(),
    finish(now) {
      if (roster.banksOn() !== toldBanks || tempo() !== toldTempo) {
        toldBanks = roster.banksOn();
        toldTempo = tempo();
        answers.touchAll();
      }
      answers.flush(now);
    },

    trace: () => trace,
    banksOn: () => roster.banksOn(),
    drainFired() {
      const list = fired;
      fired = [];
      for (const mapping of list) mapping.tally.reported = true;
      return list;
    },
    tellAll() {
      for (const mapping of roster.all()) if (mapping.tally.fired > 0) report(mapping);
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
  };
}
