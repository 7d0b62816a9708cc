/**
 * What a mapping does with what it hears, over time: it fires, holds, waits, glides and lets go. Everything for later is on one agenda, with
 * what its sends do later. Given the time; reads no clock.
 */
import { createAgenda } from '../agenda.js';
import { MOVE_MS } from '../time/pace.js';
import { inMs, paceOf, type Pace, type Span, type TempoNow } from '../time/span.js';
import { beatAt, songBeatAt } from '../time/tempo.js';
import { lowEndsOf, withVoices, type CompiledMapping, type LowEnd } from './compiled.js';
import { firstOf } from '../hears/parts.js';
import { byHand, NO_PARTS, type Heard } from './heard.js';
import type { Outcome } from './outcome.js';
import type { Because } from '../because.js';
import { createSender, type SenderStage, type SendPlan } from './sender.js';

/** In `CompiledMapping.held`: the mapping is held by hand. */
const BY_HAND = -1;
/** In `CompiledMapping.held`: the mapping is held by a key. */
const BY_KEY = -2;

const AT_ONCE = inMs(0);

/** Something that a mapping does later. */
type Plan =
  | SendPlan<CompiledMapping>
  | { do: 'glide'; mapping: CompiledMapping }
  /** It has been held for the time that it requires, unless it was let go meanwhile. */
  | { do: 'heldLong'; mapping: CompiledMapping; turn: number; heard: Heard };

/** @see Because */
type Later = Plan & { because: number };

/** What the control did: sent a value, or was pressed or released. */
export type Way = 'value' | 'pressed' | 'released' | 'keyDown' | 'keyUp';

/** What a performer needs. */
export interface Stage extends Omit<SenderStage<CompiledMapping>, 'plan'> {
  /** Tells observers that the mapping did something. */
  report(mapping: CompiledMapping): void;
  /** Returns whether a note is down, given as line << 11 | channel << 7 | number. */
  isDown(key: number): boolean;
  tempo: TempoNow;
  because: Because;
  /** A mapping starts or stops holding something that has no release message. */
  holdChanged(mapping: CompiledMapping): void;
}

export interface Performer {
  /** Processes something that the mapping hears, as it was read. @param way what its control did. @returns the outcome */
  take(mapping: CompiledMapping, heard: Heard, way: Way, now: number): Outcome;
  /** Presses or releases it by hand, at the top of its range. */
  byHand(mapping: CompiledMapping, pressed: boolean, now: number): void;
  /** Ends everything at once: releases what sounds, and lets go of what is held. */
  end(mapping: CompiledMapping, now: number): void;
  /** The input of these mappings is gone: ends everything but what is held by hand. */
  unheard(mappings: ReadonlySet<CompiledMapping>, now: number): void;
  isHeld(mapping: CompiledMapping): boolean;
  /** Returns the signals that undo what the mapping holds and that has no release message; empty if it holds nothing such. */
  lowEnds(mapping: CompiledMapping): LowEnd[];
  /** Discards everything that these mappings have planned, and stops their glides where they are. */
  forget(mappings: ReadonlySet<CompiledMapping>): void;
  /** When `wake` is due, in monotonic ms; Infinity if nothing is planned. */
  wakeAt(): number;
  wake(now: number): void;
}

export function createPerformer(stage: Stage): Performer {
  const { report, armed, isDown: isNoteDown, because } = stage;
  const agenda = createAgenda<Later>(() => stage.tempo());
  const plan = (after: Span, now: number, what: Plan): void =>
    agenda.after(after, now, { ...what, because: because.step });
  const sender = createSender<CompiledMapping>({ ...stage, plan });

  /** Sends a value with all sends of a mapping. */
  function sendAll(mapping: CompiledMapping, value: number, now: number, copied = false): void {
    const shaped = mapping.shaper.finish(value);
    mapping.shaped = shaped;
    mapping.tally.lastShaped = shaped;
    mapping.tally.lastAt = now;
    report(mapping);
    const { sends } = mapping;
    for (let at = 0; at < sends.length; at++) sender.send(mapping, sends[at]!, shaped, now, copied);
  }

  /** Goes to a value: at once, or by a glide. */
  function goTo(mapping: CompiledMapping, value: number, now: number): void {
    const { glides } = mapping;
    const from = mapping.glide?.at;
    if (glides === null || from === undefined) {
      mapping.glide =
        glides === null ? null : { from: value, to: value, pace: null, at: value, because: because.step };
      return sendAll(mapping, value, now);
    }
    const moving = mapping.glide!.at !== mapping.glide!.to;
    const pace = paceOf(glides, now, () => stage.tempo());
    mapping.glide = { from, to: value, pace, at: from, because: because.step };
    report(mapping);
    if (!moving) plan(AT_ONCE, now, { do: 'glide', mapping });
  }

  function glideOn(mapping: CompiledMapping, now: number): void {
    const { glide } = mapping;
    if (!glide) return;
    because.step = glide.because;
    const part = glide.pace?.part(now) ?? 1;
    const value = part === 1 ? glide.to : glide.from + part * (glide.to - glide.from);
    if (value !== glide.at || part === 1) sendAll(mapping, value, now, true);
    glide.at = value;
    if (part < 1) planGlide(mapping, glide.pace!, now);
  }

  /** The next step of a glide, or its end if that comes before. In beats both follow the tempo, so that no step is after the end. */
  function planGlide(mapping: CompiledMapping, pace: Pace, now: number): void {
    const later: Later = { do: 'glide', mapping, because: because.step };
    if (pace.endBeat === Infinity) agenda.add(Math.min(now + MOVE_MS, pace.endsAt()), later);
    else agenda.atBeat(Math.min(beatAt(stage.tempo(), now + MOVE_MS), pace.endBeat), later);
  }

  function emit(mapping: CompiledMapping, heard: Heard, now: number): Outcome {
    const value = mapping.usesNumber ? heard.number : heard.value;
    const { shaper } = mapping;
    const wished = shaper.take(value, heard, shaper.usesBeat ? songBeatAt(stage.tempo(), now) : 0);
    if (wished === null) return shaper.why;
    mapping.heard.value = heard.value;
    mapping.heard.number = heard.number;
    mapping.heard.channel = heard.channel;
    mapping.heard.parts = heard.parts;
    mapping.tally.fired++;
    mapping.tally.lastHeard = value;
    goTo(mapping, wished, now);
    return 'fired';
  }

  /** The control was let go: releases what sounds; sends without a release send the low end. */
  function letGo(mapping: CompiledMapping, now: number): void {
    mapping.held.clear();
    stage.holdChanged(mapping);
    if (mapping.waiting) {
      mapping.waiting = false;
      return; // it never began
    }
    mapping.tally.lastAt = now;
    report(mapping);
    sender.release(mapping, now);
    if (mapping.source.shape.each !== 'value' || mapping.sends.every((send) => send.releases.length > 0))
      return;
    mapping.tally.fired++;
    [mapping.tally.lastHeard] = mapping.source.shape.in;
    sendLow(mapping, now, false);
  }

  /** Sends the low end with the sends that have no release message. @param atOnce without glide and delay */
  function sendLow(mapping: CompiledMapping, now: number, atOnce: boolean): void {
    const low = mapping.shaper.low();
    if (mapping.glide && !atOnce && mapping.sends.every((send) => send.releases.length === 0))
      return goTo(mapping, low, now);
    if (mapping.glide) mapping.glide = { from: low, to: low, pace: null, at: low, because: because.step };
    const shaped = mapping.shaper.finish(low);
    mapping.shaped = shaped;
    mapping.tally.lastShaped = shaped;
    for (const send of mapping.sends) {
      if (send.releases.length > 0) continue;
      if (atOnce) sender.sendNow(mapping, send, shaped, now);
      else sender.send(mapping, send, shaped, now, true);
    }
  }

  function end(mapping: CompiledMapping, now: number): void {
    const wasHeld = mapping.held.size > 0 && !mapping.waiting;
    mapping.held.clear();
    mapping.waiting = false;
    if (wasHeld) stage.holdChanged(mapping);
    if (!wasHeld && !mapping.sends.some((send) => send.sounding)) return;
    mapping.tally.lastAt = now;
    report(mapping);
    for (const send of mapping.sends) if (send.sounding) sender.stop(mapping, send);
    if (wasHeld && mapping.source.shape.each === 'value') sendLow(mapping, now, true);
  }

  /** A control was pressed: fires at once, or when it has been held for the time that the mapping requires. */
  function begin(mapping: CompiledMapping, heard: Heard, now: number): Outcome {
    const { heldForMs } = mapping.source.when;
    if (heldForMs === 0) return emit(mapping, heard, now);
    if (mapping.waiting) return 'waiting';
    mapping.waiting = true;
    const turn = ++mapping.waits;
    plan(inMs(heldForMs), now, { do: 'heldLong', mapping, turn, heard: { ...heard } });
    return 'waiting';
  }

  function hold(mapping: CompiledMapping, key: number, pressed: boolean, heard: Heard, now: number): Outcome {
    const silent = !armed() || mapping.sends.every((send) => send.muted);
    if (pressed) {
      if (silent) return emit(mapping, heard, now);
      mapping.held.add(key);
      const outcome = begin(mapping, heard, now);
      stage.holdChanged(mapping);
      return outcome;
    }
    if (mapping.held.delete(key)) {
      if (mapping.held.size > 0) return 'alsoHeld';
      letGo(mapping, now);
      return 'released';
    }
    return silent ? emit(mapping, lowOf(mapping), now) : 'nothingHeld';
  }

  const lowOf = (mapping: CompiledMapping): Heard => {
    const [low] = mapping.source.shape.in;
    return { value: low, number: low, channel: mapping.heard.channel, parts: NO_PARTS };
  };

  function keptBack(mapping: CompiledMapping, value: number, now: number): Outcome | null {
    if (mapping.shift >= 0 && !isNoteDown(mapping.shift)) return 'shift';
    return mapping.gate ? mapping.gate.keeps(value, now) : null;
  }

  function take(mapping: CompiledMapping, heard: Heard, way: Way, now: number): Outcome {
    const down = way === 'pressed' || way === 'keyDown';
    if (!mapping.holds) return keptBack(mapping, heard.value, now) ?? emit(mapping, heard, now);
    const key = way === 'keyDown' || way === 'keyUp' ? BY_KEY : (heard.channel << 7) | heard.number;
    const kept = down ? keptBack(mapping, heard.value, now) : null;
    return kept ?? hold(mapping, key, down, heard, now);
  }

  const isHeld = (mapping: CompiledMapping): boolean =>
    mapping.held.size > 0 || mapping.sends.some((send) => send.sounding);

  function forget(mappings: ReadonlySet<CompiledMapping>): void {
    for (const later of agenda.drop(({ mapping }) => mappings.has(mapping.root)))
      if (later.do !== 'glide' && later.do !== 'heldLong') sender.dropped(later);
    for (const root of mappings)
      if (root.glides) for (const { glide } of withVoices(root)) if (glide) glide.to = glide.at;
  }

  function doLater(later: Later, now: number): void {
    const { mapping } = later;
    switch (later.do) {
      case 'glide':
        return glideOn(mapping, now);
      case 'heldLong':
        if (!mapping.waiting || later.turn !== mapping.waits) return;
        mapping.waiting = false;
        emit(mapping, later.heard, now);
        return stage.holdChanged(mapping);
      default:
        sender.later(later, now);
    }
  }

  return {
    take,
    end,
    isHeld,
    lowEnds: (mapping) =>
      mapping.held.size > 0 && !mapping.waiting && mapping.source.shape.each === 'value'
        ? lowEndsOf(mapping)
        : [],
    forget,
    byHand(mapping, pressed, now) {
      const [, top] = mapping.source.shape.in;
      const heard = byHand(top, mapping.usesNumber ? top : firstOf(mapping.source.hear));
      if (mapping.holds) hold(mapping, BY_HAND, pressed, heard, now);
      else if (pressed) emit(mapping, heard, now);
      else sender.release(mapping, now);
    },
    unheard(mappings, now) {
      forget(mappings);
      for (const mapping of mappings) {
        const byHand = mapping.held.has(BY_HAND);
        mapping.held.clear();
        if (byHand) mapping.held.add(BY_HAND);
        else {
          mapping.held.add(BY_KEY); // for `end` to know that it was held
          end(mapping, now);
        }
      }
    },
    wakeAt: () => agenda.nextAt(),
    wake(now) {
      for (let later = agenda.nextDue(now); later; later = agenda.nextDue(now)) {
        because.step = later.because;
        doLater(later, now);
      }
      because.step = 0;
    },
  };
}
