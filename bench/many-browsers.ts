/**
 * (m) Signals while browsers of all roles watch from another machine, compared with the same show while nobody does, in turns within one run. The browsers
 * are connections that read what pages are sent; they draw nothing.
 */
import { fork } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import type { Shown } from '@tawny-signal/core/people/people';
import { ROLES } from '@tawny-signal/core/people/roles';
import { openTestStage, type TestStage } from '../scripts/test-stage.js';
import { openNumbered, type Numbered } from './numbered.js';
import type { Results } from './results.js';

const OTHER = '127.0.0.2';
const BROWSERS = 30;
const PER_SECOND = 5000;
const SLICE_MS = 3000;
const SLICES = 12;

type When = 'nobody' | 'thirty';

interface Counted {
  bytes: number;
  messages: number;
  alive: number;
}

const wait = (ms: number): Promise<void> => new Promise((done) => setTimeout(done, ms));

/** The memory that a process has, in MiB. */
function memoryOf(pid: number | null): number {
  const [, kib] = /VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8')) ?? [];
  return Number(kib) / 1024;
}

async function call<T>(stage: TestStage, method: string, path: string, body: object): Promise<T> {
  const response = await fetch(`${stage.address}api/${path}`, {
    method,
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(body),
  });
  if (!response.ok) throw new Error(`${path}: ${await response.text()}`);
  return (await response.json()) as T;
}

/** @returns the cookie of a session for each role */
async function signIn(stage: TestStage): Promise<string[]> {
  const shown = await call<Shown>(stage, 'PUT', 'people/opening', { listen: [OTHER], hereToo: false });
  const cookies: string[] = [];
  for (const role of ROLES) {
    const response = await fetch(`http://${OTHER}:${stage.port}/api/people/sign-in`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ name: `Bench ${role}`, passphrase: shown[role] }),
    });
    cookies.push((response.headers.get('set-cookie') ?? '').split(';')[0]!);
  }
  return cookies;
}

export async function benchManyBrowsers(results: Results): Promise<void> {
  const stage = await openTestStage();
  let numbered: Numbered | null = null;
  const child = fork(fileURLToPath(new URL('many-browsers-child.mjs', import.meta.url)), { execArgv: [] });
  const ask = (what: object): Promise<Counted> =>
    new Promise((done) => {
      child.once('message', (told) => done(told as Counted));
      child.send(what);
    });
  try {
    const cookies = await signIn(stage);
    const sentAt: number[] = [];
    const whenOf: When[] = [];
    const us: Record<When, number[]> = { nobody: [], thirty: [] };
    numbered = await openNumbered(stage, (arrived) =>
      us[whenOf[arrived]!].push((performance.now() - sentAt[arrived]!) * 1000),
    );
    const { say } = numbered;
    let number = 0;
    const memory: Record<When, number[]> = { nobody: [], thirty: [] };
    const seen: Counted[] = [];
    for (let slice = 0; slice < SLICES; slice++) {
      const when: When = slice % 2 === 0 ? 'nobody' : 'thirty';
      const before = await ask(
        when === 'thirty'
          ? { do: 'open', url: `ws://${OTHER}:${stage.port}/live`, cookies, count: BROWSERS }
          : { do: 'counts' },
      );
      await wait(500);
      const from = performance.now();
      for (let sent = 0; performance.now() - from < SLICE_MS;) {
        const due = Math.floor(((performance.now() - from) / 1000) * PER_SECOND);
        for (; sent < due; sent++) {
          number++;
          whenOf[number] = when;
          sentAt[number] = performance.now();
          say(number);
        }
        await wait(1);
      }
      await wait(200);
      memory[when].push(memoryOf(stage.server.pid()));
      const after = await ask({ do: 'counts' });
      if (when === 'thirty') {
        seen.push({
          ...after,
          bytes: after.bytes - before.bytes,
          messages: after.messages - before.messages,
        });
        await ask({ do: 'close' });
      }
    }
    await wait(300);
    report(results, us, whenOf, memory, seen);
  } finally {
    child.kill();
    numbered?.close();
    await stage.stop();
  }
}

function report(
  results: Results,
  us: Record<When, number[]>,
  whenOf: readonly When[],
  memory: Record<When, number[]>,
  seen: readonly Counted[],
): void {
  console.log(
    `(m) ${PER_SECOND} messages a second, while nobody and while ${BROWSERS} browsers watch, in turns`,
  );
  const at: Record<When, { median: number; p99: number }> = {
    nobody: { median: 0, p99: 0 },
    thirty: { median: 0, p99: 0 },
  };
  for (const when of ['nobody', 'thirty'] as const) {
    const sorted = [...us[when]].sort((a, b) => a - b);
    const part = (share: number): number =>
      sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * share))]!;
    at[when] = { median: part(0.5), p99: part(0.99) };
    const sent = whenOf.filter((one) => one === when).length;
    console.log(
      `    ${when.padEnd(7)}: ${sorted.length} of ${sent} arrived; median ${part(0.5).toFixed(0)} µs, p99 ${part(0.99).toFixed(0)} µs, ` +
        `worst ${part(1).toFixed(0)} µs; the server has ${Math.max(...memory[when]).toFixed(0)} MiB at most`,
    );
  }
  const seconds = (SLICE_MS + 700) / 1000;
  const bytes = seen.map((one) => one.bytes / BROWSERS / seconds);
  const stayed = Math.min(...seen.map(({ alive }) => alive));
  console.log(
    `    each browser reads ${(bytes.reduce((sum, one) => sum + one, 0) / bytes.length / 1024).toFixed(1)} KiB/s; ${stayed} of ${BROWSERS} stayed connected`,
  );
  results.add('m median with thirty browsers to none', at.thirty.median / at.nobody.median, 1.5);
  results.add('m p99 with thirty browsers to none', at.thirty.p99 / at.nobody.p99, 2);
}
