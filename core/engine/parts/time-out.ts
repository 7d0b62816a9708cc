/**
 * Gives the show's position and tempo to others: MIDI timecode, MIDI clock and OSC, each with its own rate and offset. What is sent is computed from the position at its
 * instant, never by adding, so that it cannot drift. Rates are converted by real time.
 */
import type { TimeOutput } from '../../show/time.js';
import type { OscSignal, Signal } from '../../signal.js';
import { CLOCK, CLOCKS_PER_BEAT, CONTINUE, SONG_POSITION, START, STOP } from '../../time/clock-chase.js';
import { positionAt, type Motion } from '../../time/position.js';
import { beatAt, timeOf, type Tempo } from '../../time/tempo.js';
import type { FrameRate } from '../../timecode/frame-rate.js';
import { locateCommand, machineCommand } from '../../timecode/mmc.js';
import { FRAMES_A_SET, fullFrame, quarterFrame } from '../../timecode/mtc.js';
import { frameAt, framesAt, msOf, writePosition } from '../../timecode/timecode.js';
import type { Part, Stage } from '../part.js';
import type { PositionView } from './position.js';
import type { TempoView } from './tempo.js';

/** What one output sends. */
interface Output {
  /** When it has to send next, in monotonic ms; Infinity while the position stands. */
  dueAt(motion: Motion, now: number): number;
  /** Sends what is due. */
  send(motion: Motion, now: number): void;
  /** The position has jumped, stopped or begun to run. */
  turned(motion: Motion, now: number): void;
}

type Put = (signal: Signal) => void;

/** Quarters that are sent at once if the engine was late; what is older is left out, and the receiver locks again. */
const MOST_LATE = 8;

function mtcOutput(rate: FrameRate, put: Put): Output {
  /** The quarter that is sent next, and the way it runs; null until that is known after a turn. */
  let next: { quarter: number; way: number } | null = null;
  const hereOf = (motion: Motion, now: number): number => framesAt(positionAt(motion, now), rate) * 4;
  const timeOf = ({ ms, at, speed }: Motion, quarter: number): number =>
    at + (msOf(quarter / 4, rate) - ms) / speed;

  /** Sets begin with a piece 0, at every second frame; backward with a piece 7. */
  function first(motion: Motion, now: number): number {
    const here = hereOf(motion, now);
    const set = FRAMES_A_SET * 4;
    return motion.speed > 0
      ? Math.ceil(here / set - 1e-9) * set
      : Math.floor((here + 1) / set + 1e-9) * set - 1;
  }
  function upNext(motion: Motion, now: number): { quarter: number; way: number } {
    const way = Math.sign(motion.speed);
    if (next?.way !== way) next = { quarter: first(motion, now), way };
    return next;
  }

  return {
    dueAt: (motion, now) =>
      motion.speed === 0 ? Infinity : Math.max(now, timeOf(motion, upNext(motion, now).quarter)),
    send(motion, now) {
      if (motion.speed === 0) return;
      const here = hereOf(motion, now);
      const { quarter, way } = upNext(motion, now);
      if ((here - quarter) * way > MOST_LATE) next = null;
      const one = upNext(motion, now);
      for (let sent = 0; sent < MOST_LATE && (here - one.quarter) * way >= -1e-6; sent++) {
        put(quarterFrame(one.quarter, rate));
        one.quarter += way;
      }
    },
    turned(motion, now) {
      next = null;
      if (motion.speed === 0) put(fullFrame(frameAt(positionAt(motion, now), rate), rate));
    },
  };
}

function oscOutput(
  { address, perSecond }: Extract<TimeOutput, { kind: 'osc' }>,
  rate: FrameRate,
  put: Put,
): Output {
  const everyMs = 1000 / perSecond;
  let sentAt = -Infinity;
  function tell(motion: Motion, now: number): void {
    const ms = Math.max(0, positionAt(motion, now));
    const signal: OscSignal = {
      kind: 'osc',
      address,
      args: [
        { type: 'f', value: ms / 1000 },
        { type: 's', value: writePosition(ms, rate) },
      ],
    };
    put(signal);
  }
  /** The instants are counted from 0, so that they do not drift. */
  const tickOf = (now: number): number => Math.floor(now / everyMs + 1e-9);
  return {
    dueAt: (motion, now) =>
      motion.speed === 0 ? Infinity : Math.max(now, (tickOf(Math.max(sentAt, 0)) + 1) * everyMs),
    send(motion, now) {
      if (motion.speed === 0 || tickOf(now) === tickOf(sentAt)) return;
      sentAt = now;
      tell(motion, now);
    },
    turned(motion, now) {
      sentAt = now;
      tell(motion, now);
    },
  };
}

/** A locate says where it is, and is followed by play where it runs. */
function machineOutput(rate: FrameRate, put: Put): Output {
  return {
    dueAt: () => Infinity,
    send: () => undefined,
    turned(motion, now) {
      const frame = frameAt(Math.max(0, positionAt(motion, now)), rate);
      if (motion.speed === 0) put(machineCommand('stop'));
      put(locateCommand(frame, rate));
      if (motion.speed !== 0) put(machineCommand('play'));
    },
  };
}

/** A tempo that has moved by more than this many clocks is taken up anew. */
const MOST_CLOCKS_OFF = 3;

/** Clocks are counted from beat 0 of the tempo. @param offsetMs how much later each is sent */
function clockOutput(
  { startStop, offsetMs }: Extract<TimeOutput, { kind: 'clock' }>,
  tempoNow: () => Tempo,
  put: Put,
): Output {
  let next: number | null = null;
  const say = (status: number, data = 0): void =>
    put({ kind: 'system', status, data1: data & 0x7f, data2: data >> 7 });
  /** The clock that comes next, with its fraction. */
  const here = (now: number): number => beatAt(tempoNow(), now - offsetMs) * CLOCKS_PER_BEAT;
  function upNext(now: number): number {
    const due = Math.ceil(here(now) - 1e-6);
    if (next === null || Math.abs(next - due) > MOST_CLOCKS_OFF) next = due;
    return next;
  }
  return {
    dueAt: (_, now) => Math.max(now, timeOf(tempoNow(), upNext(now) / CLOCKS_PER_BEAT) + offsetMs),
    send(_, now) {
      for (let sent = 0; sent < MOST_CLOCKS_OFF && here(now) - upNext(now) >= -1e-6; sent++) {
        say(CLOCK);
        next = upNext(now) + 1;
      }
    },
    turned(motion, now) {
      if (!startStop) return;
      if (motion.speed === 0) return say(STOP);
      const beats = (Math.max(0, positionAt(motion, now)) * tempoNow().bpm) / 60_000;
      const sixteenths = Math.min(LAST_SIXTEENTH, Math.floor(beats * 4));
      if (sixteenths === 0) return say(START);
      say(SONG_POSITION, sixteenths);
      say(CONTINUE);
    },
  };
}

/** A song position has 14 bits. */
const LAST_SIXTEENTH = 16_383;

function outputOf(row: TimeOutput, rate: FrameRate, tempoNow: () => Tempo, put: Put): Output {
  switch (row.kind) {
    case 'mtc':
      return mtcOutput(rate, put);
    case 'mmc':
      return machineOutput(rate, put);
    case 'osc':
      return oscOutput(row, rate, put);
    case 'clock':
      return clockOutput(row, tempoNow, put);
  }
}

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
  tempo: Pick<TempoView, 'tempo'>,
): Part {
  let running: Running[] = [];
  let { turns } = position.state();
  let motion: Motion | null = null;
  let paced: Tempo | null = null;

  /** The position as an output sends it. The offset of a clock is one of time. */
  const shifted = ({ row }: Running): Motion => {
    const here = position.motion();
    return row.kind === 'clock' ? here : { ...here, ms: here.ms + row.offsetMs };
  };

  /** The position runs by another line than before: what is due is planned again. */
  function plan(now: number): void {
    const current = position.motion();
    const turned = position.state().turns !== turns;
    if (current === motion && tempo.tempo() === paced && !turned) return;
    motion = current;
    paced = tempo.tempo();
    turns = position.state().turns;
    for (const one of running) {
      if (turned) one.output.turned(shifted(one), now);
      one.at = one.output.dueAt(shifted(one), now);
    }
  }

  function open(row: TimeOutput, showRate: FrameRate): Running {
    const rate = row.frameRate ?? showRate;
    const { line, muted } = stage.lineOf(row.lineId);
    const put: Put = (signal) => stage.put(line, signal, row.id, muted || stage.isMuted(line));
    return { row, rate, output: outputOf(row, rate, () => tempo.tempo(), put), at: Infinity };
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
      for (const one of running) one.at = one.output.dueAt(shifted(one), now);
    },
    finishes: () => running.length > 0,
    finish: plan,
    wakeAt() {
      let at = Infinity;
      for (const one of running) at = Math.min(at, one.at);
      return at;
    },
    wake(now) {
      for (const one of running) {
        if (one.at > now) continue;
        one.output.send(shifted(one), now);
        one.at = one.output.dueAt(shifted(one), now + 1e-6);
      }
    },
  };
}
