/**
 * (n) A press of Go over a bad network: the web server, then the engine, is killed twenty times in the instants in which a press is on its way. Each press
 * is sent again until it is answered, as a page does it. What counts is how often a moment was called, by what arrives on the network.
 */
import { randomUUID } from 'node:crypto';
import { createSocket } from 'node:dgram';
import type { Line } from '@tawny-signal/core/show/line';
import { openTestStage, until, type TestStage } from '../scripts/test-stage.js';
import { post } from './post.js';
import type { Results } from './results.js';

const KILLS = 20;
const PRESSES_BETWEEN = 4;
/** As web/src/show/press does it. */
const TRY_MS = 900;
const AGAIN_MS = 150;
const GIVE_UP_MS = 2500;
const MOMENTS = KILLS * (PRESSES_BETWEEN + 2);

type Answer = 'called' | 'refused' | 'unsure' | 'given up';

const wait = (ms: number): Promise<void> => new Promise((done) => setTimeout(done, ms));

async function press(stage: TestStage): Promise<Answer> {
  const at = Date.now();
  const headers = { 'Content-Type': 'application/json', 'X-Press': `${randomUUID()} ${at}` };
  for (;;) {
    try {
      const response = await fetch(`${stage.address}api/desk/order`, {
        method: 'POST',
        headers,
        body: JSON.stringify({ do: 'go' }),
        signal: AbortSignal.timeout(TRY_MS),
      });
      if (response.ok) return 'called';
      return (await response.text()).includes('Look whether it happened') ? 'unsure' : 'refused';
    } catch {
      if (Date.now() - at > GIVE_UP_MS) return 'given up';
      await wait(AGAIN_MS);
    }
  }
}

async function kill(what: 'server' | 'engine'): Promise<{ answers: Answer[]; arrived: string[] }> {
  const stage = await openTestStage({ demo: false });
  const far = createSocket('udp4');
  const arrived: string[] = [];
  far.on('message', (bytes) => {
    const address = bytes.toString('latin1').replace(/\0.*$/s, '');
    if (address.startsWith('/moment/')) arrived.push(address);
  });
  try {
    await new Promise<void>((done) => far.bind(0, '127.0.0.1', done));
    const line = await post<Line>(stage, 'lines', {
      kind: 'osc-udp',
      name: 'Counted',
      host: '127.0.0.1',
      port: far.address().port,
      listenPort: null,
    });
    const moments = Array.from({ length: MOMENTS }, (_, at) => ({
      name: `Moment ${at}`,
      sends: [
        {
          kind: 'send',
          value: 1,
          send: { kind: 'osc', lineId: line.id, address: `/moment/${at}`, args: [] },
        },
      ],
    }));
    for (let from = 0; from < MOMENTS; from += 60)
      await post(stage, 'moments/paste', { moments: moments.slice(from, from + 60) });
    await fetch(`${stage.address}api/show/settings`, {
      method: 'PATCH',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ guardMs: 0 }),
    });
    const answers: Answer[] = [];
    for (let killed = 0; killed < KILLS; killed++) {
      for (let calm = 0; calm < PRESSES_BETWEEN; calm++) answers.push(await press(stage));
      const pid = await until(() => stage[what].pid(), 'it is there');
      const answer = press(stage);
      // Before the press comes, while it is done, and after it is answered.
      await wait((killed % 10) * 0.7);
      process.kill(pid, 'SIGKILL');
      answers.push(await answer);
      await wait(1500);
      await until(async () => {
        const response = await fetch(`${stage.address}api/desk/order`).catch(() => null);
        return response?.ok ?? false;
      }, 'it is back');
    }
    await wait(500);
    return { answers, arrived };
  } finally {
    far.close();
    await stage.stop();
  }
}

export async function benchPresses(results: Results): Promise<void> {
  console.log('(n) Go, while what carries it is killed 20 times');
  for (const what of ['server', 'engine'] as const) {
    const { answers, arrived } = await kill(what);
    const count = (answer: Answer): number => answers.filter((one) => one === answer).length;
    const twice = arrived.length - new Set(arrived).size;
    const acted = new Set(arrived).size;
    console.log(
      `    the ${what}: ${answers.length} presses, ${count('called')} answered as called, ${count('refused')} refused, ${count('unsure')} said to be unsure, ${count('given up')} given up; ` +
        `${acted} moments called, ${twice} of them twice`,
    );
    results.add(`n ${what}: moments called twice`, twice, 0);
    results.add(
      `n ${what}: called without an answer that says so`,
      Math.max(0, acted - count('called') - count('given up') - count('unsure')),
      0,
    );
    results.add(`n ${what}: said to be called and was not`, Math.max(0, count('called') - acted), 0);
  }
}
