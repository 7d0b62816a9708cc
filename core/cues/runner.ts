/**
 * Runs the running order: what stands by, what is called, what follows. Given the time; reads no clock. While the running order is held, its own
 * time stands still.
 */
import type { Signal } from '../signal.js';
import type { Moment, MomentSend } from '../show/moment.js';
import { catchUp } from './catch-up.js';
import { EMPTY_STOCK, expandMoment, type Stock } from './expand.js';
import { createOrderEvents } from './order-events.js';
import { overTime, planJump, type Jump } from './jump.js';
import type { AskedBy, OrderAct, OrderEvent, OrderState } from './order.js';
import { AT_THE_END, MOST_CALLS } from './order.js';
import { planMoment, type Plan } from './plan.js';
import { createRuns } from './runs.js';
import { momentOf, type RunnerStage } from './run.js';

export interface Runner {
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

const FOLLOWS: AskedBy = { of: 'follow' };

/** A file that would play until it is stopped is played once when it is tried. */
const tried = (send: MomentSend): MomentSend => (send.kind === 'file' ? { ...send, times: 1 } : send);

export function createRunner(stage: RunnerStage): Runner {
  const runs = createRuns(stage, () => changed());
  const { happened, drain } = createOrderEvents();
  let plans: Plan[] = [];
  let stock = EMPTY_STOCK;
  let following: { id: string; at: number }[] = [];
  let standingBy: string | null = null;
  /** True if nothing stands by because the last moment was called. */
  let atEnd = false;
  /** The last calls, the newest first. */
  let calls: { id: string; at: number }[] = [];
  /** The last catching up, until it is taken back or something is called. */
  let jump: Jump | null = null;
  let guardMs = 0;
  let wentAt = -Infinity;
  let heldAt: number | null = null;
  /** How long it was held in total: its own time is behind by this. */
  let behind = 0;
  let state: OrderState | null = null;

  const ownTime = (now: number): number => (heldAt ?? now) - behind;
  const changed = (): void => void (state = null);
  const placeOf = (id: string | null): number => plans.findIndex(({ moment }) => moment.id === id);
  const planAt = (id: string | null): Plan | undefined => plans[placeOf(id)];

  /** Returns the first moment from a place on that is not parked. */
  const nextFrom = (place: number): Plan | null =>
    plans.slice(place).find(({ moment }) => !moment.parked) ?? null;

  /** Returns what those of these moments do that are not parked. */
  const played = (of: readonly Plan[]): Plan['expanded'][] =>
    of.filter(({ moment }) => !moment.parked).map(({ expanded }) => expanded);

  function call(plan: Plan, by: AskedBy, realNow: number): void {
    const now = ownTime(realNow);
    const { id } = plan.moment;
    following = following.filter((one) => one.id !== id);
    happened('called', id, by, realNow);
    runs.start(plan, now);
    calls = [{ id, at: realNow }, ...calls].slice(0, MOST_CALLS);
    jump = null;
    const next = nextFrom(placeOf(id) + 1);
    standingBy = next?.moment.id ?? null;
    atEnd = next === null;
    const follow = next?.moment.follow;
    if (next && follow) {
      const from = follow.after === 'start' ? now : now + plan.lengthMs;
      following = [...following, { id: next.moment.id, at: from + follow.ms }];
    }
    changed();
  }

  function go(by: AskedBy, now: number): void {
    const plan = planAt(standingBy);
    if (now - wentAt < guardMs || !plan) return;
    wentAt = now;
    resume(now);
    call(plan, by, now);
  }

  function tryOut(plan: Plan | undefined, by: AskedBy, now: number): void {
    if (!plan) return;
    happened(by.of === 'desk' ? 'tried' : 'ran', plan.moment.id, by, now);
    runs.start(plan, ownTime(now));
  }

  function hold(by: AskedBy, now: number): void {
    if (heldAt !== null) return;
    happened('held', null, by, now);
    heldAt = now;
    changed();
  }

  function resume(now: number): void {
    if (heldAt === null) return;
    behind += now - heldAt;
    heldAt = null;
    changed();
  }

  function stop(id: string, by: AskedBy, now: number): void {
    const run = runs.list().find((one) => one.plan.moment.id === id);
    following = following.filter((one) => placeOf(one.id) !== placeOf(id) + 1);
    changed();
    if (!run) return;
    happened('stopped', id, by, now);
    runs.stop(run);
  }

  function stopAll(ms: number, by: AskedBy, now: number): void {
    if (runs.list().length > 0) happened('stoppedAll', null, by, now);
    resume(now);
    following = [];
    if (ms > 0) runs.fadeOut(ms, ownTime(now));
    else runs.stopAll();
    changed();
  }

  function back(by: AskedBy, now: number): void {
    const at = standingBy === null ? plans.length : placeOf(standingBy);
    const before = plans.slice(0, Math.max(0, at)).findLast(({ moment }) => !moment.parked);
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
    following = [];
    changed();
  }

  /** @param id what stands by then, or `AT_THE_END` */
  function catchUpTo(id: string, fadeMs: number, by: AskedBy, now: number): void {
    const next = id === AT_THE_END ? null : id;
    const place = next === null ? plans.length : placeOf(next);
    if (place < 0) return;
    happened('caughtUp', next, by, now);
    const before = standingBy === null ? plans.length : placeOf(standingBy);
    const [from, to] = [before, place].map((end) => played(plans.slice(0, end)));
    jump = planJump(stage, standingBy, from!, to!, fadeMs);
    standsBy(next);
    runs.startOwn('catching up', jump.sends, ownTime(now));
  }

  function jumpBack(fadeMs: number, by: AskedBy, now: number): void {
    if (!jump) return;
    const { from, back: sends } = jump;
    happened('caughtUp', from, by, now);
    jump = null;
    standsBy(from);
    runs.startOwn('catching up', overTime(sends, fadeMs), ownTime(now));
  }

  return {
    load(moments, named, guard) {
      guardMs = guard;
      const same = (Object.keys(named) as (keyof Stock)[]).every((of) => named[of] === stock[of]);
      stock = named;
      const before = new Map(same ? plans.map((plan) => [plan.moment, plan]) : []);
      plans = moments.map((moment) => before.get(moment) ?? planMoment(moment, stock));
      runs.load(plans);
      const there = new Set(moments.map(({ id }) => id));
      for (const run of runs.list()) if (!there.has(run.plan.moment.id)) runs.stop(run);
      following = following.filter(({ id }) => there.has(id));
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
          const plan = planAt(act.id);
          if (!plan || plan.moment.parked) return;
          resume(now);
          return call(plan, by, now);
        }
        case 'try':
          return tryOut(planAt(act.id), by, now);
        case 'tryNext':
          return tryOut(planAt(standingBy), by, now);
        case 'trySend': {
          const sends = expandMoment({ ...momentOf('a try'), sends: [tried(act.send)] }, stock);
          return runs.startOwn('a try', sends, ownTime(now));
        }
        case 'hold':
          return hold(by, now);
        case 'resume':
          if (heldAt !== null) happened('resumed', null, by, now);
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
      following = [];
      runs.stopAll();
      changed();
    },

    state() {
      const real = (own: number): number => own + behind;
      state ??= {
        standingBy,
        running: runs.list().map((run) => ({
          id: run.plan.moment.id,
          since: real(run.since),
          endsAt: real(run.since + run.plan.lengthMs),
          soundsOn: runs.soundsOn(run),
        })),
        following: following.map(({ id, at }) => ({ id, at: real(at) })),
        heldAt,
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
      const ran = plans.filter(({ moment }) => ids.includes(moment.id));
      runs.startOwn('catching up', catchUp(played(ran)), ownTime(now));
    },
    wakeAt: () =>
      heldAt !== null ? Infinity : Math.min(runs.wakeAt(), ...following.map(({ at }) => at)) + behind,
    wake(now) {
      if (heldAt !== null) return;
      const own = ownTime(now);
      runs.wake(own);
      for (const { id, at } of following) {
        const plan = planAt(id);
        if (at <= own && plan) call(plan, FOLLOWS, now);
      }
    },
  };
}
