/**
 * (h) A moment with 200 sends: how long after Go its first and its last leave, as they arrive at a socket on loopback; and what 40 universes
 * of 512 slots, all fading at 44 frames a second, take of one core: in the engine alone, and in the running engine with its frames, its
 * sockets and the traffic.
 */
import { post } from './post.js';
import { createSocket } from 'node:dgram';
import { readFileSync } from 'node:fs';
import { createEngine } from '@tawny-signal/core/engine';
import { emptyShow } from '@tawny-signal/core/show';
import { makeLine, type Line } from '@tawny-signal/core/show/line';
import { makeMoment, makeMomentSend, type momentSendSchema } from '@tawny-signal/core/show/moment';
import type { z } from 'zod';
import { openTestStage, until } from '../scripts/test-stage.js';

export interface MomentFigures {
  /** Milliseconds from the request to the last answer, of the median and the worst of the rounds. */
  firstMs: number;
  lastMs: number;
  spreadMs: number;
  worstSpreadMs: number;
  arrived: number;
  sent: number;
}

const SENDS = 200;
const ROUNDS = 25;

const median = (list: number[]): number => [...list].sort((a, b) => a - b)[Math.floor(list.length / 2)]!;

export async function benchMoment(): Promise<MomentFigures> {
  const stage = await openTestStage();
  const target = createSocket({ type: 'udp4', recvBufferSize: 1 << 21 });
  await new Promise<void>((done) => target.bind(0, '127.0.0.1', done));
  try {
    const line = await post<Line>(stage, 'lines', {
      kind: 'osc-udp',
      name: 'Bench',
      host: '127.0.0.1',
      port: target.address().port,
      listenPort: null,
    });
    const { id } = await post<{ id: string }>(stage, 'moments', {
      sends: Array.from({ length: SENDS }, (_, at) => ({
        kind: 'send',
        send: {
          kind: 'osc',
          lineId: line.id,
          address: `/bench/${at}`,
          args: [{ type: 'f', value: 'shaped' }],
        },
        value: at,
      })),
    });
    let times: number[] = [];
    target.on('message', (bytes) => {
      if (bytes[0] === 0x2f) times.push(performance.now());
    });
    await until(async () => {
      await post(stage, 'desk/order', { do: 'call', id });
      return times.length >= SENDS;
    }, 'the line is open');
    // What was asked for while it opened has arrived.
    await new Promise((done) => setTimeout(done, 1000));
    const firsts: number[] = [];
    const lasts: number[] = [];
    let arrived = 0;
    for (let round = 0; round < ROUNDS; round++) {
      await new Promise((done) => setTimeout(done, 100));
      times = [];
      const from = performance.now();
      await post(stage, 'desk/order', { do: 'call', id });
      await new Promise((done) => setTimeout(done, 200));
      arrived += times.length;
      firsts.push(times[0]! - from);
      lasts.push(times.at(-1)! - from);
    }
    const spreads = lasts.map((last, at) => last - firsts[at]!);
    return {
      firstMs: median(firsts),
      lastMs: median(lasts),
      spreadMs: median(spreads),
      worstSpreadMs: Math.max(...spreads),
      arrived,
      sent: SENDS * ROUNDS,
    };
  } finally {
    target.close();
    await stage.stop();
  }
}

export interface FadeFigures {
  universes: number;
  slots: number;
  /** Of one core, 0–1: what the engine takes, without the frames' encoding. */
  share: number;
  messages: number;
}

const UNIVERSES = 40;
/** A fade from nothing to full in this time changes every slot in every frame. */
const FADE_MS = 5000;
const FADES = 4;

const fadeTo = (lineIds: readonly string[], level: number): z.input<typeof momentSendSchema>[] =>
  lineIds.map((lineId, at) => ({
    kind: 'levels',
    lineId,
    fadeMs: FADE_MS,
    curve: at % 2 === 0 ? 'straight' : 'slow-ends',
    levels: [{ slots: [1, 512], level }],
  }));

/** The engine is given its time, so that it is measured and not waited for. */
export function benchFades(): FadeFigures {
  const engine = createEngine();
  const ids = Array.from({ length: UNIVERSES }, (_, at) => `universe ${at}`);
  const moments = [255, 0].map((level, at) =>
    makeMoment({
      id: `m${at}`,
      cue: String(at + 1),
      name: '',
      sends: fadeTo(ids, level).map(makeMomentSend),
    }),
  );
  const lines = ids.map((id, at) =>
    makeLine({
      id,
      kind: 'sacn',
      name: id,
      universe: at + 1,
      host: '127.0.0.1',
      port: 5568,
      listenPort: null,
    }),
  );
  const lineIndex = new Map(ids.map((id, at) => [id, at]));
  engine.take({ t: 'show', show: { ...emptyShow('Bench'), lines, moments }, lineIndex }, 0);
  let messages = 0;
  const from = performance.now();
  for (let fade = 0; fade < FADES; fade++) {
    engine.take({ t: 'order', act: { do: 'call', id: `m${fade % 2}` }, desk: '' }, fade * FADE_MS);
    for (let at = engine.wakeAt(); at <= (fade + 1) * FADE_MS; at = engine.wakeAt())
      messages += engine.take({ t: 'wake' }, at).count;
  }
  const share = (performance.now() - from) / (FADES * FADE_MS);
  return { universes: UNIVERSES, slots: UNIVERSES * 512, share, messages };
}

export interface ProcessFigures {
  /** Of one core, 0–1: the engine, and the web server beside it. */
  engineShare: number;
  serverShare: number;
  framesPerSecond: number;
}

/** What a process took of the processor until now, in ms; Linux counts in hundredths of a second. */
function processorTime(pid: number): number {
  // After the name, which is in brackets: the 12th and 13th fields are the user's and the system's time.
  const fields = readFileSync(`/proc/${pid}/stat`, 'utf8').split(') ')[1]!.split(' ');
  return (Number(fields[11]) + Number(fields[12])) * 10;
}

/** The same fades in the running engine, its frames sent to a socket on loopback. */
export async function benchFadesRunning(): Promise<ProcessFigures> {
  const stage = await openTestStage({ demo: false });
  const target = createSocket({ type: 'udp4', recvBufferSize: 1 << 21 });
  await new Promise<void>((done) => target.bind(0, '127.0.0.1', done));
  let frames = 0;
  target.on('message', () => frames++);
  try {
    const lineIds: string[] = [];
    for (let at = 0; at < UNIVERSES; at++) {
      const line = await post<Line>(stage, 'lines', {
        kind: 'sacn',
        name: `Universe ${at + 1}`,
        universe: at + 1,
        host: '127.0.0.1',
        port: target.address().port,
        listenPort: null,
      });
      lineIds.push(line.id);
    }
    const up = await post<{ id: string }>(stage, 'moments', { sends: fadeTo(lineIds, 255) });
    const down = await post<{ id: string }>(stage, 'moments', { sends: fadeTo(lineIds, 0) });
    await new Promise((done) => setTimeout(done, 2000));
    const fade = async (id: string): Promise<void> => {
      await post(stage, 'desk/order', { do: 'call', id });
      await new Promise((done) => setTimeout(done, FADE_MS));
    };
    await fade(up.id);
    const pids = [stage.engine.pid()!, stage.server.pid()!];
    const before = pids.map(processorTime);
    const [from, framesBefore] = [performance.now(), frames];
    for (let round = 0; round < FADES; round++) await fade(round % 2 === 0 ? down.id : up.id);
    const ms = performance.now() - from;
    const [engine, server] = pids.map((pid, at) => processorTime(pid) - before[at]!);
    return {
      engineShare: engine! / ms,
      serverShare: server! / ms,
      framesPerSecond: (frames - framesBefore) / UNIVERSES / (ms / 1000),
    };
  } finally {
    target.close();
    await stage.stop();
  }
}
