/** The voices that run: begun, looked at when they are due, and ended. Costs what runs, not what the show has. Given the time; reads no clock. */
import { createAgenda } from '../agenda.js';
import type { Because } from '../because.js';
import type { HoldChange } from '../mapping/compiled.js';
import { createSender, type SenderStage, type SendPlan } from '../mapping/sender.js';
import type { TempoNow } from '../time/span.js';
import type { CompiledMotion } from './compiled.js';
import type { MotionsKept } from './kept.js';
import type { LineBudgets } from './line-budgets.js';
import type { Looked } from './run.js';
import { MOST_SEEN, type MotionsSeen } from './seen.js';
import type { Trigger } from './trigger.js';
import { createVoice, type Voice } from './voice.js';

export interface VoicesStage extends Pick<SenderStage<Voice>, 'put' | 'keys' | 'armed' | 'act'> {
  because: Because;
  tempo: TempoNow;
  budgets: LineBudgets;
  look(of: Looked): number | null;
}

export interface Voices {
  /** Begins a voice. The oldest one of the motion makes room if all are used. */
  begin(motion: CompiledMotion, trigger: Trigger, now: number, before?: number | null): Voice;
  of(motion: CompiledMotion): Voice[];
  /** The voice of a control; undefined if there is none. */
  with(motion: CompiledMotion, key: number): Voice | undefined;
  /** Something was done to a voice, and it may be due earlier. */
  soon(voice: Voice): void;
  /** Ends voices at once: releases what sounds, and ends envelopes where they end. */
  remove(gone: (voice: Voice) => boolean, now: number): void;
  /** Puts a voice in the place of each, or none. */
  replace(by: (voice: Voice) => Voice | null, now: number): void;
  /** Makes a voice that takes the place of another one, after an edit. */
  another(motion: CompiledMotion, voice: Voice): Voice;
  /** Releases what sounds. The voices go on. */
  hush(): void;
  /** Output was held back until now: everything is sent again. */
  forget(now: number): void;
  /** The tempo has changed, and with it when voices are due. */
  plan(now: number): void;
  wakeAt(): number;
  /** Does what was planned, and what is due. */
  wake(now: number): void;
  /** Sends what is due, and forgets the voices that are over. */
  update(now: number): void;
  /** Those that another engine can go on with. */
  kept(): MotionsKept['running'];
  /** @param at the current time in milliseconds since 1970. @param now the same in monotonic ms */
  seen(at: number, now: number): Pick<MotionsSeen, 'at' | 'running' | 'voices'>;
  /** Returns what voices started or stopped holding since the last call. */
  drainHolds(): readonly HoldChange[];
  /** Something was done to a voice by somebody. */
  touched(): void;
  /** Changes whenever a voice begins or ends, or something is done to it. */
  count(): number;
}

const NO_CHANGES: readonly HoldChange[] = [];

type Later = SendPlan<Voice> & { because: number };

export function createVoices({ put, keys, armed, act, because, tempo, budgets, look }: VoicesStage): Voices {
  const agenda = createAgenda<Later>(tempo);
  const sender = createSender<Voice>({
    put,
    keys,
    armed,
    act,
    // A motion moves by itself; its sends have no fades (sendOf).
    fade: () => undefined,
    plan: (after, now, what) => agenda.after(after, now, { ...what, because: because.step }),
  });
  const stage = { tempo, sender, budgets, look };
  let running: Voice[] = [];
  /** When the first voice is due. */
  let nextAt = Infinity;
  /** The voice that is looked at first: the one that waits for its line longest. */
  let first = 0;
  let changes = 0;
  /** Voices that began, ended or took the place of another one since `drainHolds`. */
  const unsettled = new Set<Voice>();

  const of = (motion: CompiledMotion): Voice[] => running.filter((voice) => voice.motion === motion);

  /** A voice is over. @param next what takes its place */
  function over(voice: Voice, now: number, next: Voice | null = null): void {
    for (const later of agenda.drop(({ mapping }) => mapping === voice)) sender.dropped(later);
    if (next) voice.end();
    else voice.finish(of(voice.motion), now);
    unsettled.add(voice);
    changes++;
  }

  function remove(gone: (voice: Voice) => boolean, now: number): void {
    const ended = new Set(running.filter(gone));
    if (ended.size === 0) return;
    running = running.filter((voice) => !ended.has(voice));
    for (const voice of ended) over(voice, now);
    if (running.length === 0) nextAt = Infinity;
  }

  function update(now: number): void {
    if (now < nextAt) return;
    const before = because.step;
    let gone: Set<Voice> | null = null;
    let waits = -1;
    nextAt = Infinity;
    for (let n = 0; n < running.length; n++) {
      const at = (first + n) % running.length;
      const voice = running[at]!;
      if (voice.dueAt <= now) {
        because.step = voice.trigger.because;
        if (!voice.update(now)) {
          (gone ??= new Set()).add(voice);
          voice.dueAt = Infinity;
        } else if (voice.busy && waits < 0) waits = at;
      }
      nextAt = Math.min(nextAt, voice.dueAt);
    }
    because.step = before;
    if (waits >= 0) first = waits;
    if (gone !== null) remove((voice) => gone.has(voice), now);
  }

  return {
    begin(motion, trigger, now, before = null) {
      const others = of(motion);
      if (others.length >= motion.source.voices) {
        const oldest = others.reduce((one, other) => (other.beganAt < one.beganAt ? other : one));
        remove((voice) => voice === oldest, now);
      }
      const voice = createVoice(motion, trigger, stage, before);
      running.push(voice);
      unsettled.add(voice);
      changes++;
      return voice;
    },
    of,
    with: (motion, key) => running.find((voice) => voice.motion === motion && voice.trigger.key === key),
    soon: (voice) => void (nextAt = Math.min(nextAt, voice.dueAt)),
    remove,
    replace(by, now) {
      const pairs = running.map((voice) => [voice, by(voice)] as const);
      running = pairs.flatMap(([, next]) => next ?? []);
      for (const [voice, next] of pairs) {
        if (next === voice) continue;
        if (next) unsettled.add(next);
        over(voice, now, next);
      }
      changes++;
      nextAt = running.length > 0 ? now : Infinity;
    },
    another(motion, voice) {
      const next = createVoice(motion, voice.trigger, stage, voice.keep());
      next.sent = voice.sent;
      return next;
    },
    hush() {
      for (const voice of running) voice.end();
      for (const later of agenda.drop(() => true)) sender.dropped(later);
    },
    forget(now) {
      for (const voice of running) {
        unsettled.add(voice);
        voice.forget(now);
        nextAt = now;
      }
    },
    plan(now) {
      for (const voice of running) {
        if (voice.dueAt > now) voice.plan(now);
        nextAt = Math.min(nextAt, voice.dueAt);
      }
    },
    wakeAt: () => Math.min(nextAt, agenda.nextAt()),
    wake(now) {
      for (let later = agenda.nextDue(now); later; later = agenda.nextDue(now)) {
        because.step = later.because;
        sender.later(later, now);
      }
      because.step = 0;
      update(now);
    },
    update,
    kept: () =>
      running.flatMap((voice) =>
        voice.trigger.key === 0 && !voice.held
          ? [{ id: voice.source.id, beganAt: voice.beganAt, keep: voice.keep() }]
          : [],
      ),
    seen(at, now) {
      const seen: Pick<MotionsSeen, 'at' | 'running' | 'voices'> = {
        at,
        running: {},
        voices: running.length,
      };
      for (const { source, trigger: by, made, shaped, held, beganAt } of running.slice(0, MOST_SEEN)) {
        const note = by.key === 0 ? null : { number: by.heard.number, channel: by.heard.channel };
        (seen.running[source.id] ??= []).push({ note, made, shaped, held, since: at - now + beganAt });
      }
      return seen;
    },
    drainHolds() {
      if (unsettled.size === 0) return NO_CHANGES;
      const alive = new Set(running);
      // By their keys: of two voices of one control, the one that goes on counts.
      const changed = new Map<string, HoldChange>();
      for (const voice of unsettled) {
        const key = `hold ${voice.source.id} voice ${voice.trigger.key}`;
        const goesOn = alive.has(voice);
        if (goesOn || !changed.has(key))
          changed.set(key, { key, lowEnds: goesOn && armed() ? voice.lows() : [] });
      }
      unsettled.clear();
      return [...changed.values()];
    },
    touched: () => void changes++,
    count: () => changes,
  };
}
