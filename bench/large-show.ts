/**
 * (p) A large show: how long no signal arrives while it is opened, while a mapping is added to it, and after the engine that plays it is killed; beside the
 * same of the demo. Signals of 200 a second pass a line of the engine meanwhile.
 */
import { readFileSync } from 'node:fs';
import type { Mapping } from '@tawny-signal/core/show/mapping';
import type { Show } from '@tawny-signal/core/show';
import { openTestStage, until, type TestStage } from '../scripts/test-stage.js';
import { signals } from './kills.js';
import { post } from './post.js';
import type { Results } from './results.js';

const MAPPINGS = 10_000;
const MOMENTS = 1000;
const TIMES = 5;
const EVERY_MS = 5;
/** The time in which a spare engine is loaded and has read the show. */
const BETWEEN_MS = 8000;
const WHATS = ['a mapping is added', 'the engine is killed'] as const;

const wait = (ms: number): Promise<void> => new Promise((done) => setTimeout(done, ms));
const median = (list: readonly number[]): number => [...list].sort((a, b) => a - b)[list.length >> 1]!;

/** Nothing arrived for so long; and what the machine did not give meanwhile. All in ms. */
interface Gap {
  gap: number;
  /** So long did this process itself stand still. */
  own: number;
  /** So much time of its processors did other machines on the same hardware take. */
  stolen: number;
}

const TICK_MS = 10;
/** Time of all processors that was stolen since the machine started (proc(5), the eighth number of `cpu`); 0 where that is not known. In ms. */
function stolenMs(): number {
  try {
    return Number(readFileSync('/proc/stat', 'utf8').split(/\s+/, 9)[8]) * TICK_MS;
  } catch {
    return 0;
  }
}

/** Measures how long this process stands still. @returns asks for the longest since it was asked last, in ms */
function standsStill(): () => number {
  let last = performance.now();
  let longest = 0;
  setInterval(() => {
    const now = performance.now();
    longest = Math.max(longest, now - last - EVERY_MS);
    last = now;
  }, EVERY_MS).unref();
  return () => {
    const was = longest;
    longest = 0;
    return was;
  };
}

/** The file of a large show. It is made before anything is measured, since that holds up this process too. */
async function largeFile(stage: TestStage): Promise<Buffer> {
  const show = (await (await fetch(`${stage.address}api/files/show`)).json()) as Show;
  const { mappings, moments } = show;
  const more = <Row extends { id: string }>(rows: readonly Row[], count: number, kind: string): Row[] =>
    Array.from({ length: count - rows.length }, (_, at) => ({
      ...rows[at % rows.length]!,
      id: `${kind}-${at}`,
    }));
  const large = {
    ...show,
    mappings: [...mappings, ...more(mappings, MAPPINGS, 'mapping')],
    // A number of its own for each, and nobody calls it but Go.
    moments: [
      ...moments,
      ...more(moments, MOMENTS, 'moment').map((one, at) => ({ ...one, cue: `${1000 + at}`, timecode: null })),
    ],
  };
  return Buffer.from(JSON.stringify(large));
}

async function open(stage: TestStage, body: Buffer): Promise<void> {
  const response = await fetch(`${stage.address}api/files/show`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/octet-stream' },
    body: new Uint8Array(body),
  });
  if (!response.ok) throw new Error(await response.text());
}

async function rounds(stage: TestStage, gapNow: () => Gap): Promise<Record<(typeof WHATS)[number], Gap[]>> {
  const gaps: Record<(typeof WHATS)[number], Gap[]> = {
    'a mapping is added': [],
    'the engine is killed': [],
  };
  for (let round = 0; round < TIMES; round++) {
    await wait(BETWEEN_MS);
    gapNow();
    const { id } = await post<Mapping>(stage, 'mappings', { name: 'One more' });
    await wait(1000);
    gaps['a mapping is added'].push(gapNow());
    await fetch(`${stage.address}api/mappings/${id}`, { method: 'DELETE' });
    await wait(BETWEEN_MS);
    gapNow();
    process.kill(await until(() => stage.engine.pid(), 'an engine is there'), 'SIGKILL');
    await wait(3000);
    gaps['the engine is killed'].push(gapNow());
  }
  return gaps;
}

export async function benchLargeShow(results: Results): Promise<void> {
  const stage = await openTestStage();
  try {
    const passing = await signals(stage);
    const own = standsStill();
    let before = stolenMs();
    const gapNow = (): Gap => {
      const now = stolenMs();
      const stolen = now - before;
      before = now;
      return { gap: passing.gap(), own: own(), stolen };
    };
    const small = await rounds(stage, gapNow);
    const file = await largeFile(stage);
    const opening: Gap[] = [];
    const demo = Buffer.from(JSON.stringify(await (await fetch(`${stage.address}api/files/show`)).json()));
    for (let round = 0; round < TIMES; round++) {
      gapNow();
      await open(stage, file);
      await wait(BETWEEN_MS);
      opening.push(gapNow());
      if (round === TIMES - 1) continue;
      await open(stage, demo);
      await wait(BETWEEN_MS);
    }
    const large = await rounds(stage, gapNow);
    await passing.stop();
    console.log(
      `(p) a show of ${MAPPINGS} mappings and ${MOMENTS} moments: nothing arrived for so long, ${TIMES} times each`,
    );
    console.log(
      '    (in brackets, how long this process itself stood still meanwhile, and how much time of the processors was stolen)',
    );
    const say = (what: string, gaps: readonly Gap[], goal: number): void => {
      const all = gaps
        .map(({ gap, own: still, stolen }) => `${gap.toFixed(0)} (${still.toFixed(0)}, ${stolen.toFixed(0)})`)
        .join(', ');
      console.log(`    ${what}: ${all} ms`);
      results.add(`p nothing arrives when ${what} ms, median`, median(gaps.map(({ gap }) => gap)), goal);
    };
    say('a large show is opened', opening, 50);
    for (const what of WHATS) {
      const goal = what === WHATS[0] ? 50 : 300;
      say(`${what} to the demo`, small[what], goal);
      say(`${what} to a large show`, large[what], goal);
    }
  } finally {
    await stage.stop();
  }
}
