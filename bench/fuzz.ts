/**
 * `npm run fuzz -- --minutes N --seed S`: packets that nobody should send, at the decoders and at the sockets of a running engine. It ends with what it
 * found: nothing may throw but what a decoder says it throws, the engine's process may not end, and no signal may wait long. Everything is on loopback.
 */
import { createSocket } from 'node:dgram';
import { connect, type Socket } from 'node:net';
import { readFileSync } from 'node:fs';
import { Worker } from 'node:worker_threads';
import fc from 'fast-check';
import { ArtNetError, decodeArtNet, encodeArtDmx } from '@tawny-signal/core/dmx/artnet';
import { decodeSacn, encodeSacn, SacnError } from '@tawny-signal/core/dmx/sacn';
import { decodeKey, KeyError } from '@tawny-signal/core/keys/key';
import { createLinkReader, LinkError } from '@tawny-signal/core/link/frames';
import { readMidiFile } from '@tawny-signal/core/midi/file';
import { createMidiParser } from '@tawny-signal/core/midi/parser';
import { createDeframer } from '@tawny-signal/core/osc/framing';
import { decodeOsc, encodeOsc, encodeOscBundle, OscError } from '@tawny-signal/core/osc/packet';
import { compilePattern, patternFault } from '@tawny-signal/core/osc/pattern';
import type { Line } from '@tawny-signal/core/show/line';
import { freePort, tryUdpPort } from '../scripts/ports.js';
import { openTestStage, type TestStage } from '../scripts/test-stage.js';

/** Numbers 0–1, always the same for the same seed (mulberry32, public domain). */
function dice(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(state ^ (state >>> 15), state | 1);
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61);
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 2 ** 32;
  };
}

interface Made {
  /** A packet that is likely to get far: a good one with some of it changed, or noise. */
  packet(): Uint8Array;
}

/** Good packets of each protocol, made by fast-check from the seed, to be spoiled. */
function maker(seed: number): Made {
  const roll = dice(seed);
  const int = (below: number): number => Math.floor(roll() * below);
  const address = fc.stringMatching(/^\/[a-z*?{},[\]/-]{0,40}$/);
  const argument = fc.oneof(
    fc.record({ type: fc.constant('f' as const), value: fc.float() }),
    fc.record({ type: fc.constant('s' as const), value: fc.string({ maxLength: 20 }) }),
    fc.record({ type: fc.constant('b' as const), value: fc.uint8Array({ maxLength: 40 }) }),
    fc.record({ type: fc.constant('T' as const) }),
  );
  const message = fc.record({
    kind: fc.constant('osc' as const),
    address,
    args: fc.array(argument, { maxLength: 5 }),
  });
  const osc = fc.sample(message, { seed, numRuns: 300 }).map(encodeOsc);
  const bundles = fc
    .sample(fc.array(message, { maxLength: 20 }), { seed, numRuns: 100 })
    .map((list) => encodeOscBundle(list));
  const levels = Uint8Array.from({ length: 512 }, () => int(256));
  const dmx = [
    encodeArtDmx(7, 1, levels),
    encodeSacn({
      cid: '00112233445566778899aabbccddeeff',
      sourceName: 'fuzz',
      priority: 100,
      sequence: 1,
      universe: 7,
      preview: false,
      terminated: false,
      startCode: 0,
      levels,
    }),
  ];
  const midi = fc.sample(fc.uint8Array({ maxLength: 200 }), { seed, numRuns: 100 });
  const good = [...osc, ...bundles, ...dmx, ...midi];

  function spoilt(): Uint8Array {
    const bytes = good[int(good.length)]!.slice();
    for (let changes = int(4); changes > 0 && bytes.length > 0; changes--)
      bytes[int(bytes.length)] = int(256);
    const cut = roll() < 0.2 ? bytes.subarray(0, int(bytes.length + 1)) : bytes;
    return cut;
  }
  function noise(): Uint8Array {
    const length = roll() < 0.001 ? 60_000 : int(300);
    const bytes = new Uint8Array(length);
    const fill = roll() < 0.3 ? int(256) : -1;
    for (let at = 0; at < length; at++) bytes[at] = fill < 0 ? int(256) : fill;
    return bytes;
  }
  return { packet: () => (roll() < 0.8 ? spoilt() : noise()) };
}

type Decoder = [name: string, decode: (bytes: Uint8Array) => void];

/** Every decoder, and the one error that it may throw. */
function decoders(): Decoder[] {
  const may =
    (decode: (bytes: Uint8Array) => unknown, allowed: new (...args: never[]) => Error) =>
    (bytes: Uint8Array): void => {
      try {
        decode(bytes);
      } catch (error) {
        if (!(error instanceof allowed)) throw error;
      }
    };
  const nothing = (): void => undefined;
  const parser = createMidiParser({ message: nothing, bad: nothing });
  const slip = createDeframer('slip', { packet: nothing, bad: nothing });
  const latin = new TextDecoder('latin1');
  return [
    ['OSC', may(decodeOsc, OscError)],
    ['Art-Net', may(decodeArtNet, ArtNetError)],
    ['sACN', may(decodeSacn, SacnError)],
    ['keys', may(decodeKey, KeyError)],
    ['MIDI', (bytes) => parser.feed(bytes)],
    ['SLIP', (bytes) => slip.feed(bytes)],
    ['length frames', (bytes) => createDeframer('length', { packet: nothing, bad: nothing }).feed(bytes)],
    ['MIDI files', (bytes) => void readMidiFile(bytes)],
    [
      'the link',
      may(
        (bytes) => createLinkReader({ message: nothing, batch: nothing, portBytes: nothing }).feed(bytes),
        LinkError,
      ),
    ],
    [
      'patterns',
      (bytes) => {
        const pattern = `/${latin.decode(bytes.subarray(0, 300))}`;
        if (patternFault(pattern) === null) compilePattern(pattern)('/sky/hue/of/the/fog');
      },
    ],
  ];
}

export interface DecoderFigures {
  packets: number;
  /** What threw what it may not, with the packet in hexadecimal. */
  faults: string[];
  worstMs: number;
  slowest: string;
}

export function fuzzDecoders(seed: number, ms: number): DecoderFigures {
  const { packet } = maker(seed);
  const all = decoders();
  const figures: DecoderFigures = { packets: 0, faults: [], worstMs: 0, slowest: '' };
  const end = performance.now() + ms;
  for (let now = performance.now(); now < end;) {
    const bytes = packet();
    for (const [name, decode] of all) {
      const from = now;
      try {
        decode(bytes);
      } catch (error) {
        const hex = Buffer.from(bytes.subarray(0, 64)).toString('hex');
        if (figures.faults.length < 20) figures.faults.push(`${name}: ${String(error)} at ${hex}`);
      }
      figures.packets++;
      now = performance.now();
      if (now - from <= figures.worstMs) continue;
      figures.worstMs = now - from;
      figures.slowest = name;
    }
  }
  return figures;
}

export interface LiveFigures {
  packets: number;
  /** How often the engine's process ended. */
  stops: number;
  /** The longest that a calm line had to wait for its own signal, in ms. */
  worstMs: number;
  medianMs: number;
  /** Of the engine's memory: at a tenth of the time, and at the end, in MB. */
  memoryMb: [number, number];
}

const memoryMb = (pid: number): number =>
  Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0) / 1024;

async function post<T>(stage: TestStage, path: string, body: unknown): Promise<T> {
  const response = await fetch(`${stage.address}api/${path}`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(body),
  });
  if (!response.ok) throw new Error(`${path}: ${await response.text()}`);
  return (await response.json()) as T;
}

/** The calm line, in a thread of its own: asks the engine again and again, and says how long each answer took. */
const CALM = `
const { parentPort, workerData: { port, from, everyMs } } = require('node:worker_threads');
const far = require('node:dgram').createSocket('udp4');
const near = require('node:dgram').createSocket('udp4');
const sentAt = new Map();
let waits = null, count = 0;
far.on('message', (bytes) => {
  const found = /^\\/calm\\/(\\d+)/.exec(bytes.toString('latin1'));
  if (!found) return;
  if (waits) waits.push(performance.now() - sentAt.get(found[1]));
  else { waits = []; parentPort.postMessage('passes'); }
});
const ask = () => {
  const name = String(count++);
  sentAt.set(name, performance.now());
  const address = '/' + name + '\\0'.repeat(4 - ((name.length + 1) % 4));
  near.send(Buffer.from(address + ',\\0\\0\\0', 'latin1'), port, '127.0.0.1');
};
far.bind(from, '127.0.0.1', () => setInterval(ask, everyMs));
parentPort.on('message', () => setTimeout(() => { parentPort.postMessage(waits); process.exit(0); }, 1000));
`;

/** Packets that are sent together before others have their turn. */
const AT_ONCE = 40;
const CALM_MS = 20;

export async function fuzzLive(seed: number, ms: number): Promise<LiveFigures> {
  const stage = await openTestStage();
  const far = createSocket('udp4');
  const near = createSocket('udp4');
  try {
    await new Promise<void>((done) => far.bind(0, '127.0.0.1', done));
    const ports = { osc: (await tryUdpPort(0))!, calm: (await tryUdpPort(0))!, sacn: (await tryUdpPort(0))! };
    const tcp = await freePort();
    const target = { host: '127.0.0.1', port: far.address().port };
    const lines: Line[] = [];
    for (const line of [
      { kind: 'osc-udp', name: 'Fuzzed OSC', ...target, listenPort: ports.osc },
      { kind: 'osc-udp', name: 'Calm', ...target, listenPort: ports.calm },
      { kind: 'osc-tcp', name: 'Fuzzed TCP', ...target, framing: 'slip', listenPort: tcp },
      { kind: 'sacn', name: 'Fuzzed sACN', host: null, port: 5568, universe: 7, listenPort: ports.sacn },
    ])
      lines.push(await post<Line>(stage, 'lines', line));
    const calm = lines[1]!.id;
    const route = { carries: 'osc', fromId: calm, toId: calm, prefix: '/', newPrefix: '/calm', ring: true };
    await post(stage, 'routes', route);

    const pid = stage.engine.pid()!;
    const { packet } = maker(seed);
    const calmLine = new Worker(CALM, {
      eval: true,
      workerData: { port: ports.calm, from: far.address().port, everyMs: CALM_MS },
    });
    far.close();
    await new Promise((done) => calmLine.once('message', done));
    const connected = (): Socket => {
      const made = connect(tcp, '127.0.0.1');
      // What is no OSC is closed on: then there is another one.
      return made.on('error', () => undefined);
    };
    let stream = connected();
    let packets = 0;
    const end = performance.now() + ms;
    const early = performance.now() + ms / 10;
    let first = 0;
    for (let now = performance.now(); now < end; now = performance.now()) {
      if (first === 0 && now > early) first = memoryMb(pid);
      for (let at = 0; at < AT_ONCE; at++) {
        const bytes = packet();
        packets++;
        if (packets % 4 === 0) near.send(bytes, ports.sacn, '127.0.0.1');
        else if (packets % 4 === 1 && !stream.destroyed && stream.writableLength < 1 << 20)
          stream.write(bytes);
        else near.send(bytes, ports.osc, '127.0.0.1');
      }
      if (stream.destroyed) stream = connected();
      await new Promise((done) => setImmediate(done));
    }
    stream.destroy();
    calmLine.postMessage('stop');
    const waits = await new Promise<number[]>((done) => calmLine.once('message', done));
    waits.sort((x, y) => x - y);
    return {
      packets,
      stops: stage.engine.pid() === pid ? 0 : 1,
      worstMs: waits.at(-1) ?? Infinity,
      medianMs: waits[Math.floor(waits.length / 2)] ?? Infinity,
      memoryMb: [first, stage.engine.pid() === pid ? memoryMb(pid) : 0],
    };
  } finally {
    near.close();
    await stage.stop();
  }
}
