/** Motions: make values over time and send them. Only those that run cost anything. */
import { isSetting, type MotionHandAct } from '../../motion/acts.js';
import {
  compileMotion,
  newSettings,
  settingsAfter,
  type CompiledMotion,
  type Settings,
} from '../../motion/compiled.js';
import { createLineBudgets } from '../../motion/line-budgets.js';
import { MAKES } from '../../motion/makes.js';
import { createPlaces } from '../../motion/places.js';
import type { MotionsKept } from '../../motion/kept.js';
import type { MotionsSeen } from '../../motion/seen.js';
import type { Looked } from '../../motion/run.js';
import { keyOf, NO_NUMBER, pressedWith, triggerOf, type Trigger } from '../../motion/trigger.js';
import type { Voice } from '../../motion/voice.js';
import { createVoices, type Voices } from '../../motion/voices.js';
import type { MotionAct } from '../../sends/compiled.js';
import type { Motion } from '../../show/motion.js';
import type { Show } from '../../show.js';
import type { Tempo } from '../../time/tempo.js';
import type { Part, Stage } from '../part.js';

export interface MotionsView {
  /** What people see. @param at the current time in milliseconds since 1970. @param now the same in monotonic ms */
  seen(at: number, now: number): MotionsSeen;
  /** What is kept for a restart. */
  kept(): MotionsKept;
  /** Changes whenever a voice begins or ends, or something is done to it. */
  count(): number;
}

/** What is done with a press. */
type PressAct = Exclude<MotionHandAct, 'reset'>;

export interface MotionsPart extends Part, MotionsView, Pick<Voices, 'drainHolds'> {}

/** @param banksOn returns a new set after each change */
export function createMotionsPart(
  stage: Stage,
  banksOn: () => ReadonlySet<string>,
  seed: number,
): MotionsPart {
  const budgets = createLineBudgets();
  const voices = createVoices({
    put: stage.put,
    keys: stage.keys,
    armed: stage.armed,
    act: (act, id) => stage.act(act, { of: 'motion', id }),
    because: stage.because,
    tempo: () => stage.tempo(),
    budgets,
    look,
  });
  let motions = new Map<string, CompiledMotion>();
  let banks: ReadonlySet<string> = new Set();
  let tempo: Tempo | null = null;
  /** Motions that begin by themselves or by the position, and were stopped by a person or by Panic. */
  const stopped = new Set<string>();

  function look(of: Looked): number | null {
    if ('motionId' in of) {
      const motion = motions.get(of.motionId);
      const voice = motion && voices.of(motion)[0];
      // A note is no part of a whole.
      return (motion?.source.shape.scale ? voice?.made : voice?.shaped) ?? null;
    }
    const { line } = stage.lineOf(of.lineId);
    return line < 0 ? null : stage.levels.levelsOf(line)[of.slot - 1]! / 255;
  }

  const infoOf = ({ source }: CompiledMotion): (typeof MAKES)[keyof typeof MAKES] => MAKES[source.makes.kind];

  const trigger = (key: number, force: number, act: MotionAct | null): Trigger =>
    triggerOf(key, act, force, stage.because.step);

  function press(motion: CompiledMotion, act: MotionAct | null, force: number, now: number): Voice {
    const key = act ? keyOf(motion.source, act) : 0;
    const known = voices.with(motion, key);
    const voice = known ?? voices.begin(motion, trigger(key, force, act), now);
    // A single voice is credited to the control that pressed it last.
    if (known && act) Object.assign(known.trigger, pressedWith(act, force, stage.because.step));
    voice.press(now);
    voices.soon(voice);
    return voice;
  }

  function letGo(motion: CompiledMotion, act: MotionAct, now: number): void {
    const voice = voices.with(motion, keyOf(motion.source, act));
    if (!voice?.held) return;
    voice.release(now);
    voices.soon(voice);
    if (infoOf(motion).cycles) voices.remove((one) => one === voice, now);
  }

  /** Whether it would run now if nobody had stopped it. */
  const isBegun = ({ source: { begins, id } }: CompiledMotion): boolean =>
    begins === 'always' || places.has(id);

  function stop(motion: CompiledMotion, now: number): void {
    if (isBegun(motion)) stopped.add(motion.source.id);
    // An envelope dies away, as if it were let go.
    if (motion.source.makes.kind !== 'envelope')
      return voices.remove((voice) => voice.motion === motion, now);
    for (const voice of voices.of(motion)) {
      voice.release(now);
      voices.soon(voice);
    }
  }

  function step(motion: CompiledMotion, act: MotionAct, by: number, now: number): void {
    if (voices.of(motion).length === 0) {
      const voice = voices.begin(motion, trigger(0, act.value, act), now);
      voice.beganAt = now;
      // What has cycles is at its beginning then; what has not is moved by the step itself.
      if (infoOf(motion).cycles) voice.press(now);
    }
    for (const voice of voices.of(motion)) {
      Object.assign(voice.trigger, pressedWith(act, act.value, stage.because.step));
      voice.step(by, now);
      voices.soon(voice);
    }
  }

  function set(motion: CompiledMotion, { act, value }: MotionAct, now: number): void {
    if (!isSetting(act)) return;
    motion.settings[act] = value;
    for (const voice of voices.of(motion)) {
      if (act === 'give') voice.give(value);
      else voice.moved(now);
      voices.soon(voice);
    }
  }

  function doAct(motion: CompiledMotion, act: MotionAct, now: number): void {
    voices.touched();
    if (isSetting(act.act)) return set(motion, act, now);
    if (!motion.live) return;
    if (act.act === 'press' && act.value <= 0) return letGo(motion, act, now);
    stopped.delete(motion.source.id);
    if (act.act === 'stop') return stop(motion, now);
    if (act.act === 'next' || act.act === 'back') return step(motion, act, act.act === 'next' ? 1 : -1, now);
    if (act.act === 'toggle' && voices.of(motion).length > 0) return stop(motion, now);
    press(motion, act, Math.min(1, Math.max(0, act.value)), now).held = act.act === 'press';
  }

  /** What has moved the settings of motions. */
  const moved = (): [string, Settings][] =>
    [...motions.values()].flatMap(({ source, settings }) =>
      Object.values(settings).some((value) => value !== null) ? [[source.id, { ...settings }]] : [],
    );

  /** What moves it is forgotten: its settings are as they were written. */
  function reset(motion: CompiledMotion, now: number): void {
    Object.assign(motion.settings, newSettings());
    voices.touched();
    for (const voice of voices.of(motion)) {
      voice.moved(now);
      voices.soon(voice);
    }
  }

  /** Begins what runs by itself, and ends what is off. */
  function settle(now: number): void {
    banks = banksOn();
    for (const motion of motions.values()) {
      const { on, bankId, begins, id } = motion.source;
      const live = on && (bankId === null || banks.has(bankId));
      if (motion.live && !live) voices.remove((voice) => voice.motion === motion, now);
      // Switched on again, it runs whoever stopped it before.
      if (live && !motion.live) stopped.delete(id);
      motion.live = live;
      if (live && begins === 'always' && !stopped.has(id) && voices.of(motion).length === 0)
        press(motion, null, 0, now);
    }
    places.settle(stage.position(), now);
  }

  /** Begins a motion as if it had begun some time ago. One that was stopped stays so until the position comes in again. */
  function enter(motion: CompiledMotion, agoMs: number, now: number): void {
    if (voices.of(motion).length > 0 || stopped.has(motion.source.id)) return;
    const voice = press(motion, null, 1, now);
    voice.held = true;
    if (agoMs > 1) voice.resume(now - agoMs, now);
  }
  function leave(motion: CompiledMotion, now: number): void {
    stop(motion, now);
    stopped.delete(motion.source.id);
  }
  const places = createPlaces(enter, leave);

  const sameOuts = (a: CompiledMotion, b: CompiledMotion): boolean =>
    a.outs.every(({ line, muted }, at) => line === b.outs[at]!.line && muted === b.outs[at]!.muted);

  /** A motion made ready, or as it was if nothing about it has changed. */
  function compiled(source: Motion): CompiledMotion {
    const before = motions.get(source.id);
    const outs = source.sends.map(({ lineId }) => stage.lineOf(lineId));
    const made = compileMotion(source, outs, seed, settingsAfter(source, before));
    made.live = before?.live ?? false;
    return before?.source === source && sameOuts(before, made) ? before : made;
  }

  /** A voice of a motion that was edited goes on as if it had been so from its beginning. */
  function goOn(voice: Voice, now: number): Voice | null {
    const motion = motions.get(voice.source.id);
    if (!motion || motion === voice.motion) return motion ? voice : null;
    if (motion.source.makes.kind !== voice.source.makes.kind) return null;
    // The position begins it, or does no more: what runs now has another beginning.
    if ((motion.source.begins === 'position') !== (voice.source.begins === 'position')) return null;
    const next = voices.another(motion, voice);
    // What has died away in part can't be begun anew.
    if (!next.resume(voice.beganAt, now)) {
      if (!voice.held) return null;
      next.press(voice.beganAt);
    }
    next.held = voice.held;
    next.dueAt = now;
    return next;
  }

  function load(show: Show, now: number): void {
    budgets.load(show.lines, (id) => stage.lineOf(id).line);
    motions = new Map(show.motions.map((source) => [source.id, compiled(source)]));
    voices.replace((voice) => goOn(voice, now), now);
    places.load(motions.values(), show.settings.timecode.frameRate);
    settle(now);
  }

  /** Goes on with what an engine before this one did. */
  function restore(before: MotionsKept, now: number): void {
    for (const id of before.stopped) stopped.add(id);
    for (const [id, settings] of Object.entries(before.moved)) {
      const motion = motions.get(id);
      if (motion) Object.assign(motion.settings, settings);
    }
    voices.remove(({ source }) => source.begins !== 'asked' && stopped.has(source.id), now);
    for (const { id, beganAt, keep } of before.running) {
      const motion = motions.get(id);
      if (!motion?.live) continue;
      voices.remove((voice) => voice.motion === motion && voice.trigger.key === 0, now);
      const voice = voices.begin(motion, trigger(0, 0, null), now, keep);
      if (!voice.resume(beganAt, now)) voices.remove((one) => one === voice, now);
      voices.soon(voice);
    }
  }

  /** Panic: what runs by itself has to be started by hand again. */
  function endAll(now: number): void {
    for (const motion of motions.values()) if (isBegun(motion)) stopped.add(motion.source.id);
    voices.remove(() => true, now);
  }

  return {
    seen: (at, now) => ({ ...voices.seen(at, now), moved: Object.fromEntries(moved()) }),
    kept: () => ({ running: voices.kept(), stopped: [...stopped], moved: Object.fromEntries(moved()) }),
    count: voices.count,
    drainHolds: voices.drainHolds,
    load({ show, whole }, now) {
      if (whole) load(show, now);
    },
    hears: () => false,
    take(input, now) {
      if (input.t === 'restore' && input.before.motions) restore(input.before.motions, now);
      if (input.t !== 'motion') return;
      const motion = motions.get(input.id);
      if (motion && input.act === 'reset') return reset(motion, now);
      const act = { do: 'motion', motionId: input.id, act: input.act as PressAct, value: 1 } as const;
      if (motion) doAct(motion, { ...act, number: NO_NUMBER, channel: 0, step: 0 }, now);
    },
    act(act, by, now) {
      const motion = act.do === 'motion' ? motions.get(act.motionId) : undefined;
      if (!motion || act.do !== 'motion') return;
      doAct(motion, by.of === 'mapping' ? act : { ...act, number: NO_NUMBER }, now);
    },
    wakeAt: () => Math.min(places.wakeAt(), voices.wakeAt()),
    wake: voices.wake,
    letGo: (by, now) => (by === null ? voices.hush() : endAll(now)),
    forget: voices.forget,
    finishes: () => motions.size > 0,
    finish(now) {
      if (banksOn() !== banks) settle(now);
      if (places.isDue(stage.position(), now)) places.settle(stage.position(), now);
      if (stage.tempo() !== tempo) {
        tempo = stage.tempo();
        voices.plan(now);
      }
      voices.update(now);
    },
  };
}
