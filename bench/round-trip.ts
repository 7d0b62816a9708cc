/**
 * UDP in -> engine -> UDP out, through a mapping or a route, against a bare relay of the same shape in the same run.
 * The two take turns, packet by packet or half second by half second, so that both meet the same moments.
 */
import { createSocket, type Socket } from 'node:dgram';
import { Worker } from 'node:worker_threads';
import type { Line } from '@tawny-signal/core/show/line';
import type { Route } from '@tawny-signal/core/show/route';
import type { Mapping } from '@tawny-signal/core/show/mapping';
import { encodeOsc } from '@tawny-signal/core/osc/packet';
import { openBrowser } from '../e2e/browser.js';
import { tryUdpPort } from '../scripts/ports.js';
import { openTestStage, until, type TestStage } from '../scripts/test-stage.js';
import { post } from './post.js';

export interface TripFigures {
  path: string;
  sent: number;
  arrived: number;
  medianUs: number;
  p99Us: number;
}

export interface Trip {
  through: 'mapping' | 'route';
  /** Messages a second: through each of the two paths, or through the one whose turn it is. */
  perSecond: number;
  /** How long each path is used. */
  seconds: number;
  /** In turns, each path has the machine for itself: for rates at which the sender itself is busy. */
  turns: 'packets' | 'halfSeconds';
  /** With the interface open on Traffic. */
  watched: boolean;
}

/** Timers are no finer than a millisecond, and may come late: what is due then goes at once, but not more than this. */
const LONGEST_BURST_MS = 8;

/** The number in packets that only warm up. Measured packets are numbered from 1. */
const WARMING = 0;

const SETTLE_MS = 300;
/** The first byte of a bundle, which is a probe. */
const HASH = 0x23;

interface Path {
  name: string;
  port: number;
  sentAt: Float64Array;
  us: number[];
}

function bound(): Promise<Socket> {
  return new Promise((done) => {
    const socket = createSocket({ type: 'udp4', recvBufferSize: 1 << 21 });
    socket.bind(0, '127.0.0.1', () => done(socket));
  });
}

function figures({ name, us }: Path, sent: number): TripFigures {
  const sorted = [...us].sort((a, b) => a - b);
  const at = (part: number): number => sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * part))]!;
  return { path: name, sent, arrived: us.length, medianUs: at(0.5), p99Us: at(0.99) };
}

/** What passes on from the line at `listenPort`; the address that leaves has the length of the one that came. */
async function makePath(
  stage: TestStage,
  through: Trip['through'],
  target: number,
  listenPort: number,
): Promise<void> {
  const { address } = stage;
  const line = await post<Line>({ address }, 'lines', {
    kind: 'osc-udp',
    name: 'Bench',
    host: '127.0.0.1',
    port: target,
    listenPort,
  });
  if (through === 'mapping') {
    await post<Mapping>({ address }, 'mappings', {
      hear: { message: 'osc', lineId: line.id, address: '/bench/in' },
      shape: { from: 'value', in: [0, 1_000_000], out: [0, 1_000_000], curve: 'straight' },
      sends: [{ kind: 'osc', lineId: line.id, address: '/bench/ut', args: [{ type: 'i', value: 'shaped' }] }],
    });
  } else
    await post<Route>({ address }, 'routes', {
      fromId: line.id,
      toId: line.id,
      prefix: '/bench',
      newPrefix: '/bunch',
      ring: true,
    });
}

/** Calls `send` a number of times at a rate, and waits until everything has had time to arrive. */
function pump(perSecond: number, count: number, send: (i: number) => void): Promise<void> {
  return new Promise((done) => {
    let next = 0;
    const from = performance.now();
    const most = Math.ceil((perSecond * LONGEST_BURST_MS) / 1000);
    const timer = setInterval(() => {
      const due = Math.min(count, Math.floor(((performance.now() - from) / 1000) * perSecond));
      for (let burst = 0; next < due && burst < most; next++, burst++) send(next);
      if (next < count) return;
      clearInterval(timer);
      setTimeout(done, SETTLE_MS);
    }, 1);
  });
}

export async function benchRoundTrip({
  through,
  perSecond,
  seconds,
  turns,
  watched,
}: Trip): Promise<TripFigures[]> {
  const stage = await openTestStage();
  const browser = watched ? await openBrowser() : null;
  const source = await bound();
  const engineTarget = await bound();
  const relayTarget = await bound();
  const relay = new Worker(new URL('./relay.mjs', import.meta.url), {
    workerData: { target: relayTarget.address().port },
  });
  try {
    const relayPort = await new Promise<number>((done) => relay.once('message', done));
    const listenPort = (await tryUdpPort(0))!;
    await makePath(stage, through, engineTarget.address().port, listenPort);
    await browser?.driver.get(`${stage.address}traffic`);

    const count = perSecond * seconds;
    const paths: Path[] = [
      { name: 'bare relay', port: relayPort, sentAt: new Float64Array(count), us: [] },
      { name: 'engine', port: listenPort, sentAt: new Float64Array(count), us: [] },
    ];
    const [relayed, engined] = paths as [Path, Path];
    const note =
      (path: Path) =>
      (bytes: Buffer): void => {
        const now = performance.now();
        // The number is the last argument, and the only one.
        const number = bytes.length < 8 || bytes[0] === HASH ? WARMING : bytes.readInt32BE(bytes.length - 4);
        if (number !== WARMING) path.us.push((now - path.sentAt[number - 1]!) * 1000);
      };
    relayTarget.on('message', note(relayed));
    engineTarget.on('message', note(engined));

    const template = Buffer.from(
      encodeOsc({ kind: 'osc', address: '/bench/in', args: [{ type: 'i', value: 0 }] }),
    );
    const say = (path: Path, i: number): void => {
      const packet = Buffer.from(template);
      packet.writeInt32BE(i + 1, packet.length - 4);
      if (i >= 0) path.sentAt[i] = performance.now();
      source.send(packet, path.port, '127.0.0.1');
    };
    let warm = 0;
    engineTarget.on('message', () => warm++);
    await until(
      () => (say(engined, WARMING - 1), say(relayed, WARMING - 1), warm > 2000),
      'both are warm',
      60_000,
    );

    if (turns === 'packets') {
      await pump(perSecond, count, (i) => {
        for (const path of i % 2 === 0 ? paths : paths.toReversed()) say(path, i);
      });
    } else {
      const slice = perSecond / 2;
      for (let from = 0; from < count; from += slice)
        for (const path of paths) await pump(perSecond, slice, (i) => say(path, from + i));
    }
    return paths.map((path) => figures(path, count));
  } finally {
    await relay.terminate();
    for (const socket of [source, engineTarget, relayTarget]) socket.close();
    await browser?.close();
    await stage.stop();
  }
}
