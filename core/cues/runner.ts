/**
 * Runs the running order: what stands by, what is called, what follows. Given the time; reads no clock. While the running order is held, its own
 * time stands still.
 */
import type { Signal } from '../signal.js';
import type { Moment } from '../show/moment.js';
import { catchUp } from './catch-up.js';
import { expandMoment, type Stock } from './expand.js';
import { createOrderEvents } from './order-events.js';
import { overTime, planJump, type Jump } from './jump.js';
import type { AskedBy, OrderAct, OrderEvent, OrderState } from './order.js';
import { AT_THE_END, MOST_CALLS } from './order.js';
import { createFollowing, FOLLOWS } from './following.js';
import { createOwnTime } from './own-time.js';
import { endOf, type Span } from '../time/span.js';
import type { Plan } from './plan.js';
import { createPlans, played } from './plans.js';
import { createRuns } from './runs.js';
import { momentOf, tried, type RunnerStage } from './run.js';

export interface Runner {
  /** Compiles moments that are going to be loaded, one with each step. */
  prepare(moments: readonly Moment[], stock: Stock): Generator<void>;
  /** @param stock the groups, looks and files that moments name */
  load(moments: readonly Moment[], stock: Stock, guardMs: number): void;
  /** Performs a command. A second Go within the guard time, and a command for a missing moment, do nothing. */
  do(act: OrderAct, by: AskedBy, now: number): void;
  /** Ends everything. `by` says who asked for Panic; null if the show is made safe or armed, which is logged elsewhere. */
  endAll(by: AskedBy | null, now: number): void;
  /** Returns a new object after each change, so that callers can compare by identity. */
  state(): OrderState;
  /** Returns the events since the last call. */
  drainEvents(): OrderEvent[];
  /** Returns whether any moment ramps something other than slots, so that `sent` must be called. */
  watches(): boolean;
  /** Some part has sent something. */
  sent(line: number, signal: Signal): void;
  /**
   * Restores the state before a restart. Moments that the show no longer has are ignored.
   * @param place what stands by: the id of a moment, or `AT_THE_END`; null if unknown
   * @param last the last call
   */
  restore(place: string | null, last: OrderState['called']): void;
  /** Sets the end values of the fades of moments that were running before a restart. */
  finish(ids: readonly string[], now: number): void;
  wakeAt(): number;
  wake(now: number): void;
}

/** Times in beats are told again when the tempo has moved by this part. */
const TOLD_AGAIN = 0.005;

export function createRunner(stage: RunnerStage): Runner {
  const { happened, drain } = createOrderEvents();
  const plans = createPlans();
  const { placeOf, nextFrom } = plans;
  let standingBy: string | null = null;
  /** True if nothing stands by because the last moment was called. */
  let atEnd = false;
  /** The last calls, the newest first. */
  let calls: { id: string; at: number }[] = [];
  /** The last catching up, until it is taken back or something is called. */
  let jump: Jump | null = null;
  let guardMs = 0;
  let wentAt = -Infinity;
  const own = createOwnTime(() => stage.tempo());
  const following = createFollowing(own);
  const runs = createRuns({ ...stage, tempo: own.tempo }, () => changed());
  let state: OrderState | null = null;
  /** The tempo at which the times in `state` were computed. */
  let stateBpm = 0;

  const inBeats = (): boolean => following.inBeats() || runs.list().some(({ plan }) => plan.inBeats);
  const changed = (): void => void (state = null);

  function call(plan: Plan, by: AskedBy, realNow: number): void {
    const now = own.at(realNow);
    const { id } = plan.moment;
    following.keep((one) => one !== id);
    happened('called', id, by, realNow);
    const run = runs.start(plan, now);
    calls = [{ id, at: realNow }, ...calls].slice(0, MOST_CALLS);
    jump = null;
    const next = nextFrom(placeOf(id) + 1);
    standingBy = next?.moment.id ?? null;
    atEnd = next === null;
    const follow = next?.moment.follow;
    if (next && follow) {
      following.add(next.moment.id, follow.after === 'start' ? now : run, follow, FOLLOWS);
    }
    changed();
  }

  function go(by: AskedBy, now: number): void {
    const plan = plans.at(standingBy);
    if (now - wentAt < guardMs || !plan) return;
    wentAt = now;
    resume(now);
    callOnBeat(plan, by, now);
  }

  /** Calls a moment, at once or on the next beat or bar. Asked for again while it waits, it is called at once. */
  function callOnBeat(plan: Plan, by: AskedBy, now: number): void {
    const { id, callOn } = plan.moment;
    if (callOn === 'now' || following.waits(id) || by.of === 'timecode') return call(plan, by, now);
    const span: Span = { ms: 0, beats: { beats: 0, on: callOn } };
    if (endOf(span, own.tempo(), own.at(now)) <= own.at(now)) return call(plan, by, now);
    following.add(id, own.at(now), span, by);
    changed();
  }

  function tryOut(plan: Plan | undefined, by: AskedBy, now: number): void {
    if (!plan) return;
    happened(by.of === 'desk' ? 'tried' : 'ran', plan.moment.id, by, now);
    runs.start(plan, own.at(now));
  }

  function hold(by: AskedBy, now: number): void {
    if (own.heldAt() !== null) return;
    happened('held', null, by, now);
    own.hold(now);
    changed();
  }

  function resume(now: number): void {
    if (own.heldAt() === null) return;
    own.resume(now);
    changed();
  }

  function stop(id: string, by: AskedBy, now: number): void {
    const run = runs.list().find((one) => one.plan.moment.id === id);
    following.keep((one) => placeOf(one) !== placeOf(id) + 1);
    changed();
    if (!run) return;
    happened('stopped', id, by, now);
    runs.stop(run);
  }

  function stopAll(ms: number, by: AskedBy, now: number): void {
    if (runs.list().length > 0) happened('stoppedAll', null, by, now);
    resume(now);
    following.keep(() => false);
    if (ms > 0) runs.fadeOut(ms, own.at(now));
    else runs.stopAll();
    changed();
  }

  function back(by: AskedBy, now: number): void {
    const before = plans.lastBefore(standingBy === null ? plans.all().length : placeOf(standingBy));
    if (before) standBy(before.moment.id, by, now);
  }

  function standBy(id: string, by: AskedBy, now: number): void {
    if (placeOf(id) < 0) return;
    happened('stoodBy', id, by, now);
    standsBy(id);
  }

  function standsBy(id: string | null): void {
    standingBy = id;
    atEnd = id === null;
    following.keep(() => false);
    changed();
  }

  /** @param id what stands by then, or `AT_THE_END` */
  function catchUpTo(id: string, fadeMs: number, by: AskedBy, now: number): void {
    const next = id === AT_THE_END ? null : id;
    const place = next === null ? plans.all().length : placeOf(next);
    if (place < 0) return;
    happened('caughtUp', next, by, now);
    const before = standingBy === null ? plans.all().length : placeOf(standingBy);
    const [from, to] = [before, place].map(plans.playedBefore);
    jump = planJump(stage, standingBy, from!, to!, fadeMs);
    standsBy(next);
    runs.startOwn('catching up', jump.sends, own.at(now));
  }

  function jumpBack(fadeMs: number, by: AskedBy, now: number): void {
    if (!jump) return;
    const { from, back: sends } = jump;
    happened('caughtUp', from, by, now);
    jump = null;
    standsBy(from);
    runs.startOwn('catching up', overTime(sends, fadeMs), own.at(now));
  }

  return {
    prepare: plans.prepare,
    load(moments, named, guard) {
      guardMs = guard;
      plans.load(moments, named);
      runs.load(plans.all());
      const there = new Set(moments.map(({ id }) => id));
      for (const run of runs.list()) if (!there.has(run.plan.moment.id)) runs.stop(run);
      following.keep((id) => there.has(id));
      if (jump?.from && !there.has(jump.from)) jump = null;
      // If what stood by is gone, or nothing has stood by yet, the first moment does.
      if (standingBy === null ? !atEnd : !there.has(standingBy)) standingBy = nextFrom(0)?.moment.id ?? null;
      changed();
    },

    do(act, by, now) {
      switch (act.do) {
        case 'go':
          return go(by, now);
        case 'call': {
          const plan = plans.at(act.id);
          if (!plan || plan.moment.parked) return;
          resume(now);
          return callOnBeat(plan, by, now);
        }
        case 'try':
          return tryOut(plans.at(act.id), by, now);
        case 'tryNext':
          return tryOut(plans.at(standingBy), by, now);
        case 'trySend': {
          const sends = expandMoment({ ...momentOf('a try'), sends: [tried(act.send)] }, plans.stock());
          return runs.startOwn('a try', sends, own.at(now));
        }
        case 'hold':
          return hold(by, now);
        case 'resume':
          if (own.heldAt() !== null) happened('resumed', null, by, now);
          return resume(now);
        case 'stop':
          return stop(act.id, by, now);
        case 'stopAll':
          return stopAll(act.ms, by, now);
        case 'back':
          return back(by, now);
        case 'standBy':
          return act.catchUp ? catchUpTo(act.id, act.fadeMs ?? 0, by, now) : standBy(act.id, by, now);
        case 'catchUpPast':
          return catchUpTo(nextFrom(placeOf(act.id) + 1)?.moment.id ?? AT_THE_END, 0, by, now);
        case 'jumpBack':
          return jumpBack(act.fadeMs ?? 0, by, now);
      }
    },

    endAll(by, now) {
      if (by) happened('panic', null, by, now);
      resume(now);
      following.keep(() => false);
      runs.stopAll();
      changed();
    },

    state() {
      const { bpm } = own.tempo();
      if (Math.abs(bpm / stateBpm - 1) > TOLD_AGAIN && inBeats()) changed();
      if (!state) stateBpm = bpm;
      const { real } = own;
      state ??= {
        standingBy,
        running: runs.list().map((run) => ({
          id: run.plan.moment.id,
          since: real(run.since),
          endsAt: real(run.end.at()),
          soundsOn: runs.soundsOn(run),
        })),
        following: following.list(),
        heldAt: own.heldAt(),
        called: calls[0] ?? null,
        lastCalls: calls,
        jumpedFrom: jump && (jump.from ?? AT_THE_END),
      };
      return state;
    },

    drainEvents: drain,

    watches: () => runs.watches(),
    sent: (line, signal) => runs.sent(line, signal),
    restore(place, last) {
      if (place === AT_THE_END) {
        atEnd = true;
        standingBy = null;
      } else if (place !== null && placeOf(place) >= 0) standingBy = place;
      if (last && placeOf(last.id) >= 0) calls = [last];
      changed();
    },
    finish(ids, now) {
      const ran = plans.all().filter(({ moment }) => ids.includes(moment.id));
      runs.startOwn('catching up', catchUp(played(ran)), own.at(now));
    },
    wakeAt: () => (own.heldAt() !== null ? Infinity : own.real(Math.min(runs.wakeAt(), following.nextAt()))),
    wake(now) {
      if (own.heldAt() !== null) return;
      runs.wake(own.at(now));
      for (const { id, by } of following.due(own.at(now))) {
        const plan = plans.at(id);
        if (plan) call(plan, by, now);
      }
    },
  };
}
