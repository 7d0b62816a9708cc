/**
 * What a mapping does with what it hears, in the course of time: it fires, holds, delays, glides, repeats and lets go. What is to be
 * done later is on its agenda; it is given the time, and reads no clock.
 */
import { createAgenda } from '../agenda.js';
import { copySignal, type Signal } from '../signal.js';
import { lowEndsOf, withVoices, type ActiveSend, type CompiledMapping, type LowEnd } from './compiled.js';
import { firstOf } from '../hears/parts.js';
import { byHand, NO_PARTS, type Heard } from './heard.js';
import type { Outcome } from './outcome.js';
import type { Because } from '../because.js';
import type { ShowAct } from '../sends/compiled.js';
import { finishValue } from './shape.js';

/** In a mapping's held notes: held by hand, not by a note. */
const BY_HAND = -1;
/** In a mapping's held notes: held by a key. */
const BY_KEY = -2;

/** What a mapping does later. What belongs to an earlier press or release than its send's `turn` is out of date. */
type Plan =
  /** A delayed send: what was heard, and shaped into, then. */
  | { do: 'send'; mapping: CompiledMapping; send: ActiveSend; shaped: number; heard: Heard; turn: null }
  /** Keys that are typed after others. */
  | { do: 'type'; mapping: CompiledMapping; send: ActiveSend; signals: readonly Signal[]; turn: null }
  /** The end of a note with a length, or of a delayed hold. */
  | { do: 'release'; mapping: CompiledMapping; send: ActiveSend; turn: number | null }
  | { do: 'repeat'; mapping: CompiledMapping; send: ActiveSend; turn: number }
  | { do: 'glide'; mapping: CompiledMapping; send: null; turn: null }
  /** It has been held for as long as is wanted, if it still is. */
  | { do: 'heldLong'; mapping: CompiledMapping; send: null; turn: number; heard: Heard };

/** @see Because */
type Later = Plan & { because: number };

/** What the control did: a value, or what is pressed and let go. */
export type Way = 'value' | 'pressed' | 'released' | 'keyDown' | 'keyUp';

/** How often a glide moves on: smoother than the 44 frames a second of DMX. */
const GLIDE_MS = 20;

/** What a performer asks of whoever has it. */
export interface Stage {
  put(line: number, signal: Signal, sender: string, muted: boolean): void;
  /** The mapping did something, for those who look on. */
  report(mapping: CompiledMapping): void;
  /** False: what would leave is held back. */
  armed(): boolean;
  /** Whether a note is down, as line << 11 | channel << 7 | number. */
  isDown(key: number): boolean;
  /** Beats since the tempo began. */
  beat(now: number): number;
  /** Something is done to the show itself. @param by the mapping that does it */
  act(act: ShowAct, by: string): void;
  because: Because;
  /** A slot goes to the level that `signals` say, in the send's time. */
  fade(mapping: CompiledMapping, send: ActiveSend, now: number): void;
  /** A mapping begins or ends to hold what has no release but the low end of its range. */
  holdChanged(mapping: CompiledMapping): void;
}

export interface Performer {
  /** Something that the mapping hears, as it was read. @param way what its control did. @returns what became of it */
  take(mapping: CompiledMapping, heard: Heard, way: Way, now: number): Outcome;
  /** Presses or releases it by hand, at the top of its range. */
  byHand(mapping: CompiledMapping, pressed: boolean, now: number): void;
  /** Ends all of it at once: what sounds is released, and what is held is let go. */
  end(mapping: CompiledMapping, now: number): void;
  /** What it hears can't hear any more: all is ended but what is held by hand. */
  unheard(mappings: ReadonlySet<CompiledMapping>, now: number): void;
  isHeld(mapping: CompiledMapping): boolean;
  /** What takes back what a mapping holds now and that has no release of its own; empty where it holds nothing such. */
  lowEnds(mapping: CompiledMapping): LowEnd[];
  /** What these mappings, or all that the list has, have planned is forgotten, and what glides stays where it is. */
  forget(mappings: Iterable<CompiledMapping>): void;
  /** Monotonic ms; Infinity when nothing is planned. */
  wakeAt(): number;
  wake(now: number): void;
}

export function createPerformer(stage: Stage): Performer {
  const { put, report, armed, isDown: isNoteDown, because } = stage;
  const agenda = createAgenda<Later>();
  const plan = (at: number, what: Plan): void => agenda.put(at, { ...what, because: because.step });

  /** Sends the release of what sounds. */
  function stop(mapping: CompiledMapping, send: ActiveSend): void {
    send.sounding = false;
    send.turn++;
    for (const signal of send.releases) put(send.line, signal, mapping.source.id, send.muted);
  }

  /** Sends one of a mapping's things now. @param copied its signals are used again before this leaves */
  function fireSend(
    mapping: CompiledMapping,
    send: ActiveSend,
    shaped: number,
    heard: Heard,
    now: number,
    copied: boolean,
  ): void {
    const filled = send.fill(send.own(shaped), heard);
    if (filled === 'nothing') return;
    if (send.act) return armed() ? stage.act(send.act, mapping.source.id) : undefined;
    if (send.fadeMs > 0) return stage.fade(mapping, send, now);
    // A note with a length that sounds still is ended before it begins anew.
    if (send.sounding && send.lengthMs !== null) stop(mapping, send);
    const signals = filled === 'signals' ? send.signals : send.releases;
    for (const signal of signals)
      put(send.line, copied ? copySignal(signal) : signal, mapping.source.id, send.muted);
    for (const { afterMs, signals: typed } of send.later)
      plan(now + afterMs, { do: 'type', mapping, send, signals: typed, turn: null });
    if (send.releases.length > 0) sound(mapping, send, filled === 'signals', now);
  }

  /** What was sent sounds, or is held, from now on; or is not any more. */
  function sound(mapping: CompiledMapping, send: ActiveSend, sounding: boolean, now: number): void {
    // What is held back sounds nowhere.
    if (!armed() || send.muted) return;
    send.sounding = sounding;
    send.turn++;
    if (!send.sounding) return;
    const { turn } = send;
    if (send.lengthMs !== null) plan(now + send.lengthMs, { do: 'release', mapping, send, turn });
    else if (send.taps || (!mapping.holds && send.signals[0]!.kind === 'key')) return stop(mapping, send); // at once, or since its release is never heard
    if (send.repeatMs > 0) plan(now + send.repeatMs, { do: 'repeat', mapping, send, turn });
  }

  const putOff = (mapping: CompiledMapping, send: ActiveSend, shaped: number, now: number): void =>
    plan(now + send.delayMs, {
      do: 'send',
      mapping,
      send,
      shaped,
      heard: { ...mapping.heard },
      turn: null,
    });

  /** Sends all of a mapping's things for a value, those with a delay later. */
  function sendAll(mapping: CompiledMapping, value: number, now: number, copied = false): void {
    const shaped = finishValue(mapping.source.shape, value);
    mapping.shaped = shaped;
    mapping.tally.lastShaped = shaped;
    mapping.tally.lastAt = now;
    report(mapping);
    for (const send of mapping.sends) {
      if (send.delayMs > 0) putOff(mapping, send, shaped, now);
      else fireSend(mapping, send, shaped, mapping.heard, now, copied);
    }
  }

  /** Goes to a value: at once, or by a glide. */
  function goTo(mapping: CompiledMapping, value: number, now: number): void {
    const { glideMs } = mapping.source.shape;
    const from = mapping.glide?.at;
    if (glideMs === 0 || from === undefined) {
      mapping.glide =
        glideMs === 0 ? null : { from: value, to: value, since: now, at: value, because: because.step };
      return sendAll(mapping, value, now);
    }
    const moving = mapping.glide!.at !== mapping.glide!.to;
    mapping.glide = { from, to: value, since: now, at: from, because: because.step };
    report(mapping);
    if (!moving) plan(now, { do: 'glide', mapping, send: null, turn: null });
  }

  function glideOn(mapping: CompiledMapping, now: number): void {
    const { glide } = mapping;
    if (!glide) return;
    because.step = glide.because;
    const part = Math.min(1, (now - glide.since) / mapping.source.shape.glideMs);
    const value = part === 1 ? glide.to : glide.from + part * (glide.to - glide.from);
    if (value !== glide.at || part === 1) sendAll(mapping, value, now, true);
    glide.at = value;
    if (part < 1) plan(now + GLIDE_MS, { do: 'glide', mapping, send: null, turn: null });
  }

  function emit(mapping: CompiledMapping, heard: Heard, now: number): Outcome {
    const value = mapping.usesNumber ? heard.number : heard.value;
    const wished = mapping.shaper.take(value, heard, stage.beat(now));
    if (wished === null) return mapping.shaper.why;
    mapping.heard.value = heard.value;
    mapping.heard.number = heard.number;
    mapping.heard.channel = heard.channel;
    mapping.heard.parts = heard.parts;
    mapping.tally.fired++;
    mapping.tally.lastHeard = value;
    goTo(mapping, wished, now);
    return 'fired';
  }

  /** Releases what sounds as long as its control is held, each with its own delay. */
  function releaseSends(mapping: CompiledMapping, now: number): void {
    for (const send of mapping.sends) {
      if (send.releases.length === 0 || send.lengthMs !== null) continue;
      if (send.delayMs > 0) plan(now + send.delayMs, { do: 'release', mapping, send, turn: null });
      else if (send.sounding) stop(mapping, send);
    }
  }

  /** What was heard is let go: what sounds is released, and the rest sends what the low end is shaped into. */
  function letGo(mapping: CompiledMapping, now: number): void {
    mapping.held.clear();
    stage.holdChanged(mapping);
    if (mapping.waiting) {
      mapping.waiting = false;
      return; // it never began
    }
    mapping.tally.lastAt = now;
    report(mapping);
    releaseSends(mapping, now);
    if (mapping.source.shape.each !== 'value' || mapping.sends.every((send) => send.releases.length > 0))
      return;
    mapping.tally.fired++;
    [mapping.tally.lastHeard] = mapping.source.shape.in;
    sendLow(mapping, now, false);
  }

  /** The low end, to those that have no release of their own. @param atOnce without glide and delay */
  function sendLow(mapping: CompiledMapping, now: number, atOnce: boolean): void {
    const low = mapping.shaper.low();
    if (mapping.glide && !atOnce && mapping.sends.every((send) => send.releases.length === 0))
      return goTo(mapping, low, now);
    if (mapping.glide) mapping.glide = { from: low, to: low, since: now, at: low, because: because.step };
    const shaped = finishValue(mapping.source.shape, low);
    mapping.shaped = shaped;
    mapping.tally.lastShaped = shaped;
    for (const send of mapping.sends) {
      if (send.releases.length > 0) continue;
      if (send.delayMs > 0 && !atOnce) putOff(mapping, send, shaped, now);
      else fireSend(mapping, send, shaped, mapping.heard, now, true);
    }
  }

  /** Ends all of it at once: what is planned is forgotten, what sounds is released. */
  function end(mapping: CompiledMapping, now: number): void {
    const wasHeld = mapping.held.size > 0 && !mapping.waiting;
    mapping.held.clear();
    mapping.waiting = false;
    if (wasHeld) stage.holdChanged(mapping);
    if (!wasHeld && !mapping.sends.some((send) => send.sounding)) return;
    mapping.tally.lastAt = now;
    report(mapping);
    for (const send of mapping.sends) if (send.sounding) stop(mapping, send);
    if (wasHeld && mapping.source.shape.each === 'value') sendLow(mapping, now, true);
  }

  /** What is held begins: at once, or once it has been held for as long as is wanted. */
  function begin(mapping: CompiledMapping, heard: Heard, now: number): Outcome {
    const { heldForMs } = mapping.source.when;
    if (heldForMs === 0) return emit(mapping, heard, now);
    if (mapping.waiting) return 'waiting';
    mapping.waiting = true;
    const turn = ++mapping.waits;
    plan(now + heldForMs, { do: 'heldLong', mapping, send: null, turn, heard: { ...heard } });
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
    if (!mapping.holds)
      return way === 'keyUp'
        ? 'buttonUp'
        : (keptBack(mapping, heard.value, now) ?? emit(mapping, heard, now));
    const key = way === 'keyDown' || way === 'keyUp' ? BY_KEY : (heard.channel << 7) | heard.number;
    const kept = down ? keptBack(mapping, heard.value, now) : null;
    return kept ?? hold(mapping, key, down, heard, now);
  }

  const isHeld = (mapping: CompiledMapping): boolean =>
    mapping.held.size > 0 || mapping.sends.some((send) => send.sounding);

  function forget(mappings: Iterable<CompiledMapping>): void {
    const whose = new Set(mappings);
    agenda.drop(({ mapping }) => whose.has(mapping.root));
    for (const root of whose) for (const { glide } of withVoices(root)) if (glide) glide.to = glide.at;
  }

  function doLater(later: Later, now: number): void {
    const { mapping, send } = later;
    switch (later.do) {
      case 'send':
        return fireSend(mapping, later.send, later.shaped, later.heard, now, true);
      case 'type':
        for (const signal of later.signals) put(later.send.line, signal, mapping.source.id, later.send.muted);
        return;
      case 'release':
        if (send && send.sounding && (later.turn === null || later.turn === send.turn)) stop(mapping, send);
        return;
      case 'repeat':
        if (!later.send.sounding || later.turn !== later.send.turn) return;
        // The key itself: what is held with it stays down.
        put(later.send.line, copySignal(later.send.signals.at(-1)!), mapping.source.id, later.send.muted);
        agenda.put(now + later.send.repeatMs, later);
        return;
      case 'glide':
        return glideOn(mapping, now);
      case 'heldLong':
        if (!mapping.waiting || later.turn !== mapping.waits) return;
        mapping.waiting = false;
        emit(mapping, later.heard, now);
        stage.holdChanged(mapping);
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
      else releaseSends(mapping, now);
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
      for (let later = agenda.take(now); later; later = agenda.take(now)) {
        because.step = later.because;
        doLater(later, now);
      }
      because.step = 0;
    },
  };
}
