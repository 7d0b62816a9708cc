/**
 * The running order at work: what stands by, what runs, what follows. A function of what it is given and when; it reads no clock. While
 * it is held its own time stands still.
 */
import { createAgenda } from '../agenda.js';
import { createFades } from '../fades/fades.js';
import { createRamps } from '../fades/ramps.js';
import type { ShowAct } from '../mapping/sends.js';
import { copySignal, type Signal, type SlotSignal } from '../signal.js';
import type { Moment, MomentSend } from '../show/moment.js';
import { catchUp } from './catch-up.js';
import { EMPTY_STOCK, expandMoment, type Expanded, type Stock } from './expand.js';
import { createFilePlayer } from './file-player.js';
import { goesOn, planMoment, planOf, UNHEARD, type Plan, type Planned } from './plan.js';

/** What is asked of the running order. Ids are those of moments. */
export type OrderAct =
  /** Calls what stands by. Not heeded within the guard time after the last one. */
  | { do: 'go' }
  | { do: 'call'; id: string }
  /** Does what the moment does, and leaves what stands by as it is. */
  | { do: 'try'; id: string }
  /** The same, of the one that stands by. */
  | { do: 'tryNext' }
  /** Does one thing, as a cell's Try. */
  | { do: 'trySend'; send: MomentSend }
  | { do: 'hold' }
  | { do: 'resume' }
  | { do: 'stop'; id: string }
  /** `ms`: the lights that moments set fade out in that time, and then all that ran when it was asked for stops. */
  | { do: 'stopAll'; ms: number }
  /** What was called last stands by again. */
  | { do: 'back' }
  /** Jumps: this stands by. `catchUp`: and every line gets what it would have by now. */
  | { do: 'standBy'; id: string; catchUp: boolean };

/** Where a running order stands once the last of it was called. */
export const AT_THE_END = '';

export interface RunningMoment {
  id: string;
  /** Monotonic ms: its call, and when the last of its fades and delays is done. */
  since: number;
  endsAt: number;
  /** Something of it sounds until it is stopped. */
  soundsOn: boolean;
}

export interface OrderState {
  standingBy: string | null;
  /** Those that were called first, first. */
  running: readonly RunningMoment[];
  /** Moments that call themselves, with when. */
  following: readonly { id: string; at: number }[];
  /** Monotonic ms; null while it is not held. */
  heldAt: number | null;
  /** What was called last; null for nothing yet. */
  called: { id: string; at: number } | null;
}

export interface RunnerStage {
  put(line: number, signal: Signal, sender: string, muted: boolean): void;
  lineOf(id: string | null): { line: number; muted: boolean };
  isMuted(line: number): boolean;
  act(act: ShowAct): void;
  armed(): boolean;
}

export interface Runner {
  /** @param stock what the moments name */
  load(moments: readonly Moment[], stock: Stock, guardMs: number, now: number): void;
  /** @returns false where it was not heeded: Go twice, or nothing stands by. */
  do(act: OrderAct, now: number): boolean;
  /** Another object whenever something of it is other. */
  state(): OrderState;
  /** Something was sent to a slot, by whomever. */
  sent(line: number, signal: SlotSignal): void;
  /** Stands by where it did before a restart: the id of a moment, or `AT_THE_END`. A moment that is gone is not heeded. */
  restore(place: string): void;
  /** The ends of these moments' fades are there at once: they ran before a restart. */
  finish(ids: readonly string[], now: number): void;
  wakeAt(): number;
  wake(now: number): void;
}

/** What sounds since a moment pressed it. */
interface Sounding {
  line: number;
  muted: boolean;
  releases: readonly Signal[];
  /** Whose it is. */
  run: Run;
}

/** A moment that runs. */
interface Run {
  plan: Plan;
  since: number;
  ended: boolean;
}

type Later =
  | { run: Run; do: 'send'; planned: Planned }
  | { run: Run; do: 'release'; key: string; sounding: Sounding }
  | { run: Run; do: 'type'; line: number; muted: boolean; signals: readonly Signal[] }
  | { run: Run; do: 'end' }
  /** Those that ran when it was planned stop. */
  | { run: Run; do: 'stop'; runs: readonly Run[] };

const keyOf = (line: number, signal: Signal): string =>
  signal.kind === 'key'
    ? `${line} ${signal.code}`
    : 'channel' in signal
      ? `${line} ${signal.channel} ${signal.number}`
      : '';

export function createRunner(stage: RunnerStage): Runner {
  const agenda = createAgenda<Later>();
  const ramps = createRamps();
  /** By line: the slots that moments sent a level to. */
  const lit: (Uint8Array | undefined)[] = [];
  const fades = createFades(putSlot);
  const files = createFilePlayer(stage.put);
  const sounding = new Map<string, Sounding>();
  let plans: Plan[] = [];
  let stock = EMPTY_STOCK;
  let runs: Run[] = [];
  let following: { id: string; at: number }[] = [];
  let standingBy: string | null = null;
  /** Nothing stands by since the last one was called. */
  let atEnd = false;
  let called: OrderState['called'] = null;
  let guardMs = 0;
  let wentAt = -Infinity;
  let heldAt: number | null = null;
  /** How long it was held in all: its own time is so far behind. */
  let behind = 0;
  let state: OrderState | null = null;

  const ownTime = (now: number): number => (heldAt ?? now) - behind;
  const changed = (): void => void (state = null);
  const placeOf = (id: string | null): number => plans.findIndex(({ moment }) => moment.id === id);

  /** The next one that is not parked, from a place on. */
  const nextFrom = (place: number): Plan | null =>
    plans.slice(place).find(({ moment }) => !moment.parked) ?? null;

  function putSlot(line: number, signal: SlotSignal, sender: string, muted: boolean): void {
    if (line >= 0) (lit[line] ??= new Uint8Array(SLOTS + 1))[signal.slot] = 1;
    stage.put(line, signal, sender, muted);
  }

  function put(line: number, signal: Signal, sender: string, muted: boolean): void {
    if (signal.kind === 'slot') putSlot(line, signal, sender, muted);
    else stage.put(line, signal, sender, muted);
  }

  function release(key: string, { line, muted, releases, run }: Sounding): void {
    sounding.delete(key);
    for (const signal of releases) stage.put(line, signal, run.plan.moment.id, muted);
  }

  function end(run: Run): void {
    if (run.ended) return;
    run.ended = true;
    runs = runs.filter((one) => one !== run);
    changed();
  }

  /** Ends what a moment does: fades stay where they are, what sounds is released. */
  function stop(run: Run): void {
    agenda.drop((later) => later.run === run);
    const { id } = run.plan.moment;
    fades.stop((sender) => sender === id);
    ramps.stop((owner) => owner === id);
    files.stop((owner) => owner === id);
    for (const [key, one] of sounding) if (one.run === run) release(key, one);
    end(run);
  }

  function press(run: Run, planned: Extract<Planned, { kind: 'send' }>, now: number): void {
    const { compiled, value, lengthMs, taps } = planned;
    const { line, muted } = stage.lineOf(planned.lineId);
    const sender = run.plan.moment.id;
    const filled = compiled.fill(value, UNHEARD);
    if (filled === 'nothing') return;
    if (compiled.act) return stage.armed() ? stage.act(compiled.act) : undefined;
    const signals = filled === 'signals' ? compiled.signals : compiled.releases;
    const key = compiled.releases.length > 0 ? keyOf(line, compiled.releases[0]!) : '';
    const before = sounding.get(key);
    // What sounds already, by this moment or another, is this one's from now on.
    if (before) sounding.delete(key);
    for (const signal of signals) put(line, copySignal(signal), sender, muted);
    for (const { afterMs, signals: typed } of compiled.later)
      agenda.put(now + afterMs, { run, do: 'type', line, muted, signals: typed });
    if (before && filled === 'releases') settle(before.run);
    if (compiled.releases.length === 0 || filled === 'releases' || !stage.armed() || muted) return;
    const one: Sounding = { line, muted, releases: compiled.releases, run };
    if (taps) return release(key, one);
    sounding.set(key, one);
    if (lengthMs !== null) agenda.put(now + lengthMs, { run, do: 'release', key, sounding: one });
  }

  function move(run: Run, planned: Extract<Planned, { kind: 'send' }>, now: number): void {
    const { compiled, target, value: to, fadeMs: ms, curve } = planned;
    const { line, muted } = stage.lineOf(planned.lineId);
    const owner = run.plan.moment.id;
    const apply = (value: number): void => {
      if (compiled.fill(value, UNHEARD) !== 'signals') return;
      for (const signal of compiled.signals) stage.put(line, copySignal(signal), owner, muted);
    };
    ramps.start({ target: target!, to, ms, curve, apply, owner }, now);
  }

  function setLevels(run: Run, planned: Exclude<Planned, { kind: 'file' }>, now: number): void {
    const { line, muted } = stage.lineOf(planned.lineId);
    const sender = run.plan.moment.id;
    const { fadeMs: ms, curve } = planned;
    if (planned.kind === 'levels') {
      if (ms > 0) fades.start({ line, levels: planned.levels, fine: false, ms, curve, sender, muted }, now);
      else
        for (const [slot, level] of planned.levels)
          putSlot(line, { kind: 'slot', slot, level }, sender, muted);
      return;
    }
    planned.compiled.fill(planned.value, UNHEARD);
    const [coarse, fine] = planned.compiled.signals as SlotSignal[];
    const level = fine ? (coarse!.level << 8) | fine.level : coarse!.level;
    fades.start({ line, levels: [[coarse!.slot, level]], fine: !!fine, ms, curve, sender, muted }, now);
  }

  function play(
    run: Run,
    { lineId, events, lengthMs, times }: Extract<Planned, { kind: 'file' }>,
    now: number,
  ): void {
    const place = stage.lineOf(lineId);
    const owner = run.plan.moment.id;
    files.start({ ...place, events, lengthMs, times, owner, ended: () => settle(run) }, now);
  }

  function doNow(run: Run, planned: Planned, now: number): void {
    if (planned.kind === 'file') play(run, planned, now);
    else if (planned.kind === 'levels' || (planned.fadeMs > 0 && planned.target === null))
      setLevels(run, planned, now);
    else if (planned.target !== null) move(run, planned, now);
    else press(run, planned, now);
  }

  /** Whether a moment's time is over and nothing of it sounds: then it has ended. */
  function settle(run: Run): void {
    const over = ownNow >= run.since + run.plan.lengthMs;
    if (over && !isHeld(run) && !files.plays(run.plan.moment.id)) end(run);
  }
  const isHeld = (run: Run): boolean => [...sounding.values()].some((one) => one.run === run);
  let ownNow = 0;

  function start(plan: Plan, now: number): Run {
    const before = runs.find((run) => run.plan.moment.id === plan.moment.id);
    if (before) stop(before);
    ownNow = now;
    const run: Run = { plan, since: now, ended: false };
    runs = [...runs, run];
    for (const planned of plan.sends) {
      if (planned.delayMs > 0) agenda.put(now + planned.delayMs, { run, do: 'send', planned });
      else doNow(run, planned, now);
    }
    changed();
    if (plan.lengthMs > 0) agenda.put(now + plan.lengthMs, { run, do: 'end' });
    else settle(run);
    return run;
  }

  function call(plan: Plan, now: number, realNow: number): void {
    const { id } = plan.moment;
    following = following.filter((one) => one.id !== id);
    start(plan, now);
    called = { id, at: realNow };
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

  function go(now: number): boolean {
    if (now - wentAt < guardMs) return false;
    const plan = plans[placeOf(standingBy)];
    if (!plan) return false;
    wentAt = now;
    resume(now);
    call(plan, ownTime(now), now);
    return true;
  }

  function resume(now: number): void {
    if (heldAt === null) return;
    behind += now - heldAt;
    heldAt = null;
    changed();
  }

  function back(): boolean {
    const at = standingBy === null ? plans.length : placeOf(standingBy);
    const before = plans.slice(0, Math.max(0, at)).findLast(({ moment }) => !moment.parked);
    if (!before) return false;
    standBy(before.moment.id);
    return true;
  }

  function standBy(id: string): void {
    standingBy = id;
    atEnd = false;
    following = [];
    changed();
  }

  /** Does things that belong to no row. */
  function doAll(id: string, sends: readonly Expanded[], now: number): Run {
    return start(planOf(nothing(id), sends), now);
  }

  /** The lights that moments set go out in a time; what runs now begins nothing more, and has stopped at the end of it. */
  function fadeOut(ms: number, now: number): void {
    following = [];
    const before = [...runs];
    agenda.drop((later) => later.do === 'send' || later.do === 'stop');
    for (const run of before) if (isOwn(run)) stop(run);
    const run = doAll(FADING_OUT, [], now);
    lit.forEach((slots, line) => {
      const levels: [number, number][] = [];
      slots?.forEach((isLit, slot) => {
        if (isLit && (fades.levelOf(line, slot) > 0 || fades.isFading(line, slot))) levels.push([slot, 0]);
      });
      if (levels.length === 0) return;
      fades.start({ line, levels, fine: false, ms, sender: FADING_OUT, muted: stage.isMuted(line) }, now);
    });
    agenda.put(now + ms, { run, do: 'stop', runs: before });
    changed();
  }

  function stopAll(): void {
    following = [];
    for (const run of [...runs]) stop(run);
    for (const [key, one] of sounding) release(key, one);
    changed();
  }

  function doLater(later: Later, now: number): void {
    const { run } = later;
    switch (later.do) {
      case 'send':
        return doNow(run, later.planned, now);
      case 'release':
        if (sounding.get(later.key) === later.sounding) release(later.key, later.sounding);
        return settle(run);
      case 'type':
        for (const signal of later.signals) put(later.line, signal, run.plan.moment.id, later.muted);
        return;
      case 'end':
        return settle(run);
      case 'stop':
        for (const one of later.runs) if (!one.ended) stop(one);
    }
  }

  const dueAt = (): number =>
    Math.min(
      agenda.nextAt(),
      ramps.wakeAt(),
      fades.wakeAt(),
      files.wakeAt(),
      ...following.map(({ at }) => at),
    );

  return {
    load(moments, named, guard, now) {
      ownNow = ownTime(now);
      guardMs = guard;
      const same = (Object.keys(named) as (keyof Stock)[]).every((of) => named[of] === stock[of]);
      stock = named;
      const before = new Map(same ? plans.map((plan) => [plan.moment, plan]) : []);
      plans = moments.map((moment) => before.get(moment) ?? planMoment(moment, stock));
      const there = new Set(moments.map(({ id }) => id));
      for (const run of [...runs]) if (!there.has(run.plan.moment.id) && !isOwn(run)) stop(run);
      following = following.filter(({ id }) => there.has(id));
      // What stood by is gone, or nothing has yet: then the first does.
      if (standingBy === null ? !atEnd : !there.has(standingBy)) standingBy = nextFrom(0)?.moment.id ?? null;
      changed();
    },

    do(act, now) {
      ownNow = ownTime(now);
      switch (act.do) {
        case 'go':
          return go(now);
        case 'call':
        case 'try': {
          const plan = plans[placeOf(act.id)];
          if (!plan || (plan.moment.parked && act.do === 'call')) return false;
          if (act.do === 'call') {
            resume(now);
            call(plan, ownTime(now), now);
          } else start(plan, ownTime(now));
          return true;
        }
        case 'tryNext': {
          const plan = plans[placeOf(standingBy)];
          if (plan) start(plan, ownTime(now));
          return plan !== undefined;
        }
        case 'trySend':
          doAll(TRYING, expandMoment({ ...nothing(TRYING), sends: [act.send] }, stock), ownTime(now));
          return true;
        case 'hold':
          if (heldAt !== null) return false;
          heldAt = now;
          changed();
          return true;
        case 'resume':
          if (heldAt === null) return false;
          resume(now);
          return true;
        case 'stop': {
          const run = runs.find((one) => one.plan.moment.id === act.id);
          if (run) stop(run);
          following = following.filter(({ id }) => placeOf(id) !== placeOf(act.id) + 1);
          return run !== undefined;
        }
        case 'stopAll':
          resume(now);
          if (act.ms > 0) fadeOut(act.ms, ownTime(now));
          else stopAll();
          return true;
        case 'back':
          return back();
        case 'standBy': {
          const place = placeOf(act.id);
          if (place < 0) return false;
          standBy(act.id);
          if (act.catchUp) doAll(CATCHING_UP, catchUp(playedOf(plans.slice(0, place))), ownTime(now));
          return true;
        }
      }
    },

    state() {
      const real = (own: number): number => own + behind;
      state ??= {
        standingBy,
        running: runs
          .filter((run) => !isOwn(run))
          .map((run) => ({
            id: run.plan.moment.id,
            since: real(run.since),
            endsAt: real(run.since + run.plan.lengthMs),
            soundsOn: (isHeld(run) || files.plays(run.plan.moment.id)) && run.plan.sends.some(goesOn),
          })),
        following: following.map(({ id, at }) => ({ id, at: real(at) })),
        heldAt,
        called,
      };
      return state;
    },

    sent(line, signal) {
      fades.sent(line, signal);
    },
    restore(place) {
      if (place === AT_THE_END) {
        atEnd = true;
        standingBy = null;
      } else if (placeOf(place) >= 0) standingBy = place;
      else return;
      changed();
    },
    finish(ids, now) {
      const ran = plans.filter(({ moment }) => ids.includes(moment.id));
      doAll(CATCHING_UP, catchUp(playedOf(ran)), ownTime(now));
    },
    wakeAt: () => (heldAt !== null ? Infinity : dueAt() + behind),
    wake(now) {
      if (heldAt !== null) return;
      const own = (ownNow = ownTime(now));
      for (let later = agenda.take(own); later; later = agenda.take(own)) doLater(later, own);
      fades.wake(own);
      ramps.wake(own);
      files.wake(own);
      for (const { id, at } of following) {
        const plan = plans[placeOf(id)];
        if (at <= own && plan) call(plan, own, now);
      }
    },
  };
}

/** Runs that are no rows of the running order. */
const TRYING = 'a try';
const CATCHING_UP = 'catching up';
const FADING_OUT = 'fading out';
const OWN = [TRYING, CATCHING_UP, FADING_OUT];
const isOwn = ({ plan }: Run): boolean => OWN.includes(plan.moment.id);

const nothing = (id: string): Moment => ({
  id,
  cue: '0',
  name: '',
  notes: '',
  parked: false,
  callers: [],
  follow: null,
  timecode: null,
  sends: [],
});

/** What moments do that are not parked. */
const playedOf = (plans: readonly Plan[]): (readonly Expanded[])[] =>
  plans.filter(({ moment }) => !moment.parked).map(({ expanded }) => expanded);

/** Slots of a universe. */
const SLOTS = 512;
