/**
 * (q) Eight wrong sign-ins at once, from eight addresses, some times after each other: how long the page of this machine takes meanwhile, beside how long
 * it takes at rest.
 */
import { request } from 'node:http';
import { openTestStage, type TestStage } from '../scripts/test-stage.js';
import type { Results } from './results.js';

/** Loopback too, and yet not the address that needs no sign-in. */
const OTHER = '127.0.0.2';
const AT_ONCE = 8;
const ROUNDS = 3;
const AT_REST = 200;

function ask(host: string, port: number, path: string, from: string, body?: object): Promise<number> {
  return new Promise((done, fail) => {
    const headers = body ? { 'Content-Type': 'application/json' } : {};
    const asked = request(
      { host, port, path, localAddress: from, agent: false, method: body ? 'POST' : 'GET', headers },
      (response) => {
        response.resume();
        response.on('end', () => done(response.statusCode!));
      },
    );
    asked.on('error', fail);
    asked.end(body && JSON.stringify(body));
  });
}

/** @returns how long the page took, in ms */
async function page(stage: TestStage): Promise<number> {
  const from = performance.now();
  await ask('127.0.0.1', stage.port, '/', '127.0.0.1');
  return performance.now() - from;
}

const sorted = (list: readonly number[]): number[] => [...list].sort((a, b) => a - b);
const median = (list: readonly number[]): number => sorted(list)[list.length >> 1]!;

export async function benchGuesses(results: Results): Promise<void> {
  const stage = await openTestStage({ listen: [OTHER] });
  try {
    for (let n = 0; n < 50; n++) await page(stage);
    const atRest: number[] = [];
    for (let n = 0; n < AT_REST; n++) atRest.push(await page(stage));
    const meanwhile: number[] = [];
    const took: number[] = [];
    for (let round = 0; round < ROUNDS; round++) {
      let left = AT_ONCE;
      const guesses = Array.from({ length: AT_ONCE }, async (_, n) => {
        const from = performance.now();
        const body = { name: 'operator Mara', passphrase: `wrong ${round} ${n}` };
        await ask(OTHER, stage.port, '/api/people/sign-in', `127.0.1.${round * AT_ONCE + n + 1}`, body);
        took.push(performance.now() - from);
        left--;
      });
      while (left > 0) meanwhile.push(await page(stage));
      await Promise.all(guesses);
    }
    const worst = sorted(meanwhile).at(-1)!;
    console.log(
      `(q) the page of this machine while ${AT_ONCE} guess at once, ${ROUNDS} times, ${meanwhile.length} times asked`,
    );
    console.log(
      `    at rest ${median(atRest).toFixed(1)} ms, ${sorted(atRest).at(-1)!.toFixed(1)} ms at worst`,
    );
    console.log(`    meanwhile ${median(meanwhile).toFixed(1)} ms, ${worst.toFixed(1)} ms at worst`);
    console.log(
      `    a guess was answered after ${median(took).toFixed(0)} ms, ${sorted(took).at(-1)!.toFixed(0)} ms at worst`,
    );
    results.add('q the page of this machine while eight guess ms, median', median(meanwhile), 50);
    results.add('q the page of this machine while eight guess ms, worst', worst, 50);
  } finally {
    await stage.stop();
  }
}
