/**
 * What a mapping does with what it hears, in the course of time: it fires, holds, delays, glides, repeats and lets go. What is to be
 * done later is on its agenda; it is given the time, and reads no clock.
 */
import { createAgenda } from '../agenda.js';
import { copySignal, type OscSignal, type Signal } from '../signal.js';
import type { ActiveSend, CompiledMapping } from './compiled.js';
import { wantsValue } from './hear.js';
import { finishValue } from './shape.js';

/** In a mapping's held notes: held by hand, not by a note. */
const BY_HAND = -1;
/** In a mapping's held notes: held by a key. */
const BY_KEY = -2;

/** What a mapping does later. What belongs to an earlier press or release than its send's `turn` is out of date. */
type Later =
  /** A delayed send: what it was shaped into then. */
  | { do: 'send'; mapping: CompiledMapping; send: ActiveSend; shaped: number; turn: null }
  /** The end of a note with a length, or of a delayed hold. */
  | { do: 'release'; mapping: CompiledMapping; send: ActiveSend; turn: number | null }
  | { do: 'repeat'; mapping: CompiledMapping; send: ActiveSend; turn: number }
  | { do: 'glide'; mapping: CompiledMapping; send: null; turn: null }
  /** It has been held for as long as is wanted, if it still is. */
  | { do: 'heldLong'; mapping: CompiledMapping; send: null; turn: number; heard: number };

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
}

export interface Performer {
  /** A signal that the mapping hears. */
  fire(mapping: CompiledMapping, signal: Signal, now: number): void;
  /** Presses or releases it by hand, at the top of its range. */
  byHand(mapping: CompiledMapping, pressed: boolean, now: number): void;
  /** Ends all of it at once: what sounds is released, and what is held is let go. */
  end(mapping: CompiledMapping, now: number): void;
  /** What it hears can't hear any more: all is ended but what is held by hand. */
  unheard(mappings: ReadonlySet<CompiledMapping>, now: number): void;
  isHeld(mapping: CompiledMapping): boolean;
  /** What these mappings, or all that the list has, have planned is forgotten, and what glides stays where it is. */
  forget(mappings: Iterable<CompiledMapping>): void;
  /** Monotonic ms; Infinity when nothing is planned. */
  wakeAt(): number;
  wake(now: number): void;
}

export function createPerformer({ put, report, armed, isDown: isNoteDown }: Stage): Performer {
  const agenda = createAgenda<Later>();

  /** Sends the release of what sounds. */
  function stop(mapping: CompiledMapping, send: ActiveSend): void {
    send.sounding = false;
    send.turn++;
    put(send.line, send.release!, mapping.source.id, send.muted);
  }

  /** Sends one of a mapping's things now. @param copied its signals are used again before this leaves */
  function fireSend(
    mapping: CompiledMapping,
    send: ActiveSend,
    shaped: number,
    now: number,
    copied: boolean,
  ): void {
    if (!send.fill(send.own(shaped))) return;
    // A note with a length that sounds still is ended before it begins anew.
    if (send.sounding && send.lengthMs !== null) stop(mapping, send);
    for (const signal of send.signals)
      put(send.line, copied ? copySignal(signal) : signal, mapping.source.id, send.muted);
    // What is held back sounds nowhere.
    if (!send.release || !armed() || send.muted) return;
    send.sounding = isDown(send.signals[0]!);
    send.turn++;
    if (!send.sounding) return;
    const { turn } = send;
    if (send.lengthMs !== null) agenda.put(now + send.lengthMs, { do: 'release', mapping, send, turn });
    else if (!mapping.holds && send.signals[0]!.kind === 'key') return stop(mapping, send); // its release is never heard
    if (send.repeatMs > 0) agenda.put(now + send.repeatMs, { do: 'repeat', mapping, send, turn });
  }

  /** Sends all of a mapping's things for a value, those with a delay later. */
  function sendAll(mapping: CompiledMapping, value: number, now: number, copied = false): void {
    const shaped = finishValue(mapping.source.shape, value);
    mapping.lastShaped = shaped;
    mapping.lastAt = now;
    report(mapping);
    for (const send of mapping.sends) {
      if (send.delayMs > 0) agenda.put(now + send.delayMs, { do: 'send', mapping, send, shaped, turn: null });
      else fireSend(mapping, send, shaped, now, copied);
    }
  }

  /** Goes to a value: at once, or by a glide. */
  function goTo(mapping: CompiledMapping, value: number, now: number): void {
    const { glideMs } = mapping.source.shape;
    const from = mapping.glide?.at;
    if (glideMs === 0 || from === undefined) {
      mapping.glide = glideMs === 0 ? null : { from: value, to: value, since: now, at: value };
      return sendAll(mapping, value, now);
    }
    const moving = mapping.glide!.at !== mapping.glide!.to;
    mapping.glide = { from, to: value, since: now, at: from };
    report(mapping);
    if (!moving) agenda.put(now, { do: 'glide', mapping, send: null, turn: null });
  }

  function glideOn(mapping: CompiledMapping, now: number): void {
    const { glide } = mapping;
    if (!glide) return;
    const part = Math.min(1, (now - glide.since) / mapping.source.shape.glideMs);
    const value = part === 1 ? glide.to : glide.from + part * (glide.to - glide.from);
    if (value !== glide.at || part === 1) sendAll(mapping, value, now, true);
    glide.at = value;
    if (part < 1) agenda.put(now + GLIDE_MS, { do: 'glide', mapping, send: null, turn: null });
  }

  function emit(mapping: CompiledMapping, heard: number, now: number): void {
    const wished = mapping.shaper.take(heard);
    if (wished === null) return;
    mapping.fired++;
    mapping.lastHeard = heard;
    goTo(mapping, wished, now);
  }

  /** Releases what sounds as long as its control is held, each with its own delay. */
  function releaseSends(mapping: CompiledMapping, now: number): void {
    for (const send of mapping.sends) {
      if (!send.release || send.lengthMs !== null) continue;
      if (send.delayMs > 0) agenda.put(now + send.delayMs, { do: 'release', mapping, send, turn: null });
      else if (send.sounding) stop(mapping, send);
    }
  }

  /** What was heard is let go: what sounds is released, and the rest sends what the low end is shaped into. */
  function letGo(mapping: CompiledMapping, now: number): void {
    mapping.held.clear();
    if (mapping.waiting) {
      mapping.waiting = false;
      return; // it never began
    }
    mapping.lastAt = now;
    report(mapping);
    releaseSends(mapping, now);
    if (mapping.source.shape.each !== 'value' || !mapping.sends.some((send) => !send.release)) return;
    mapping.fired++;
    [mapping.lastHeard] = mapping.source.shape.in;
    sendLow(mapping, now, false);
  }

  /** The low end, to those that have no release of their own. @param atOnce without glide and delay */
  function sendLow(mapping: CompiledMapping, now: number, atOnce: boolean): void {
    const low = mapping.shaper.low();
    if (mapping.glide && !atOnce && mapping.sends.every((send) => !send.release))
      return goTo(mapping, low, now);
    if (mapping.glide) mapping.glide = { from: low, to: low, since: now, at: low };
    const shaped = finishValue(mapping.source.shape, low);
    mapping.lastShaped = shaped;
    for (const send of mapping.sends) {
      if (send.release) continue;
      if (send.delayMs > 0 && !atOnce)
        agenda.put(now + send.delayMs, { do: 'send', mapping, send, shaped, turn: null });
      else fireSend(mapping, send, shaped, now, true);
    }
  }

  /** Ends all of it at once: what is planned is forgotten, what sounds is released. */
  function end(mapping: CompiledMapping, now: number): void {
    const wasHeld = mapping.held.size > 0 && !mapping.waiting;
    mapping.held.clear();
    mapping.waiting = false;
    if (!wasHeld && !mapping.sends.some((send) => send.sounding)) return;
    mapping.lastAt = now;
    report(mapping);
    for (const send of mapping.sends) if (send.sounding) stop(mapping, send);
    if (wasHeld && mapping.source.shape.each === 'value') sendLow(mapping, now, true);
  }

  /** What is held begins: at once, or once it has been held for as long as is wanted. */
  function begin(mapping: CompiledMapping, heard: number, now: number): void {
    const { heldForMs } = mapping.source.when;
    if (heldForMs === 0) return emit(mapping, heard, now);
    if (mapping.waiting) return;
    mapping.waiting = true;
    const turn = ++mapping.waits;
    agenda.put(now + heldForMs, { do: 'heldLong', mapping, send: null, turn, heard });
  }

  function hold(mapping: CompiledMapping, key: number, pressed: boolean, heard: number, now: number): void {
    const silent = !armed() || mapping.sends.every((send) => send.muted);
    if (pressed) {
      if (!silent) mapping.held.add(key);
      if (silent) emit(mapping, heard, now);
      else begin(mapping, heard, now);
    } else if (mapping.held.delete(key)) {
      if (mapping.held.size === 0) letGo(mapping, now);
    } else if (silent) emit(mapping, mapping.source.shape.in[0], now);
  }

  const heeds = (mapping: CompiledMapping, value: number, now: number): boolean =>
    (mapping.shift < 0 || isNoteDown(mapping.shift)) && (!mapping.gate || mapping.gate.passes(value, now));

  function fire(mapping: CompiledMapping, signal: Signal, now: number): void {
    const { hear } = mapping.source;
    switch (signal.kind) {
      case 'osc': {
        const value = numberIn(signal);
        if (heeds(mapping, value, now)) emit(mapping, value, now);
        return;
      }
      case 'slot':
        if (wantsValue(hear, signal.level) && heeds(mapping, signal.level, now))
          emit(mapping, mapping.usesNumber ? signal.slot : signal.level, now);
        return;
      case 'key':
        if (signal.down && !heeds(mapping, 1, now)) return;
        if (mapping.holds) hold(mapping, BY_KEY, signal.down, 1, now);
        else if (signal.down) emit(mapping, 1, now);
        return;
      case 'sysex':
      case 'system':
        return;
      default: {
        const heard = mapping.usesNumber ? signal.number : signal.value;
        const pressed = !mapping.holds || signal.kind === 'noteOn';
        if (pressed && !(wantsValue(hear, signal.value) && heeds(mapping, signal.value, now))) return;
        if (!mapping.holds) emit(mapping, heard, now);
        else hold(mapping, (signal.channel << 7) | signal.number, pressed, heard, now);
      }
    }
  }

  const isHeld = (mapping: CompiledMapping): boolean =>
    mapping.held.size > 0 || mapping.sends.some((send) => send.sounding);

  function forget(mappings: Iterable<CompiledMapping>): void {
    const whose = new Set(mappings);
    agenda.drop(({ mapping }) => whose.has(mapping));
    for (const { glide } of whose) if (glide) glide.to = glide.at;
  }

  function doLater(later: Later, now: number): void {
    const { mapping, send } = later;
    switch (later.do) {
      case 'send':
        return fireSend(mapping, later.send, later.shaped, now, true);
      case 'release':
        if (send && send.sounding && (later.turn === null || later.turn === send.turn)) stop(mapping, send);
        return;
      case 'repeat':
        if (!later.send.sounding || later.turn !== later.send.turn) return;
        put(later.send.line, copySignal(later.send.signals[0]!), mapping.source.id, later.send.muted);
        agenda.put(now + later.send.repeatMs, later);
        return;
      case 'glide':
        return glideOn(mapping, now);
      case 'heldLong':
        if (!mapping.waiting || later.turn !== mapping.waits) return;
        mapping.waiting = false;
        emit(mapping, later.heard, now);
    }
  }

  return {
    fire,
    end,
    isHeld,
    forget,
    byHand(mapping, pressed, now) {
      const [, top] = mapping.source.shape.in;
      if (mapping.holds) hold(mapping, BY_HAND, pressed, top, now);
      else if (pressed) emit(mapping, top, now);
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
      for (let later = agenda.take(now); later; later = agenda.take(now)) doLater(later, now);
    },
  };
}

/** The first number among the arguments; 1 for a message without one. */
function numberIn(signal: OscSignal): number {
  for (const arg of signal.args) {
    if (arg.type === 'f' || arg.type === 'i' || arg.type === 'd') return arg.value;
    if (arg.type === 'h') return Number(arg.value);
    if (arg.type === 'F') return 0;
  }
  return 1;
}

/** Whether what leaves presses something that must be let go. */
const isDown = (signal: Signal): boolean =>
  signal.kind === 'noteOn' || (signal.kind === 'key' && signal.down);
