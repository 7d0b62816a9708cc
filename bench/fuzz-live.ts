/**
 * Sends bad packets to all lines of a running engine: its process must not end, and a signal on a line with little traffic must not wait long. A bare relay
 * is measured in turns, to see the share of the machine. Everything is on loopback.
 */
import { createSocket } from 'node:dgram';
import { readFileSync } from 'node:fs';
import { connect, type Socket } from 'node:net';
import { Worker } from 'node:worker_threads';
import WebSocket from 'ws';
import { PORT_BYTES } from '@tawny-signal/core/live/batch';
import type { Line } from '@tawny-signal/core/show/line';
import { freePort, freeUdpPair, tryUdpPort } from '../scripts/ports.js';
import { openTestStage, until, type TestStage } from '../scripts/test-stage.js';
import { post } from './post.js';
import { spoiltPackets } from './spoilt-packets.js';

/** The waiting times on the calm line, in ms. */
export interface Waits {
  median: number;
  p99: number;
  worst: number;
  /** The number of signals that did not come back. */
  lost: number;
}

export interface LiveFigures {
  packets: number;
  /** The number of times that the process of the engine ended. */
  stops: number;
  engine: Waits;
  relay: Waits;
  /** The memory of the engine after a tenth of the time, and at the end, in MB. */
  memoryMb: [number, number];
}

const memoryMb = (pid: number): number =>
  Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0) / 1024;

function waitsOf(list: number[], asked: number): Waits {
  list.sort((x, y) => x - y);
  const at = (share: number): number => list[Math.floor(list.length * share)] ?? Infinity;
  return { median: at(0.5), p99: at(0.99), worst: list.at(-1) ?? Infinity, lost: asked - list.length };
}

/** The number of packets that are sent before the next path has its turn. */
const AT_ONCE = 40;
const CALM_MS = 10;
/** A path with more unsent bytes than this is skipped. */
const BEHIND_BYTES = 1 << 20;

/** A path into the engine. Sends bytes if the other end accepts them. */
type Way = (bytes: Uint8Array) => void;

/** A connection that is opened again whenever the other end has closed it. */
function again<T>(
  open: () => T,
  isOver: (made: T) => boolean,
  send: (made: T, bytes: Uint8Array) => void,
): Way {
  let made = open();
  return (bytes) => {
    if (isOver(made)) made = open();
    else send(made, bytes);
  };
}

/** Opens lines of every kind that can be reached from outside. Returns the path into each. */
async function openWays(stage: TestStage, far: number, ending: (() => void)[]): Promise<Way[]> {
  const udp = async (): Promise<number> => (await tryUdpPort(0))!;
  // The first port of all too, where the system lets us: an answer may go to the port before it.
  const near = [0, 0, 1].map((from) => {
    const socket = createSocket('udp4').on('error', () => undefined);
    socket.bind(from, '127.0.0.1');
    ending.push(() => socket.close());
    return socket;
  });
  let turn = 0;
  const target = { host: '127.0.0.1', port: far };
  const ports = {
    osc: await udp(),
    sacn: await udp(),
    artnet: await udp(),
    tcp: await freePort(),
    ws: await freePort(),
    session: await freeUdpPair(),
  };
  for (const line of [
    { kind: 'osc-udp', name: 'Fuzzed OSC', ...target, listenPort: ports.osc },
    { kind: 'osc-tcp', name: 'Fuzzed TCP', ...target, framing: 'slip', listenPort: ports.tcp },
    {
      kind: 'osc-ws',
      name: 'Fuzzed WebSocket',
      host: null,
      port: 9001,
      listenPort: ports.ws,
      secret: 'fuzz',
    },
    { kind: 'sacn', name: 'Fuzzed sACN', host: null, port: 5568, universe: 7, listenPort: ports.sacn },
    { kind: 'artnet', name: 'Fuzzed Art-Net', host: null, port: 6454, universe: 7, listenPort: ports.artnet },
    { kind: 'midi-inside', name: 'Fuzzed MIDI', port: 'Fuzzed MIDI' },
    {
      kind: 'midi-network',
      name: 'Fuzzed session',
      session: 'Fuzzed session',
      port: ports.session,
      mayJoin: 'anyone',
    },
  ])
    await post<Line>(stage, 'lines', line);

  const toUdp =
    (port: number): Way =>
    (bytes) =>
      near[turn++ % near.length]!.send(bytes, port, '127.0.0.1', () => undefined);
  const tcp = again<Socket>(
    () => connect(ports.tcp, '127.0.0.1').on('error', () => undefined),
    (socket) => socket.destroyed,
    (socket, bytes) => void (socket.writableLength < BEHIND_BYTES && socket.write(bytes)),
  );
  const webSocket = (path: string, hello: string | null, ahead: number[]): Way =>
    again<WebSocket>(
      () => {
        const socket = new WebSocket(path);
        if (hello !== null) socket.on('open', () => socket.send(hello));
        ending.push(() => socket.terminate());
        return socket.on('error', () => undefined);
      },
      ({ readyState }) => readyState === WebSocket.CLOSING || readyState === WebSocket.CLOSED,
      (socket, bytes) => {
        if (socket.readyState !== WebSocket.OPEN || socket.bufferedAmount > BEHIND_BYTES) return;
        socket.send(Uint8Array.from([...ahead, ...bytes]));
      },
    );
  const port = { kind: 'midi-inside', name: 'Fuzzed MIDI', in: true, out: false };
  const midi = webSocket(`ws://127.0.0.1:${stage.port}/live`, JSON.stringify({ t: 'ports', ports: [port] }), [
    PORT_BYTES,
    0,
  ]);
  return [
    toUdp(ports.osc),
    tcp,
    webSocket(`ws://127.0.0.1:${ports.ws}/fuzz`, null, []),
    toUdp(ports.sacn),
    toUdp(ports.artnet),
    toUdp(ports.session),
    toUdp(ports.session + 1),
    midi,
  ];
}

export async function fuzzLive(seed: number, ms: number): Promise<LiveFigures> {
  const stage = await openTestStage();
  const ending: (() => void)[] = [];
  try {
    const answers = (await tryUdpPort(0))!;
    const calmPort = (await tryUdpPort(0))!;
    const calm = await post<Line>(stage, 'lines', {
      kind: 'osc-udp',
      name: 'Calm',
      host: '127.0.0.1',
      port: answers,
      listenPort: calmPort,
    });
    const route = {
      carries: 'osc',
      fromId: calm.id,
      toId: calm.id,
      prefix: '/',
      newPrefix: '/calm',
      ring: true,
    };
    await post(stage, 'routes', route);
    // Nobody is at the other end of the lines, so what they send is dropped.
    const ways = await openWays(stage, (await tryUdpPort(0))!, ending);
    const relay = new Worker(new URL('./relay.mjs', import.meta.url), { workerData: { target: answers } });
    ending.push(() => void relay.terminate());
    const relayPort = await new Promise<number>((done) => relay.once('message', done));
    const calmLine = new Worker(new URL('./calm-line.mjs', import.meta.url), {
      workerData: { ports: [calmPort, relayPort], answers, everyMs: CALM_MS },
    });
    await new Promise((done) => calmLine.once('message', done));

    const pid = stage.engine.pid()!;
    const packet = spoiltPackets(seed);
    let packets = 0;
    let first = 0;
    const begin = performance.now();
    for (let now = begin; now < begin + ms; now = performance.now()) {
      if (first === 0 && now > begin + ms / 10) first = memoryMb(pid);
      for (let at = 0; at < AT_ONCE; at++) ways[packets++ % ways.length]!(packet());
      await new Promise((done) => setImmediate(done));
    }
    calmLine.postMessage('stop');
    const said = await new Promise<{ engine: number[]; relay: number[]; asked: number }>((done) =>
      calmLine.once('message', done),
    );
    // The engine may be restarting.
    const last = await until(() => stage.engine.pid(), 'an engine is there');
    return {
      packets,
      stops: last === pid ? 0 : 1,
      engine: waitsOf(said.engine, said.asked / 2),
      relay: waitsOf(said.relay, said.asked / 2),
      memoryMb: [first, memoryMb(last)],
    };
  } finally {
    for (const end of ending) end();
    await stage.stop();
  }
}
