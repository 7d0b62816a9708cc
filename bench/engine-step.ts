/**
 * (a) Mapped messages a second through `engine.step`, with 10, 1,000 and 10,000 mappings in the show; beside a bare loop that does the same work,
 * and with what is allocated on the way.
 */
import { Session } from 'node:inspector/promises';
import { createEngine, type Engine } from '@tawny-signal/core/engine';
import type { InputOf } from '@tawny-signal/core/engine/input';
import { newMapping } from '@tawny-signal/core/mapping/defaults';
import { encodeOscInto } from '@tawny-signal/core/osc/packet';
import type { ChannelSignal, OscSignal } from '@tawny-signal/core/signal';
import { emptyShow, type Show } from '@tawny-signal/core/show';
import type { Mapping } from '@tawny-signal/core/show/mapping';

const PADS = 0;
const LINES = new Map([
  ['pads', PADS],
  ['water', 1],
]);

/** Each mapping has its own control: by channel, then note, then controller. After 4,096 they share controls. */
function mappingFor(at: number): Mapping {
  const channel = at % 16;
  const number = Math.floor(at / 16) % 128;
  const message = Math.floor(at / 2048) % 2 === 0 ? 'pressed' : 'control';
  const hear = {
    message,
    lineId: 'pads',
    channels: [channel, channel] as [number, number],
    numbers: [number, number] as [number, number],
    values: 'any',
  } as const;
  const made = newMapping(`m${at}`, hear, 'water');
  return { ...made, sends: [{ ...made.sends[0], address: `/deck/${at}` }] };
}

/** The number of measured mappings. Each signal matches exactly one mapping in every show. */
const HIT = 10;

function showOf(count: number): Show {
  const mappings = Array.from({ length: count }, (_, at) => {
    const mapping = mappingFor(at);
    if (at < HIT || at < 4096) return mapping;
    // Controls that are already used are heard on other lines, as in a large show.
    return { ...mapping, hear: { ...mapping.hear, lineId: `line ${Math.floor(at / 4096)}` } };
  });
  return { ...emptyShow('Bench'), mappings };
}

/** @returns the engine, the time to compile its show, and the time to compile one edited row */
function loaded(count: number): { engine: Engine; loadMs: number; editMs: number } {
  const engine = createEngine();
  const lines = new Map([...LINES, ['line 1', 2], ['line 2', 3]] as [string, number][]);
  const show = showOf(count);
  const timed = (act: () => void): number => {
    const from = performance.now();
    act();
    return performance.now() - from;
  };
  const loadMs = timed(() => engine.take({ t: 'show', show, lineIndex: lines }, 0));
  const edits = Array.from({ length: 15 }, () => {
    const last = show.mappings.length - 1;
    const row = { ...show.mappings[last]!, name: 'Edited' };
    return timed(() => engine.take({ t: 'mapping', row, order: last }, 0));
  });
  return { engine, loadMs, editMs: median(edits) };
}

/** Sends the signals of the first ten mappings in turn. Each is a new object, as from a decoder. */
function run(engine: Engine, messages: number, encode: boolean): number {
  const buffer = new Uint8Array(65_536);
  const view = new DataView(buffer.buffer);
  /** Used again for each signal, as the switchboard does. */
  const heard: InputOf<'heard'> = { t: 'heard', line: PADS, signal: { kind: 'slot', slot: 1, level: 0 } };
  let sent = 0;
  const from = performance.now();
  for (let i = 0; i < messages; i++) {
    const signal: ChannelSignal = { kind: 'noteOn', channel: i % HIT, number: 0, value: 1 + (i % 127) };
    heard.signal = signal;
    const outs = engine.take(heard, i);
    for (let at = 0; at < outs.count; at++) {
      if (encode) encodeOscInto(outs.signal[at] as OscSignal, buffer, view, 0);
      sent++;
    }
    if (i % 4096 === 0) engine.drainFired();
  }
  const ms = performance.now() - from;
  if (sent !== messages) throw new Error(`${sent} sent of ${messages}: the bench measures something else`);
  return ms;
}

/** A bare loop of the same work: finds the rows of a line, kind, channel and number, scales the value, and writes one output into a place that exists. */
function createBare(): (messages: number) => number {
  const KINDS: Record<string, number> = { noteOff: 0, noteOn: 1, controlChange: 3 };
  const rowFor = (at: number) => ({
    line: 1,
    in: [0, 127] as const,
    out: [0, 1] as const,
    signal: { kind: 'osc', address: `/deck/${at}`, args: [{ type: 'f', value: 0 }] },
  });
  const cells: ReturnType<typeof rowFor>[][][] = [];
  const group: ReturnType<typeof rowFor>[][] = (cells[PADS * 7 + 1] = []);
  for (let at = 0; at < HIT; at++) group[at << 7] = [rowFor(at)];
  const outs = { count: 0, line: [0], signal: [rowFor(0).signal] };
  return (messages) => {
    const from = performance.now();
    for (let i = 0; i < messages; i++) {
      const signal: ChannelSignal = { kind: 'noteOn', channel: i % HIT, number: 0, value: 1 + (i % 127) };
      outs.count = 0;
      const rows = cells[PADS * 7 + KINDS[signal.kind]!]![(signal.channel << 7) | signal.number]!;
      for (const row of rows) {
        const place = Math.min(1, Math.max(0, (signal.value - row.in[0]) / (row.in[1] - row.in[0])));
        row.signal.args[0]!.value = row.out[0] + place * (row.out[1] - row.out[0]);
        outs.line[outs.count] = row.line;
        outs.signal[outs.count++] = row.signal;
      }
      if (outs.count !== 1) throw new Error('The bare loop found no row.');
    }
    return performance.now() - from;
  };
}

/** Measures the engine as a multiple of the bare loop, in turns. In a show there is one engine in a process, so this runs before others are created. */
function besideBare(rounds: number, messages: number): number {
  const bare = createBare();
  const { engine } = loaded(HIT);
  const times: [number[], number[]] = [[], []];
  for (let round = 0; round < rounds; round++) {
    times[0].push(run(engine, messages, false));
    times[1].push(bare(messages));
  }
  return median(times[0]) / median(times[1]);
}

interface Sampled {
  selfSize: number;
  callFrame: { functionName: string; url: string };
  children: Sampled[];
}

/** @returns bytes that are allocated for one message in the files of core, by V8's sampling profile, collected objects included; and where most are */
async function allocated(engine: Engine): Promise<{ bytes: number; most: string }> {
  const messages = 1_000_000;
  const signals = Array.from({ length: 1270 }, (_, i): ChannelSignal => ({
    kind: 'noteOn',
    channel: i % HIT,
    number: 0,
    value: 1 + (i % 127),
  }));
  const heard: InputOf<'heard'> = { t: 'heard', line: PADS, signal: signals[0]! };
  const session = new Session();
  session.connect();
  const options = {
    samplingInterval: 4096,
    includeObjectsCollectedByMajorGC: true,
    includeObjectsCollectedByMinorGC: true,
  };
  await session.post('HeapProfiler.startSampling', options);
  for (let i = 0; i < messages; i++) {
    heard.signal = signals[i % signals.length]!;
    engine.take(heard, i + 0.5);
  }
  const { profile } = await session.post('HeapProfiler.stopSampling');
  session.disconnect();
  let bytes = 0;
  let most: Sampled | null = null;
  const add = (node: Sampled): void => {
    if (node.callFrame.url.includes('/core/')) {
      bytes += node.selfSize;
      if (!most || node.selfSize > most.selfSize) most = node;
    }
    node.children.forEach(add);
  };
  add(profile.head as Sampled);
  const { functionName, url } = (most as Sampled | null)?.callFrame ?? { functionName: 'nothing', url: '' };
  return { bytes: bytes / messages, most: `${functionName} in ${url.split('/').slice(-2).join('/')}` };
}

export interface StepFigures {
  mappings: number;
  /** In the median round. */
  perSecond: number;
  /** In the fastest round, when the machine does nothing else. */
  best: number;
  withEncoding: number;
  loadMs: number;
  editMs: number;
}

const median = (list: number[]): number => [...list].sort((a, b) => a - b)[Math.floor(list.length / 2)]!;

/** Rounds alternate between the sizes, so that other work of the machine affects all of them equally. */
export async function benchEngineStep(): Promise<{
  steps: StepFigures[];
  /** The cost of the engine as a multiple of the bare loop. */
  toBare: number;
  allocated: { bytes: number; most: string };
}> {
  const sizes = [10, 1000, 10_000];
  const rounds = 40;
  const messages = 100_000;
  const toBare = besideBare(rounds, messages);
  const engines = sizes.map((count) => loaded(count));
  const plain = sizes.map((): number[] => []);
  const encoded = sizes.map((): number[] => []);
  for (const { engine } of engines) run(engine, messages, true);
  for (let round = 0; round < rounds; round++) {
    for (let turn = 0; turn < sizes.length; turn++) {
      const at = (round + turn) % sizes.length;
      plain[at]!.push(run(engines[at]!.engine, messages, false));
      encoded[at]!.push(run(engines[at]!.engine, messages, true));
    }
  }
  const steps = sizes.map((mappings, at) => ({
    mappings,
    perSecond: (messages / median(plain[at]!)) * 1000,
    best: (messages / Math.min(...plain[at]!)) * 1000,
    withEncoding: (messages / median(encoded[at]!)) * 1000,
    loadMs: engines[at]!.loadMs,
    editMs: engines[at]!.editMs,
  }));
  return {
    steps,
    toBare,
    allocated: await allocated(engines[0]!.engine),
  };
}
