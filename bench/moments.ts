/**
 * (h) A moment with 200 sends: how long after Go its first and its last leave, as they arrive at a socket on loopback; and what 40 universes
 * of 512 slots, all fading at 44 frames a second, take of one core in the engine.
 */
import { createSocket } from 'node:dgram';
import { createEngine } from '@tawny-signal/core/engine';
import { emptyShow } from '@tawny-signal/core/show';
import { makeLine, type Line } from '@tawny-signal/core/show/line';
import { makeMoment, makeMomentSend } from '@tawny-signal/core/show/moment';
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
  const post = async <T>(path: string, body: unknown): Promise<T> => {
    const response = await fetch(`${stage.address}api/${path}`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify(body),
    });
    if (!response.ok) throw new Error(`${path}: ${await response.text()}`);
    return (await response.json()) as T;
  };
  try {
    const line = await post<Line>('lines', {
      kind: 'osc-udp',
      name: 'Bench',
      host: '127.0.0.1',
      port: target.address().port,
      listenPort: null,
    });
    const { id } = await post<{ id: string }>('moments', {
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
      await post('desk/order', { do: 'call', id });
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
      await post('desk/order', { do: 'call', id });
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
const SECONDS = 20;

/** The engine is given its time, so that it is measured and not waited for. */
export function benchFades(): FadeFigures {
  const engine = createEngine();
  const ids = Array.from({ length: UNIVERSES }, (_, at) => `universe ${at}`);
  const moment = makeMoment({
    id: 'all',
    cue: '1',
    name: '',
    sends: ids.map((lineId, at) =>
      makeMomentSend({
        kind: 'levels',
        lineId,
        fadeMs: SECONDS * 1000,
        curve: at % 2 === 0 ? 'straight' : 'slow-ends',
        levels: [{ slots: [1, 512], level: 255 }],
      }),
    ),
  });
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
  engine.load({ ...emptyShow('Bench'), lines, moments: [moment] }, new Map(ids.map((id, at) => [id, at])), 0);
  engine.order({ do: 'go' }, 0);
  let messages = 0;
  const from = performance.now();
  for (let at = engine.wakeAt(); at <= SECONDS * 1000; at = engine.wakeAt())
    messages += engine.wake(at).count;
  const ms = performance.now() - from;
  return { universes: UNIVERSES, slots: UNIVERSES * 512, share: ms / (SECONDS * 1000), messages };
}
