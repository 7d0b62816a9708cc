/** The running moments: what each does at its time, what sounds because of it, and how it ends. Given the time; reads no clock. */
import { channelPlace, placeOnLine } from '../place.js';
import { createAgenda } from '../agenda.js';
import { createFades } from '../fades/fades.js';
import { createRamps } from '../fades/ramps.js';
import { eachTyped, noteTyped, restOfTyping } from '../sends/compiled.js';
import type { FileSignal } from '../midi/file.js';
import { copySignal, type Signal, type SlotSignal } from '../signal.js';
import type { Expanded } from './expand.js';
import { createFilePlayer, type FilePlay } from './file-player.js';
import { createLit } from './lit.js';
import { createRampedPlaces } from './ramped-places.js';
import {
  isOwn,
  keyOf,
  momentOf,
  type Later,
  type OwnMark,
  type Run,
  type RunnerStage,
  type Sounding,
} from './run.js';
import { inMs, isNone } from '../time/span.js';
import { createRunEnd } from './run-end.js';
import { goesOn, planOf, spansAfter, UNHEARD, type Plan, type Planned } from './plan.js';

export interface Runs {
  /** Starts a moment. A run of the same moment is stopped first. */
  start(plan: Plan, now: number): Run;
  /** Performs sends that belong to no row. Only one run of each mark exists at a time. */
  startOwn(mark: OwnMark, sends: readonly Expanded[], now: number): void;
  /** Stops a run: its fades stay where they are, and what sounds is released. */
  stop(run: Run): void;
  stopAll(): void;
  /** Fades out the lights that moments set. What is running starts nothing more, and is stopped at the end. */
  fadeOut(ms: number, now: number): void;
  /** The running moments in the order of their start, without runs that belong to no row. */
  list(): readonly Run[];
  /** Returns whether something of it goes on until it is stopped. */
  soundsOn(run: Run): boolean;
  /** The moments of the show have changed. */
  load(plans: readonly Plan[]): void;
  /** Returns whether any moment ramps something other than slots, so that `sent` must be called. */
  watches(): boolean;
  /** Some part has sent something. */
  sent(line: number, signal: Signal): void;
  wakeAt(): number;
  wake(now: number): void;
}

type PlannedOf<K extends Planned['kind']> = Extract<Planned, { kind: K }>;

/** @param changed is called when the list of runs changes */
export function createRuns(stage: RunnerStage, changed: () => void): Runs {
  const agenda = createAgenda<Later>(() => stage.tempo());
  const ramps = createRamps(() => stage.tempo());
  const lit = createLit(stage.levels);
  const fades = createFades(putSlot, stage.levels, () => stage.tempo());
  const places = createRampedPlaces();
  const files = createFilePlayer(putOfFile);
  const sounding = new Map<string, Sounding>();
  let runs: Run[] = [];
  let ownNow = 0;

  function putSlot(line: number, signal: SlotSignal, sender: string, muted: boolean, because?: number): void {
    lit.note(line, signal.slot);
    stage.put(line, signal, sender, muted, because);
  }

  function put(line: number, signal: Signal, sender: string, muted: boolean): void {
    if (signal.kind === 'slot') putSlot(line, signal, sender, muted);
    else stage.put(line, signal, sender, muted);
  }

  /** Sends an event of a file. A controller that it sets ends the ramp of that controller. */
  function putOfFile({ lineId, line, owner, muted, because }: FilePlay, signal: FileSignal): void {
    if (signal.kind === 'controlChange')
      ramps.set(placeOnLine(lineId, channelPlace('control', signal.channel, signal.number)), signal.value);
    stage.put(line, signal, owner, muted, because);
  }

  /** Sends signals of one thing that a moment does, but for keys that somebody else still holds. */
  function leave(
    signals: readonly Signal[],
    { line, muted, run, holder }: Pick<Sounding, 'line' | 'muted' | 'run' | 'holder'>,
  ): void {
    const withheld = muted || !stage.armed();
    for (const signal of signals)
      if (stage.keys.passes(line, signal, holder, withheld)) put(line, signal, run.plan.moment.id, muted);
  }

  function release(key: string, one: Sounding): void {
    sounding.delete(key);
    leave(one.releases, one);
  }

  function end(run: Run): void {
    if (run.ended) return;
    run.ended = true;
    runs = runs.filter((one) => one !== run);
    changed();
  }

  function stop(run: Run): void {
    const { id } = run.plan.moment;
    for (const later of agenda.drop((one) => one.run === run))
      if (later.do === 'type') leave(restOfTyping(later.part, later.down), later);
    fades.stop((sender) => sender === id);
    ramps.stop((owner) => owner === id);
    files.stop((owner) => owner === id);
    for (const [key, one] of sounding) if (one.run === run) release(key, one);
    end(run);
  }

  function press(run: Run, planned: PlannedOf<'send'>, now: number): void {
    const { compiled, value, length } = planned;
    const { line, muted } = stage.lineOf(planned.lineId);
    const sender = run.plan.moment.id;
    const filled = compiled.fill(value, UNHEARD);
    if (filled === 'nothing') return;
    if (compiled.act) return stage.armed() ? stage.act(compiled.act, sender) : undefined;
    const signals = filled === 'signals' ? compiled.signals : compiled.releases;
    const key = compiled.releases.length > 0 ? keyOf(line, compiled.releases[0]!) : '';
    const before = sounding.get(key);
    // What already sounds because of another moment belongs to this one from now on.
    if (before) sounding.delete(key);
    const holder = compiled;
    leave(signals.map(copySignal), { line, muted, run, holder });
    for (const signal of before?.releases ?? []) stage.keys.passes(line, signal, before!.holder, false);
    eachTyped(compiled.later, (part, down) =>
      agenda.add(now + part.afterMs, { run, do: 'type', line, muted, part, down, holder }),
    );
    if (before && filled === 'releases') settle(before.run);
    if (compiled.releases.length === 0 || filled === 'releases' || !stage.armed() || muted) return;
    const one: Sounding = { line, muted, releases: compiled.releases, holder, run };
    if (length && isNone(length)) return release(key, one);
    sounding.set(key, one);
    if (length) agenda.after(length, now, { run, do: 'release', key, sounding: one });
  }

  function move(run: Run, planned: PlannedOf<'send'>, now: number): void {
    const { compiled, target, value: to, fade, curve } = planned;
    const { line, muted } = stage.lineOf(planned.lineId);
    const owner = run.plan.moment.id;
    const apply = (value: number): void => {
      if (compiled.fill(value, UNHEARD) !== 'signals') return;
      for (const signal of compiled.signals) stage.put(line, copySignal(signal), owner, muted, run.because);
    };
    ramps.start({ target: target!, to, over: fade, curve, apply, owner }, now);
  }

  function setLevels(run: Run, planned: PlannedOf<'send' | 'levels'>, now: number): void {
    const { line, muted } = stage.lineOf(planned.lineId);
    const sender = run.plan.moment.id;
    const { fade: over, curve } = planned;
    const { because } = run;
    if (planned.kind === 'levels') {
      if (!isNone(over))
        fades.start({ line, levels: planned.levels, fine: false, over, curve, sender, muted, because }, now);
      else
        for (const [slot, level] of planned.levels)
          putSlot(line, { kind: 'slot', slot, level }, sender, muted);
      return;
    }
    planned.compiled.fill(planned.value, UNHEARD);
    const [coarse, fine] = planned.compiled.signals as SlotSignal[];
    const level = fine ? (coarse!.level << 8) | fine.level : coarse!.level;
    fades.start(
      { line, levels: [[coarse!.slot, level]], fine: !!fine, over, curve, sender, muted, because },
      now,
    );
  }

  function play(run: Run, { lineId, events, lengthMs, times }: PlannedOf<'file'>, now: number): void {
    const owner = run.plan.moment.id;
    files.start(
      {
        lineId,
        ...stage.lineOf(lineId),
        events,
        lengthMs,
        times,
        owner,
        because: run.because,
        ended: () => settle(run),
      },
      now,
    );
  }

  /** Each end in beats is looked at when it comes, since the tempo may have changed. */
  function watchEnd(run: Run, planned: Planned, now: number): void {
    run.end.began(planned, now);
    agenda.add(now, { run, do: 'end' });
    for (const span of spansAfter(planned)) if (!isNone(span)) agenda.after(span, now, { run, do: 'end' });
  }

  function doNow(run: Run, planned: Planned, now: number): void {
    if (run.plan.inBeats) watchEnd(run, planned, now);
    if (planned.kind === 'file') play(run, planned, now);
    else if (planned.kind === 'levels' || (!isNone(planned.fade) && planned.target === null))
      setLevels(run, planned, now);
    else if (planned.target !== null) move(run, planned, now);
    else press(run, planned, now);
  }

  const isHeld = (run: Run): boolean => [...sounding.values()].some((one) => one.run === run);
  const plays = (run: Run): boolean => files.plays(run.plan.moment.id);

  /** Ends a run whose time is over and of which nothing sounds. */
  function settle(run: Run): void {
    const over = ownNow >= run.end.at();
    if (over && !isHeld(run) && !plays(run)) end(run);
  }

  function start(plan: Plan, now: number): Run {
    const before = runs.find((run) => run.plan.moment.id === plan.moment.id);
    if (before) stop(before);
    ownNow = now;
    const end = createRunEnd(plan, now, () => stage.tempo());
    const run: Run = { plan, since: now, end, because: stage.because.step, ended: false };
    runs = [...runs, run];
    for (const planned of plan.sends) {
      if (!isNone(planned.delay)) agenda.after(planned.delay, now, { run, do: 'send', planned });
      else doNow(run, planned, now);
    }
    changed();
    if (run.end.at() <= now) settle(run);
    else if (!plan.inBeats) agenda.add(run.end.at(), { run, do: 'end' });
    return run;
  }

  function doLater(later: Later, now: number): void {
    const { run } = later;
    stage.because.step = run.because;
    switch (later.do) {
      case 'send':
        return doNow(run, later.planned, now);
      case 'release':
        if (sounding.get(later.key) === later.sounding) release(later.key, later.sounding);
        return settle(run);
      case 'type':
        noteTyped(later.part, later.down);
        return leave(later.part.signals, later);
      case 'end':
        return settle(run);
      case 'stop':
        for (const one of later.runs) if (!one.ended) stop(one);
    }
  }

  return {
    start,
    startOwn(mark, sends, now) {
      start(planOf(momentOf(mark), sends), now);
    },
    stop,
    stopAll() {
      for (const run of [...runs]) stop(run);
      for (const [key, one] of sounding) release(key, one);
    },
    fadeOut(ms, now) {
      agenda.drop((later) => later.do === 'send' || later.do === 'stop');
      for (const run of runs) if (isOwn(run)) stop(run);
      const before = runs;
      const sender = 'fading out';
      // It is a run too, so that Stop all and Panic end it.
      const run = start({ ...planOf(momentOf(sender), []), lengthMs: () => ms }, now);
      for (const line of lit.lines()) {
        const levels = lit.toDark(line);
        const muted = stage.isMuted(line);
        if (levels.length > 0) fades.start({ line, levels, fine: false, over: inMs(ms), sender, muted }, now);
      }
      agenda.add(now + ms, { run, do: 'stop', runs: before });
    },
    list: () => runs.filter((run) => !isOwn(run)),
    soundsOn: (run) => (isHeld(run) || plays(run)) && run.plan.sends.some(goesOn),
    load(plans) {
      places.load(plans, (id) => stage.lineOf(id).line);
    },
    watches: () => places.any(),
    sent(line, signal) {
      if (signal.kind !== 'slot') places.take(line, signal, ramps.saw);
    },
    wakeAt: () => Math.min(agenda.nextAt(), ramps.wakeAt(), fades.wakeAt(), files.wakeAt()),
    wake(now) {
      ownNow = now;
      for (let later = agenda.nextDue(now); later; later = agenda.nextDue(now)) doLater(later, now);
      stage.because.step = 0;
      fades.wake(now);
      ramps.wake(now);
      files.wake(now);
    },
  };
}
