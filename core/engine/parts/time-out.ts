/**
 * Gives the show's position and tempo to others, each with its own rate and offset. What is sent is computed from the position at its
 * instant, never by adding, so that it cannot drift. Rates are converted by real time.
 */
import type { Signal } from '../../signal.js';
import type { Motion } from '../../time/position.js';
import type { Tempo } from '../../time/tempo.js';
import { TIME_WAYS, type TimeOutput } from '../../time/ways.js';
import type { Output } from '../../time/ways/way.js';
import type { FrameRate } from '../../timecode/frame-rate.js';
import type { Part, Stage } from '../part.js';
import type { PositionView } from './position.js';
import type { TempoView } from './tempo.js';

interface Running {
  row: TimeOutput;
  rate: FrameRate;
  output: Output;
  /** When it has to send next. */
  at: number;
}

export function createTimeOutPart(
  stage: Stage,
  position: Pick<PositionView, 'state' | 'motion'>,
  tempo: Pick<TempoView, 'tempo' | 'songBeatOf'>,
): Part {
  let running: Running[] = [];
  /** When the first of them is due. */
  let nextAt = Infinity;
  let { turns } = position.state();
  let motion: Motion | null = null;
  let paced: Tempo | null = null;

  /** The position as an output sends it. An offset of the tempo is one of time. */
  const shifted = ({ row }: Running): Motion => {
    const here = position.motion();
    return TIME_WAYS[row.kind].of === 'tempo' ? here : { ...here, ms: here.ms + row.offsetMs };
  };

  const soonest = (): number => running.reduce((first, { at }) => Math.min(first, at), Infinity);

  function planAll(now: number): void {
    for (const one of running) one.at = one.output.dueAt(shifted(one), now);
    nextAt = soonest();
  }

  /** The position runs by another line than before: what is due is planned again. */
  function plan(now: number): void {
    const current = position.motion();
    const turned = position.state().turns !== turns;
    if (current === motion && tempo.tempo() === paced && !turned) return;
    motion = current;
    paced = tempo.tempo();
    turns = position.state().turns;
    if (turned) for (const one of running) one.output.turned(shifted(one), now);
    planAll(now);
  }

  function open(row: TimeOutput, showRate: FrameRate): Running {
    const rate = row.frameRate ?? showRate;
    const { line, muted } = stage.lineOf(row.lineId);
    const put = (signal: Signal): void => stage.put(line, signal, row.id, muted || stage.isMuted(line));
    const output = TIME_WAYS[row.kind].output!(row, {
      rate,
      put,
      tempo: () => tempo.tempo(),
      songBeatOf: (ms) => tempo.songBeatOf(ms) ?? (ms * tempo.tempo().bpm) / 60_000,
    });
    return { row, rate, output, at: Infinity };
  }

  return {
    load({ show, whole }, now) {
      if (!whole) return;
      const before = running;
      running = show.timeOutputs
        .filter(({ on }) => on)
        .map((row) => {
          const same = before.find(
            (one) => one.row === row && one.rate === (row.frameRate ?? show.settings.timecode.frameRate),
          );
          return same ?? open(row, show.settings.timecode.frameRate);
        });
      planAll(now);
    },
    finishes: () => running.length > 0,
    finish: plan,
    wakeAt: () => nextAt,
    wake(now) {
      if (nextAt > now) return;
      for (const one of running) {
        if (one.at > now) continue;
        one.output.send(shifted(one), now);
        one.at = one.output.dueAt(shifted(one), now + 1e-6);
      }
      nextAt = soonest();
    },
  };
}
