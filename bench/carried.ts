/** MIDI from a browser: WebSocket in -> server -> engine -> UDP out, compared with a bare relay of the same shape, in turns by message. */
import { createSocket, type Socket } from 'node:dgram';
import { Worker } from 'node:worker_threads';
import WebSocket from 'ws';
import { PORT_BYTES } from '@tawny-signal/core/live/batch';
import type { FromServer } from '@tawny-signal/core/live/messages';
import type { Line } from '@tawny-signal/core/show/line';
import { openTestStage, until } from '../scripts/test-stage.js';
import { post } from './post.js';
import type { TripFigures } from './round-trip.js';

const EVERY_MS = 5;
/** Values of a controller repeat in order, so that the value identifies the message that arrives. */
const VALUES = 128;

const bound = (): Promise<Socket> =>
  new Promise((done) => {
    const socket = createSocket('udp4');
    socket.bind(0, '127.0.0.1', () => done(socket));
  });
const opened = async (address: string): Promise<WebSocket> => {
  const socket = new WebSocket(address);
  await new Promise((done) => socket.once('open', done));
  return socket;
};

/** @param seconds how long each of the two paths is measured */
export async function benchCarried(seconds: number): Promise<TripFigures[]> {
  const stage = await openTestStage();
  const [engineOut, relayOut] = [await bound(), await bound()];
  const relay = new Worker(new URL('./ws-relay.mjs', import.meta.url), {
    workerData: { target: relayOut.address().port },
  });
  try {
    const relayPort = await new Promise<number>((done) => relay.once('message', done));
    const ways = [
      {
        path: 'engine',
        socket: await opened(`ws://127.0.0.1:${stage.port}/live`),
        sentAt: new Map<number, number>(),
        us: [] as number[],
        sent: 0,
      },
      {
        path: 'bare relay',
        socket: await opened(`ws://127.0.0.1:${relayPort}`),
        sentAt: new Map<number, number>(),
        us: [] as number[],
        sent: 0,
      },
    ];
    const [ours, theirs] = ways as [(typeof ways)[0], (typeof ways)[0]];
    let open = false;
    let lineId = '';
    ours.socket.on('message', (data: Buffer, isBinary: boolean) => {
      const message = isBinary ? null : (JSON.parse(data.toString()) as FromServer);
      if (message?.t === 'lineStates') open = message.states[lineId]?.state === 'open';
    });
    const port = { kind: 'midi-inside', name: 'Organ', in: true, out: false };
    ours.socket.send(JSON.stringify({ t: 'ports', ports: [port] }));
    const target = { host: '127.0.0.1', port: engineOut.address().port };
    const to = await post<Line>(stage, 'lines', {
      kind: 'osc-udp',
      name: 'Far',
      ...target,
      listenPort: null,
    });
    const organ = await post<Line>(stage, 'lines', { kind: 'midi-inside', name: 'Organ', port: 'Organ' });
    lineId = organ.id;
    await post(stage, 'mappings', {
      name: 'Organ',
      hear: { message: 'control', lineId, channels: [0, 0], numbers: [7, 7], values: 'any' },
      sends: [
        {
          kind: 'osc',
          lineId: to.id,
          range: [0, 127],
          address: '/organ',
          args: [{ type: 'i', value: 'shaped' }],
        },
      ],
    });
    await until(() => open, 'the organ is there');
    const took = (way: (typeof ways)[0], value: number): void => {
      const at = way.sentAt.get(value);
      if (at !== undefined) way.us.push((performance.now() - at) * 1000);
      way.sentAt.delete(value);
    };
    // /organ in 8 bytes, ,i in 4, the value in 4: its last byte.
    engineOut.on('message', (bytes) => bytes.length === 16 && took(ours, bytes[15]!));
    relayOut.on('message', (bytes) => took(theirs, bytes.at(-1)!));
    const play = (way: (typeof ways)[0], value: number): void => {
      way.sentAt.set(value, performance.now());
      way.sent++;
      way.socket.send(Uint8Array.of(PORT_BYTES, 0, 0xb0, 7, value));
    };
    await until(
      () => (play(ours, 1), play(theirs, 1), ours.us.length > 100 && theirs.us.length > 100),
      'both pass',
    );
    await new Promise((done) => setTimeout(done, 200));
    for (const way of ways) {
      way.us.length = way.sent = 0;
      way.sentAt.clear();
    }
    const rounds = (seconds * 1000) / EVERY_MS;
    for (let round = 0; round < rounds; round++) {
      for (const way of round % 2 ? ways : ways.toReversed()) play(way, round % VALUES);
      await new Promise((done) => setTimeout(done, EVERY_MS));
    }
    await new Promise((done) => setTimeout(done, 300));
    return ways.toReversed().map(({ path, sent, us }) => {
      us.sort((x, y) => x - y);
      const at = (share: number): number => us[Math.floor(us.length * share)] ?? Infinity;
      return { path, sent, arrived: us.length, medianUs: at(0.5), p99Us: at(0.99) };
    });
  } finally {
    await relay.terminate();
    for (const socket of [engineOut, relayOut]) socket.close();
    await stage.stop();
  }
}
