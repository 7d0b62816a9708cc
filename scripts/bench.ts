/** `npm run bench`, as its `--help` says. A table at the end has the figures, with their goals and the values that were kept last. */
import { chmodSync, mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { benchEditing } from '../bench/editing.js';
import { benchEngineStep } from '../bench/engine-step.js';
import { killDatabase, killEngine, killServer } from '../bench/kills.js';
import { benchFades, benchFadesRunning, benchMoment } from '../bench/moments.js';
import { commitNow, createResults, resultsFile } from '../bench/results.js';
import { benchCrowd } from '../bench/crowd.js';
import { benchGuesses } from '../bench/guesses.js';
import { benchCarried } from '../bench/carried.js';
import { benchRoundTrip, type Trip, type TripFigures } from '../bench/round-trip.js';
import { benchPresses } from '../bench/presses.js';
import { benchSheet } from '../bench/sheet.js';
import { benchStepKinds } from '../bench/step-kinds.js';
import { benchLargeShow } from '../bench/large-show.js';
import { benchLtc } from '../bench/ltc.js';
import { benchTicks } from '../bench/ticks.js';
import { benchManyBrowsers } from '../bench/many-browsers.js';
import { benchMotionKills } from '../bench/motion-kills.js';
import { benchMotions } from '../bench/motions.js';
import { benchNetworkMidi } from '../bench/network-midi.js';
import { benchTimeCost } from '../bench/time-cost.js';
import { benchTrafficPage } from '../bench/traffic-page.js';
import { benchWaits } from '../bench/waits.js';
import { buildAll, ROOT } from './build.js';
import { startCluster } from './postgres.js';
import { fail } from './state-folder.js';
import { DATABASES } from './test-stage.js';

const results = createResults(resultsFile(ROOT));

async function engineStep(): Promise<void> {
  const { steps, toBare, allocated } = await benchEngineStep();
  const [first] = steps;
  results.add('a engine.step with 10000 mappings to 10', first!.perSecond / steps.at(-1)!.perSecond, 1.05);
  results.add('a engine.step to a bare loop', toBare, 4);
  results.add('a bytes allocated a message', allocated.bytes, 0);
  console.log('(a) engine.step, mapped messages a second on one core');
  for (const { mappings, perSecond, best, withEncoding, loadMs, editMs } of steps) {
    const times = (ours: number, theirs: number): string => (theirs / ours).toFixed(2);
    console.log(
      `    ${String(mappings).padStart(6)} mappings: ${(perSecond / 1e6).toFixed(2)} million/s, ` +
        `${times(perSecond, first!.perSecond)} times the cost with 10 (fastest rounds: ${(best / 1e6).toFixed(2)}, ${times(best, first!.best)}); ` +
        `with OSC encoding ${(withEncoding / 1e6).toFixed(2)} million/s; ` +
        `compiled in ${loadMs.toFixed(1)} ms, after one edit in ${editMs.toFixed(2)} ms`,
    );
  }
  console.log(
    `    ${toBare.toFixed(2)} times a bare loop; ${allocated.bytes.toFixed(1)} bytes are allocated for a message, most of them by ${allocated.most}`,
  );
}

/** The goals for the ratios of the engine to a bare relay, at the median and the 99th percentile. */
interface TripGoals {
  name: string;
  median: number;
  p99: number;
}

async function trip(words: string, of: Trip, goals: TripGoals): Promise<void> {
  const figures = await benchRoundTrip(of);
  sayTrip(words, figures);
  const [relay, engine] = figures;
  results.add(`${goals.name} median to relay`, engine!.medianUs / relay!.medianUs, goals.median);
  results.add(`${goals.name} p99 to relay`, engine!.p99Us / relay!.p99Us, goals.p99);
}

function sayTrip(words: string, [relay, engine]: TripFigures[]): void {
  console.log(words);
  for (const { path, sent, arrived, medianUs, p99Us } of [relay!, engine!]) {
    console.log(
      `    ${path.padEnd(10)}: ${arrived} of ${sent} arrived, median ${medianUs.toFixed(0)} µs, p99 ${p99Us.toFixed(0)} µs`,
    );
  }
  console.log(
    `    ratio     : median ${(engine!.medianUs / relay!.medianUs).toFixed(2)}, p99 ${(engine!.p99Us / relay!.p99Us).toFixed(2)}`,
  );
}

const mappingTrip = (): Promise<void> =>
  trip(
    '(b) UDP in -> mapping -> UDP out, 1,000 messages a second each way, Traffic open',
    {
      through: 'mapping',
      perSecond: 1000,
      seconds: 10,
      turns: 'packets',
      watched: true,
    },
    { name: 'b mapping at 1000/s', median: 1.1, p99: 1.3 },
  );

const carried = async (): Promise<void> =>
  sayTrip(
    '(l) MIDI of a browser -> mapping -> UDP out, 200 messages a second each way',
    await benchCarried(10),
  );

async function trafficPage(): Promise<void> {
  const { figures, sent, noted } = await benchTrafficPage(60);
  console.log(`(c) Traffic open at 5,000 messages a second in: ${sent} sent, ${noted} counted by the line`);
  for (const { when, frames, medianMs, p99Ms, worstMs, heapMb } of figures) {
    console.log(
      `    ${when.padEnd(10)}: ${frames} frames, median ${medianMs.toFixed(1)} ms, p99 ${p99Ms.toFixed(1)} ms, ` +
        `worst ${worstMs.toFixed(0)} ms; heap ${heapMb.toFixed(0)} MB`,
    );
  }
}

const routeTrip = (): Promise<void> =>
  trip(
    '(d) UDP in -> route -> UDP out, 20,000 messages a second for 10 s, in turns with the relay',
    {
      through: 'route',
      perSecond: 20_000,
      seconds: 10,
      turns: 'halfSeconds',
      watched: false,
    },
    { name: 'd route at 20000/s', median: 1.1, p99: 1.5 },
  );

function stepKinds(): void {
  console.log('(e) engine.step by kind of mapping: ten alone, and the same ten among 10,000 of mixed kinds');
  const kinds = benchStepKinds();
  results.add(
    'e worst kind among 10000 to alone',
    Math.max(...kinds.map(({ aloneNs, amongNs }) => amongNs / aloneNs)),
    1.05,
  );
  for (const { kind, aloneNs, amongNs, bestRatio } of kinds) {
    console.log(
      `    ${kind.padEnd(32)}: ${aloneNs.toFixed(0)} ns alone, ${amongNs.toFixed(0)} ns among, ` +
        `${(amongNs / aloneNs).toFixed(2)} times (fastest rounds ${bestRatio.toFixed(2)})`,
    );
  }
}

async function editing(): Promise<void> {
  console.log('(f) 1,000 signals a second through a show, at rest and while it is edited');
  for (const mappings of [100, 10_000])
    for (const { when, sent, arrived, edits, medianUs, p99Us, worstUs } of await benchEditing(mappings)) {
      console.log(
        `    ${String(mappings).padStart(6)} mappings, ${when.padEnd(12)}: ${arrived} of ${sent} arrived, ${edits} edits; median ${medianUs.toFixed(0)} µs, ` +
          `p99 ${p99Us.toFixed(0)} µs, worst ${worstUs.toFixed(0)} µs`,
      );
    }
}

async function sheet(): Promise<void> {
  console.log('(g) the sheet with 1,000 mappings');
  for (const { what, frames, medianMs, p99Ms, worstMs } of await benchSheet()) {
    console.log(
      `    ${what.padEnd(10)}: ${frames} frames, median ${medianMs.toFixed(1)} ms, p99 ${p99Ms.toFixed(1)} ms, worst ${worstMs.toFixed(0)} ms`,
    );
  }
}

async function moments(): Promise<void> {
  const { firstMs, lastMs, spreadMs, worstSpreadMs, arrived, sent } = await benchMoment();
  console.log('(h) a moment with 200 sends, and fades');
  console.log(
    `    after Go: the first arrives in ${firstMs.toFixed(2)} ms, the last in ${lastMs.toFixed(2)} ms; first to last ` +
      `${spreadMs.toFixed(2)} ms by median, ${worstSpreadMs.toFixed(2)} ms at worst; ${arrived} of ${sent} arrived`,
  );
  const { universes, slots, share, messages } = benchFades();
  console.log(
    `    ${universes} universes, ${slots} slots fading at once: ${(share * 100).toFixed(1)} % of one core in the engine (${messages} levels)`,
  );
  const running = await benchFadesRunning();
  console.log(
    `    the same in the running engine, with frames, sockets and traffic: ${(running.engineShare * 100).toFixed(0)} % of one core, and ` +
      `${(running.serverShare * 100).toFixed(0)} % in the web server; ${running.framesPerSecond.toFixed(1)} frames a second of each universe`,
  );
}

const median = (list: readonly number[]): number =>
  list.toSorted((a, b) => a - b)[Math.floor(list.length / 2)] ?? 0;
const spread = (list: readonly number[]): string =>
  `median ${median(list).toFixed(0)}, worst ${Math.max(0, ...list).toFixed(0)} ms`;

async function kills(): Promise<void> {
  console.log('(k) each part killed 20 times, with 200 signals a second through the engine');
  // This cluster waits for its disk, like the one of npm start, so that it keeps everything that it has acknowledged.
  const own = join(temporary, 'careful');
  mkdirSync(own, { mode: 0o711 });
  const careful = await startCluster(own);
  const others = process.env[DATABASES];
  process.env[DATABASES] = careful.ownerUrl('DATABASE');
  const benches = [() => killDatabase(() => careful.pid()), killServer, killEngine];
  for (const bench of benches) {
    const { what, sent, lost, gaps, acknowledged, there, refusedButThere, releasedMs, hanging, up } =
      await bench();
    console.log(`    ${what}: ${lost} of ${sent} signals lost; nothing arrived for ${spread(gaps)}`);
    results.add(`k ${what} longest gap ms`, Math.max(0, ...gaps), bench === killEngine ? 500 : 100);
    if (acknowledged !== undefined)
      console.log(
        `        ${acknowledged} edits acknowledged, ${there} of them there; ${refusedButThere} there that were refused`,
      );
    if (releasedMs)
      console.log(
        `        what was held was released after ${spread(releasedMs)}; ${hanging} times it hung; of ${2 * gaps.length} levels that a pad held up, ${up} stayed up`,
      );
  }
  process.env[DATABASES] = others;
  await careful.stop();
}

async function ticks(): Promise<void> {
  console.log(
    '(t) MIDI clock at 120 and MIDI timecode at 30: how far each tick is from its instant, in turns with a bare timer',
  );
  const figures = await benchTicks();
  for (const { when, way, ticks: count, median, p99, share } of figures)
    console.log(
      `    ${when.padEnd(28)} ${way.padEnd(13)}: ${count} ticks, median ${median.toFixed(3)} ms, p99 ${p99.toFixed(3)} ms; ${(share * 100).toFixed(1)} % of a core`,
    );
  for (const when of ['idle', 'with 5,000 packets a second'] as const) {
    const of = (way: string) => figures.find((one) => one.when === when && one.way === way)!;
    const [timer, engine] = [of('a bare timer'), of('the engine')];
    results.add(`t ticks median to a timer ${when.replace(',', '')}`, engine.median / timer.median, 1);
    results.add(`t ticks p99 to a timer ${when.replace(',', '')}`, engine.p99 / timer.p99, 1);
  }
}

function ltc(): void {
  const { madeTimes, readTimes, frames, wanted, lockFrames } = benchLtc();
  console.log(
    `(u) linear timecode at 48 kHz: made ${madeTimes.toFixed(0)} times, read ${readTimes.toFixed(0)} times faster than it sounds; ` +
      `${frames} of ${wanted} frames were read; MIDI timecode is locked after ${lockFrames} frames`,
  );
  // The goal of at least 300 times, as the time that one second takes.
  results.add('u ms to make a second of linear timecode', 1000 / madeTimes, 1000 / 300);
  results.add('u ms to read a second of linear timecode', 1000 / readTimes, 1000 / 300);
}

function timeCost(): void {
  const { without, standing, following, quarter, clock, marked } = benchTimeCost();
  const us = (value: number): string => `${value.toFixed(3)} µs`;
  console.log(
    `(v) a controller’s message: ${us(without)} without rows of time, ${us(standing)} with eight, ${us(following)} while timecode is followed; ` +
      `a quarter frame that is followed ${us(quarter)}, with 500 tempo marks ${us(marked)}, a clock ${us(clock)}`,
  );
  results.add('v message with eight rows of time to none', standing / without, 1.2);
  results.add('v message while timecode is followed to none', following / without, 1.2);
}

async function waits(): Promise<void> {
  console.log('(w) how late what is planned is done, 80 times a second');
  const waited = await benchWaits();
  results.add('w p90 of the waker to that of a timer', waited[1]!.p90 / waited[0]!.p90, 1);
  for (const { way, median: middle, p90, p99, share } of waited)
    console.log(
      `    ${way.padEnd(10)}: median ${middle.toFixed(3)} ms, p90 ${p90.toFixed(3)} ms, p99 ${p99.toFixed(2)} ms; ${(share * 100).toFixed(1)} % of one core`,
    );
}

const BENCHES: Record<string, () => void | Promise<void>> = {
  a: engineStep,
  e: stepKinds,
  b: mappingTrip,
  d: routeTrip,
  f: editing,
  g: sheet,
  h: moments,
  c: trafficPage,
  k: kills,
  l: carried,
  m: () => benchManyBrowsers(results),
  n: () => benchPresses(results),
  o: () => benchCrowd(results),
  p: () => benchLargeShow(results),
  q: () => benchGuesses(results),
  t: ticks,
  u: ltc,
  v: timeCost,
  w: waits,
  x: () => benchMotions(results),
  y: () => benchMotionKills(results),
  z: () => benchNetworkMidi(results),
};

const wished = process.argv.slice(2).filter((one) => one !== '--keep');
const unknown = wished.find((letter) => !Object.hasOwn(BENCHES, letter));
if (unknown !== undefined) fail(`There is no bench “${unknown}”. npm run bench -- --help lists them.`);
const temporary = mkdtempSync(join(tmpdir(), 'tawny-bench-'));
chmodSync(temporary, 0o711);
const [cluster] = await Promise.all([startCluster(temporary, { careless: true }), buildAll()]);
process.env[DATABASES] = cluster.ownerUrl('DATABASE');
try {
  for (const [letter, bench] of Object.entries(BENCHES))
    if (wished.length === 0 || wished.includes(letter)) await bench();
  for (const line of results.lines()) console.log(line);
  if (process.argv.includes('--keep')) results.keep(commitNow(ROOT), new Date().toISOString().slice(0, 10));
} finally {
  await cluster.stop();
  rmSync(temporary, { recursive: true, force: true });
}
