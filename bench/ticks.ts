/**
 * (t) How late what leaves on time does leave: MIDI clock at 120 beats a minute and MIDI timecode at 30 frames a second from the engine, against a bare
 * timer that is set to the same instants, in turns in one run; idle, and with 5,000 OSC packets a second that the same thread reads from a socket.
 */
import { createSocket, type Socket } from 'node:dgram';
import { Worker } from 'node:worker_threads';
import { createEngine } from '@tawny-signal/core/engine';
import { decodeOsc } from '@tawny-signal/core/osc/packet';
import { emptyShow, type Show } from '@tawny-signal/core/show';
import { makeLine } from '@tawny-signal/core/show/line';
import { timeOutputSchema } from '@tawny-signal/core/time/ways';
import { createWaker } from '../engine/waker.js';

export interface TickFigures {
  when: 'idle' | 'with 5,000 packets a second';
  way: 'a bare timer' | 'the engine';
  ticks: number;
  /** How far from its instant, early or late, in ms. A timer of Node also fires early. */
  median: number;
  p99: number;
  /** Of a core. */
  share: number;
}

const ROUND_MS = 2000;
const ROUNDS = 3;
/** 24 clocks for each of two beats a second, and four quarters for each of 30 frames. */
const EACH_MS = [1000 / 48, 1000 / 120];
const PER_SECOND = 5000;

function showOf(): Show {
  const show = emptyShow('The Lantern Pier');
  const midi = (id: string) => makeLine({ id, kind: 'midi-inside', name: id, port: id });
  const output = (kind: 'mtc' | 'clock') =>
    timeOutputSchema.parse({ id: kind, kind, lineId: 'bells', frameRate: '30' });
  return { ...show, lines: [midi('bells')], timeOutputs: [output('mtc'), output('clock')] };
}

/** Notes how far from its instant each tick of the engine leaves. Its clock is that of the process, so that due instants are known. */
function runEngine(late: number[], engine: ReturnType<typeof createEngine>): Promise<void> {
  const began = performance.now();
  return new Promise((done) => {
    const waker = createWaker(
      () => engine.wakeAt(),
      () => {
        const due = engine.wakeAt();
        const now = performance.now();
        const { count } = engine.take({ t: 'wake' }, now);
        for (let at = 0; at < count; at++) late.push(Math.abs(now - due));
        if (now - began < ROUND_MS) return waker.plan();
        waker.stop();
        done();
      },
    );
    waker.plan();
  });
}

/** The same instants by `setTimeout`, each set from the one before. */
function runTimer(late: number[]): Promise<void> {
  const began = performance.now();
  const one = (everyMs: number): Promise<void> =>
    new Promise((done) => {
      let n = 1;
      const next = (): void => {
        const due = began + n * everyMs;
        setTimeout(
          () => {
            const now = performance.now();
            late.push(Math.abs(now - due));
            n++;
            if (now - began < ROUND_MS) next();
            else done();
          },
          Math.max(0, due - performance.now()),
        );
      };
      next();
    });
  return Promise.all(EACH_MS.map(one)).then(() => undefined);
}

const SENDER = `
  const { parentPort, workerData } = require('node:worker_threads');
  const { createSocket } = require('node:dgram');
  const socket = createSocket('udp4');
  const packet = Buffer.from(workerData.packet);
  const began = performance.now();
  let sent = 0;
  const timer = setInterval(() => {
    const due = Math.min(((performance.now() - began) * workerData.perSecond) / 1000, sent + 40);
    while (sent < due) { socket.send(packet, workerData.port, '127.0.0.1'); sent++; }
  }, 1);
  parentPort.on('message', () => { clearInterval(timer); socket.close(); process.exit(0); });
`;

const bound = (): Promise<Socket> =>
  new Promise((done) => {
    const socket = createSocket({ type: 'udp4', recvBufferSize: 1 << 21 });
    socket.bind(0, '127.0.0.1', () => done(socket));
  });

export async function benchTicks(): Promise<TickFigures[]> {
  const engine = createEngine();
  const now = performance.now();
  engine.take({ t: 'show', show: showOf(), lineIndex: new Map([['bells', 0]]) }, now);
  engine.take({ t: 'position', act: { do: 'playFrom', ms: 0 } }, now);
  const figures: TickFigures[] = [];
  for (const when of ['idle', 'with 5,000 packets a second'] as const) {
    const socket = await bound();
    // An OSC message of the size of a fader's.
    const packet = Buffer.from('/fog/density\0\0\0\0,f\0\0\x3f\0\0\0', 'latin1');
    socket.on('message', (bytes) => {
      for (const { signal } of decodeOsc(bytes))
        engine.take({ t: 'heard', line: 0, signal }, performance.now());
    });
    const worker =
      when === 'idle'
        ? null
        : new Worker(SENDER, {
            eval: true,
            workerData: { port: socket.address().port, perSecond: PER_SECOND, packet: [...packet] },
          });
    const late: Record<TickFigures['way'], number[]> = { 'a bare timer': [], 'the engine': [] };
    const shares: Record<TickFigures['way'], number> = { 'a bare timer': 0, 'the engine': 0 };
    for (let round = 0; round < ROUNDS; round++)
      for (const way of ['a bare timer', 'the engine'] as const) {
        const before = process.cpuUsage();
        const from = performance.now();
        await (way === 'the engine' ? runEngine(late[way], engine) : runTimer(late[way]));
        const { user, system } = process.cpuUsage(before);
        shares[way] += (user + system) / 1000 / (performance.now() - from) / ROUNDS;
      }
    worker?.postMessage('end');
    socket.close();
    for (const way of ['a bare timer', 'the engine'] as const) {
      const sorted = late[way].sort((a, b) => a - b);
      const part = (share: number): number => sorted[Math.floor(sorted.length * share)]!;
      figures.push({
        when,
        way,
        ticks: sorted.length,
        median: part(0.5),
        p99: part(0.99),
        share: shares[way],
      });
    }
  }
  return figures;
}
