/**
 * (b) UDP in -> engine -> UDP out, against a bare relay of the same shape in the same run, at 2,000 messages a second,
 * with the interface open on Traffic. Packets of the two go alternately, so that both meet the same moments.
 */
import { createSocket, type Socket } from 'node:dgram';
import { Worker } from 'node:worker_threads';
import type { Line } from '@tawny-signal/core/show/line';
import type { Mapping } from '@tawny-signal/core/show/mapping';
import { decodeOsc, encodeOsc } from '@tawny-signal/core/osc/packet';
import { openBrowser } from '../e2e/browser.js';
import { tryUdpPort } from '../scripts/ports.js';
import { openTestStage, until } from '../scripts/test-stage.js';

export interface TripFigures {
  path: string;
  sent: number;
  arrived: number;
  medianUs: number;
  p99Us: number;
}

const PER_SECOND = 2000;
const SECONDS = 10;
/** Packets in a burst: timers are no finer than a millisecond. */
const BURST = 2;

/** What packets hold that only warm up; the measured ones count from 1. */
const WARMING = 0;

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

async function post<T>(address: string, path: string, body: unknown): Promise<T> {
  const init = {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(body),
  };
  const response = await fetch(`${address}api/${path}`, init);
  if (!response.ok) throw new Error(`${path}: ${await response.text()}`);
  return (await response.json()) as T;
}

function figures({ name, us }: Path, sent: number): TripFigures {
  const sorted = [...us].sort((a, b) => a - b);
  const at = (part: number): number => sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * part))]!;
  return { path: name, sent, arrived: us.length, medianUs: at(0.5), p99Us: at(0.99) };
}

export async function benchRoundTrip(): Promise<TripFigures[]> {
  const stage = await openTestStage();
  const browser = await openBrowser();
  const source = await bound();
  const engineTarget = await bound();
  const relayTarget = await bound();
  const relay = new Worker(new URL('./relay.mjs', import.meta.url), {
    workerData: { target: relayTarget.address().port },
  });
  try {
    const relayPort = await new Promise<number>((done) => relay.once('message', done));
    const listenPort = (await tryUdpPort(0))!;
    const line = await post<Line>(stage.address, 'lines', {
      kind: 'osc-udp',
      name: 'Bench',
      host: '127.0.0.1',
      port: engineTarget.address().port,
      listenPort,
    });
    await post<Mapping>(stage.address, 'mappings', {
      hear: { message: 'osc', lineId: line.id, address: '/bench/in' },
      shape: { from: 'value', in: [0, 1_000_000], out: [0, 1_000_000], curve: 'straight' },
      send: { kind: 'osc', lineId: line.id, address: '/bench/ut', args: [{ type: 'i', value: 'shaped' }] },
    });
    await browser.driver.get(`${stage.address}traffic`);

    const count = (PER_SECOND * SECONDS) / 2;
    const paths: Path[] = [
      { name: 'bare relay', port: relayPort, sentAt: new Float64Array(count), us: [] },
      { name: 'engine', port: listenPort, sentAt: new Float64Array(count), us: [] },
    ];
    const [relayed, engined] = paths as [Path, Path];
    const note =
      (path: Path) =>
      (bytes: Buffer): void => {
        const now = performance.now();
        const arg = decodeOsc(bytes)[0]?.signal.args[0];
        if (arg?.type !== 'i' || arg.value === WARMING) return;
        path.us.push((now - path.sentAt[arg.value - 1]!) * 1000);
      };
    relayTarget.on('message', note(relayed));
    engineTarget.on('message', note(engined));

    const say = (path: Path, i: number): void => {
      const packet = encodeOsc({ kind: 'osc', address: '/bench/in', args: [{ type: 'i', value: i + 1 }] });
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

    await new Promise<void>((done) => {
      let next = 0;
      const from = performance.now();
      const timer = setInterval(() => {
        const due = Math.min(count, Math.floor(((performance.now() - from) / 1000) * (PER_SECOND / 2)));
        for (let burst = 0; next < due && burst < BURST * 4; next++, burst++) {
          const order = next % 2 === 0 ? paths : paths.toReversed();
          for (const path of order) say(path, next);
        }
        if (next < count) return;
        clearInterval(timer);
        setTimeout(done, 500);
      }, 1);
    });
    return paths.map((path) => figures(path, count));
  } finally {
    await relay.terminate();
    for (const socket of [source, engineTarget, relayTarget]) socket.close();
    await browser.close();
    await stage.stop();
  }
}
