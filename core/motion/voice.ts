/** A voice of a motion: one run of it, with what it has sent. Given the time; reads no clock. */
import type { ActiveSend, LowEnd } from '../mapping/compiled.js';
import type { Sender, SendingRow } from '../mapping/sender.js';
import { followsNumber } from '../sends.js';
import { copySignal } from '../signal.js';
import { SCALING, type Motion, type Scaled } from '../show/motion.js';
import type { TempoNow } from '../time/span.js';
import { isSetting } from './acts.js';
import { noteChange } from './changed.js';
import type { CompiledMotion } from './compiled.js';
import type { LineBudgets } from './line-budgets.js';
import { MAKES } from './makes.js';
import type { Looked, Run } from './run.js';
import type { Trigger } from './trigger.js';
import { createVoiceSend, type VoiceSend } from './voice-send.js';

export interface Voice extends SendingRow {
  source: Motion;
  motion: CompiledMotion;
  trigger: Trigger;
  /** When it began, in monotonic ms. */
  beganAt: number;
  /** True while its trigger is held. */
  held: boolean;
  /** What its motion made last, before it is shaped: 0–1; null before there is a value. */
  made: number | null;
  /** The shaped value that was sent last: 0–1, or a note. */
  shaped: number | null;
  /** True once it, or the voice whose place it took, has sent a value. */
  sent: boolean;
  /** When `update` is due. */
  dueAt: number;
  /** True if a line could not take all of it yet. */
  busy: boolean;
  press(now: number): void;
  /** Goes on as if it had begun then. @returns false if it can't */
  resume(beganAt: number, now: number): boolean;
  keep(): number | null;
  release(now: number): void;
  step(by: number, now: number): void;
  give(value: number): void;
  /** A setting has changed. */
  moved(now: number): void;
  /** Does what is due, and sends what has changed. @returns false if it is over */
  update(now: number): boolean;
  /** The tempo has changed, and with it when it is due. */
  plan(now: number): void;
  /** Releases what sounds. */
  end(): void;
  /**
   * Ends it at once: releases what sounds, and sends what an envelope ends with. A motion without an end stays where it is.
   * @param others the voices of its motion that go on: what they send too is left to them
   */
  finish(others: readonly Voice[], now: number): void;
  /** What it would send at its end, as signals that nothing else changes; empty if it has no end or has nothing to undo. */
  lows(): LowEnd[];
  /** Output was held back until now: everything is sent again. */
  forget(now: number): void;
}

export interface VoiceStage {
  tempo: TempoNow;
  sender: Sender<Voice>;
  look(of: Looked): number | null;
  budgets: LineBudgets;
}

/** The force of notes that nobody has pressed, 0–127. */
const UNPRESSED = 100;
/** A value that is this near to where it goes is there. */
const THERE = 0.0005;

/** @param before what the voice said to keep whose place this one takes */
export function createVoice(
  motion: CompiledMotion,
  trigger: Trigger,
  stage: VoiceStage,
  before: number | null = null,
): Voice {
  const { source, settings, intervalMs } = motion;
  const { shape } = source;
  const follows = (what: Scaled): number => {
    let scale = 1;
    for (const part of SCALING) if (source[part] === what) scale *= trigger[part];
    return scale;
  };
  const run: Run = MAKES[source.makes.kind].run(source.makes, {
    drive: source.drive,
    tempo: stage.tempo,
    seed: motion.seed + trigger.key,
    form: () => settings.form,
    look: stage.look,
    before,
  });
  /** Of notes of a scale, 1–127: as its control was pressed last. */
  const velocity = (): number =>
    trigger.force > 0 ? Math.max(1, Math.round(trigger.force * 127)) : UNPRESSED;
  const sends = source.sends.map((_, at) => createVoiceSend(motion, at, trigger.step, velocity));
  /** The value after smoothing, and when it was computed. */
  let smooth: number | null = null;
  let smoothAt = 0;
  let updatedAt = -Infinity;
  /** When something is sent that had to wait; Infinity for nothing. */
  let owedAt = Infinity;

  function smoothed(made: number, now: number): number {
    const { smoothMs } = shape;
    if (smoothMs === 0 || smooth === null) smooth = made;
    else smooth += (made - smooth) * (1 - Math.exp(-(now - smoothAt) / smoothMs));
    if (Math.abs(made - smooth) < THERE) smooth = made;
    smoothAt = now;
    return smooth;
  }

  function shapedNow(made: number): number {
    const amount = (settings.amount ?? shape.amount) * follows('amount');
    const offset = (settings.offset ?? shape.offset) * follows('offset');
    return motion.shape(made, { amount, offset });
  }

  /** Presses the note of a step, and releases the one before it. */
  function sendNote(one: VoiceSend, value: number, now: number): void {
    const strike = run.strike?.(now) ?? 0;
    const next = one.noteAt ? one.noteAt(value) : one.active;
    const old = one.note;
    const silent = Math.round(next.own(value)) === 0;
    if (!silent && one.strike === strike && one.note === next) return;
    one.strike = strike;
    one.note = silent ? null : next;
    const legato = source.legato && old !== next;
    if (old && !legato) stage.sender.letGo(voice, old, now);
    // Notes are never late for a slow line; what else motions send there gives way.
    stage.budgets.spent(next.line, (silent ? 0 : 1) + (old ? 1 : 0));
    if (!silent) stage.sender.send(voice, next, value, now, true);
    if (old && legato) stage.sender.letGo(voice, old, now);
  }

  /** Whether a value above 0 is a press, and not a setting that follows the value. */
  const presses = ({ act }: ActiveSend): boolean =>
    act !== null && act.do !== 'tempo' && !(act.do === 'motion' && isSetting(act.act));

  /** @returns when the line can take it, if it can't now; else 0 */
  function sendOne(one: VoiceSend, value: number, now: number): number {
    const { active } = one;
    if (active.releases.length > 0) {
      sendNote(one, value, now);
      return 0;
    }
    // Each step presses anew, whatever its value was before.
    const strike = active.act === null ? 0 : (run.strike?.(now) ?? 0);
    if (one.strike !== strike) one.last.length = 0;
    one.strike = strike;
    if (active.fill(active.own(value), trigger.heard) === 'nothing') {
      one.last.length = 0;
      return 0;
    }
    const { line, signals } = active;
    const free = stage.budgets.freeAt(line, signals.length, now);
    if (free > now) return free;
    if (!noteChange(active, presses(active) ? 1 : active.own(value), one.last)) return 0;
    stage.budgets.spent(line, signals.length);
    stage.sender.send(voice, active, value, now, true);
    voice.sent = true;
    return 0;
  }

  /** The sends that have an end and no release message, each with the value of the end. */
  const ends = (): [VoiceSend, number][] => {
    if (!run.isOver) return [];
    const value = shapedNow(0);
    return sends.flatMap((one): [VoiceSend, number][] =>
      one.active.releases.length > 0 ? [] : [[one, value]],
    );
  };

  /** The place on the grid of its rate. It sends once in each. */
  const slotOf = (at: number): number => Math.floor(at / intervalMs + 1e-9);

  /** When it is looked at next: on the grid while it moves, and where its run says. */
  function plan(now: number): void {
    const event = run.nextAt(now);
    const moving = run.moves(now) || (smooth !== null && smooth !== voice.made);
    const slot = slotOf(now) + 1;
    // What happens at its own time is not made late by a value just before it.
    const tick = moving && slotOf(event) !== slot ? slot * intervalMs : Infinity;
    voice.dueAt = Math.min(tick, event, owedAt);
  }

  const voice: Voice = {
    source,
    motion,
    trigger,
    heard: trigger.heard,
    sends: sends.map(({ active }) => active),
    beganAt: 0,
    held: false,
    made: null,
    shaped: null,
    sent: false,
    dueAt: Infinity,
    busy: false,
    press(now) {
      voice.beganAt = now;
      if (settings.give !== null) run.give?.(settings.give);
      run.press(now);
      voice.moved(now);
    },
    resume(beganAt, now) {
      voice.beganAt = beganAt;
      voice.moved(now);
      run.resume?.(beganAt);
      return run.resume !== undefined;
    },
    keep: () => run.keep?.() ?? null,
    release(now) {
      voice.held = false;
      run.release?.(now);
      voice.dueAt = now;
    },
    step(by, now) {
      run.step?.(by, now);
      voice.dueAt = now;
    },
    give: (value) => run.give?.(value),
    moved(now) {
      run.setSpeed?.((settings.speed ?? 1) * follows('speed'), now);
      voice.dueAt = now;
    },
    update(now) {
      run.at?.(now);
      const over = run.isOver?.(now) ?? false;
      const made = over ? 0 : run.value(now);
      voice.made = made;
      if (made === null) {
        plan(now);
        return true;
      }
      if (slotOf(updatedAt) === slotOf(now) && !sends.some(({ active }) => active.releases.length > 0)) {
        owedAt = (slotOf(now) + 1) * intervalMs;
        plan(now);
        return true;
      }
      updatedAt = now;
      const value = shapedNow(over ? 0 : smoothed(made, now));
      voice.shaped = value;
      let busyUntil = 0;
      for (const one of sends) busyUntil = Math.max(busyUntil, sendOne(one, value, now));
      voice.busy = busyUntil > 0;
      if (over && !voice.busy) return false;
      owedAt = voice.busy ? busyUntil : Infinity;
      plan(now);
      return true;
    },
    plan,
    end() {
      for (const { all } of sends) for (const one of all) if (one.sounding) stage.sender.stop(voice, one);
    },
    finish(others, now) {
      voice.end();
      for (const [one, value] of ends()) {
        const { active, last } = one;
        const follows = followsNumber(source.sends[sends.indexOf(one)]!);
        const isShared = others.some((other) => !follows || other.trigger.step === trigger.step);
        if (isShared || !voice.sent) continue;
        if (active.fill(active.own(value), trigger.heard) === 'nothing') continue;
        if (noteChange(active, presses(active) ? 1 : active.own(value), last))
          stage.sender.sendNow(voice, active, value, now);
      }
    },
    lows: () =>
      ends().flatMap(([{ active }, value]) => {
        const { act, line, muted } = active;
        if (act !== null || muted || line < 0) return [];
        return active.fill(active.own(value), trigger.heard) === 'signals'
          ? active.signals.map((signal) => ({ line, signal: copySignal(signal) }))
          : [];
      }),
    forget(now) {
      for (const one of sends) {
        one.last.length = 0;
        one.note = null;
      }
      voice.dueAt = now;
    },
  };
  return voice;
}
