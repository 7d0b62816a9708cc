/**
 * (p) A large show: how long no signal arrives while it is opened, while a mapping is added to it, and after the engine that plays it is killed; beside the
 * same of the demo. Signals of 200 a second pass a line of the engine meanwhile.
 */
import type { Mapping } from '@tawny-signal/core/show/mapping';
import type { Show } from '@tawny-signal/core/show';
import { openTestStage, until, type TestStage } from '../scripts/test-stage.js';
import { signals, type Signals } from './kills.js';
import { post } from './post.js';
import type { Results } from './results.js';

const MAPPINGS = 5000;
const MOMENTS = 500;
const TIMES = 5;
/** The time in which a spare engine is loaded and has read the show. */
const BETWEEN_MS = 8000;
const WHATS = ['a mapping is added', 'the engine is killed'] as const;

const wait = (ms: number): Promise<void> => new Promise((done) => setTimeout(done, ms));
const longest = (list: readonly number[]): number => Math.max(...list);

async function openLarge(stage: TestStage): Promise<void> {
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
  const response = await fetch(`${stage.address}api/files/show`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/octet-stream' },
    body: JSON.stringify(large),
  });
  if (!response.ok) throw new Error(await response.text());
}

async function rounds(stage: TestStage, passing: Signals): Promise<Record<(typeof WHATS)[number], number[]>> {
  const gaps: Record<(typeof WHATS)[number], number[]> = {
    'a mapping is added': [],
    'the engine is killed': [],
  };
  for (let round = 0; round < TIMES; round++) {
    await wait(BETWEEN_MS);
    passing.gap();
    const { id } = await post<Mapping>(stage, 'mappings', { name: 'One more' });
    await wait(1000);
    gaps['a mapping is added'].push(passing.gap());
    await fetch(`${stage.address}api/mappings/${id}`, { method: 'DELETE' });
    await wait(BETWEEN_MS);
    passing.gap();
    process.kill(await until(() => stage.engine.pid(), 'an engine is there'), 'SIGKILL');
    await wait(3000);
    gaps['the engine is killed'].push(passing.gap());
  }
  return gaps;
}

export async function benchLargeShow(results: Results): Promise<void> {
  const stage = await openTestStage();
  try {
    const passing = await signals(stage);
    const small = await rounds(stage, passing);
    passing.gap();
    await openLarge(stage);
    await wait(BETWEEN_MS);
    const opening = passing.gap();
    const large = await rounds(stage, passing);
    await passing.stop();
    console.log(
      `(p) a show of ${MAPPINGS} mappings and ${MOMENTS} moments: nothing arrived for so long, the worst of ${TIMES}`,
    );
    console.log(`    while it was opened: ${opening.toFixed(0)} ms`);
    results.add('p nothing arrives while a large show is opened ms', opening, 50);
    for (const what of WHATS) {
      const [ours, demos] = [longest(large[what]), longest(small[what])];
      console.log(`    when ${what}: ${ours.toFixed(0)} ms, with the demo ${demos.toFixed(0)} ms`);
      results.add(`p nothing arrives when ${what} to a large show ms`, ours, what === WHATS[0] ? 50 : 300);
    }
  } finally {
    await stage.stop();
  }
}
