/** Motions over the API and the live connection, and after the engine was killed. */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import WebSocket from 'ws';
import type { FromServer } from '@tawny-signal/core/live/messages';
import { NO_MOTIONS, type MotionsSeen } from '@tawny-signal/core/motion/seen';
import { makeSend } from '@tawny-signal/core/sends';
import type { Motion } from '@tawny-signal/core/show/motion';
import { openTestStage, until, type TestStage } from '../scripts/test-stage.js';

let stage: TestStage;
let socket: WebSocket;
let seen: MotionsSeen = NO_MOTIONS;
let told = 0;
/** How often the engine was restarted, and what that was when motions were told last. */
let restarts = 0;
let toldAfter = 0;

beforeAll(async () => {
  stage = await openTestStage();
  socket = new WebSocket(`ws://127.0.0.1:${stage.port}/live`);
  socket.on('message', (data: Buffer, isBinary: boolean) => {
    if (isBinary) return;
    const message = JSON.parse(data.toString()) as FromServer;
    if (message.t === 'desk') restarts = message.desk.engineRestarts;
    if (message.t !== 'motions') return;
    toldAfter = restarts;
    seen = message.motions;
    told++;
  });
  await new Promise((done) => socket.on('open', done));
});
afterAll(async () => {
  socket.terminate();
  await stage.stop();
});

async function ask<T>(path: string, method: string, body?: object): Promise<{ status: number; body: T }> {
  const answer = await fetch(`${stage.address}api/${path}`, {
    method,
    headers: { 'Content-Type': 'application/json' },
    ...(body && { body: JSON.stringify(body) }),
  });
  return { status: answer.status, body: (await answer.json().catch(() => null)) as T };
}
const water = makeSend({
  kind: 'osc',
  lineId: 'water-screen',
  address: '/tide/height',
  args: [{ type: 'f', value: 'shaped' }],
});
const make = async (given: object): Promise<Motion> => (await ask<Motion>('motions', 'POST', given)).body;

describe('a motion', () => {
  test('is made with what is left out, changed, undone and removed', async () => {
    const made = await make({ name: 'Ebb', sends: [water] });
    expect(made.makes.kind).toBe('wave');
    expect(made.begins).toBe('always');
    await until(() => seen.running[made.id]?.length === 1, 'it runs');
    const changed = await ask<Motion>(`motions/${made.id}`, 'PATCH', { on: false });
    expect(changed.body.on).toBe(false);
    await until(() => seen.running[made.id] === undefined, 'it is off');
    await ask('undo', 'POST');
    await until(() => seen.running[made.id]?.length === 1, 'it runs again');
    await ask(`motions/${made.id}`, 'DELETE');
    await until(() => seen.running[made.id] === undefined, 'it is gone');
  });

  test('that is wrong, or not there, is refused in words', async () => {
    const wrong = await ask('motions', 'POST', { name: 'Wrong', drive: { everyMs: 0 } });
    expect(wrong.status).toBe(422);
    expect(JSON.stringify(wrong.body)).toContain('Write a time from 10 ms to 1 h, or a rate like 0.5 Hz.');
    const gone = await ask('desk/motions/gone', 'POST', { act: 'start' });
    expect(gone.status).toBe(404);
    expect(JSON.stringify(gone.body)).toContain('This motion');
  });

  test('is told some times a second while a page looks, and not when none does', async () => {
    const made = await make({ name: 'Looked at', drive: { everyMs: 500 }, sends: [water] });
    await until(() => seen.running[made.id]?.length === 1, 'it runs');
    socket.send(JSON.stringify({ t: 'watchMotions', on: true }));
    const values = new Set<number | null>();
    await until(() => {
      values.add(seen.running[made.id]?.[0]?.made ?? null);
      return values.size > 5;
    }, 'its values are told');
    socket.send(JSON.stringify({ t: 'watchMotions', on: false }));
    await ask('desk/order', 'GET');
    // What was on its way has come when the next thing is told.
    const another = await make({ name: 'Another', sends: [] });
    await until(() => seen.running[another.id]?.length === 1, 'the other is told');
    const before = told;
    await ask('desk/motions/' + made.id, 'POST', { act: 'stop' });
    await until(() => seen.running[made.id] === undefined, 'it is stopped');
    expect(told - before).toBeLessThan(4);
    await ask(`motions/${made.id}`, 'DELETE');
  });

  test('that somebody started goes on after the engine was killed, where it would be', async () => {
    const made = await make({ name: 'Slow', begins: 'asked', drive: { everyMs: 60_000 }, sends: [water] });
    await ask(`desk/motions/${made.id}`, 'POST', { act: 'start' });
    await until(() => seen.running[made.id]?.length === 1, 'it runs');
    const { since } = seen.running[made.id]![0]!;
    // What was done in the last quarter of a second may not be kept yet.
    const kept = (): string => readFileSync(join(stage.state, 'engine', 'live.json'), 'utf8');
    await until(() => kept().includes(made.id), 'it is kept');
    const before = restarts;
    process.kill(await until(() => stage.engine.pid(), 'an engine is there'), 'SIGKILL');
    await until(() => toldAfter > before && seen.running[made.id]?.length === 1, 'it runs again');
    expect(Math.abs(seen.running[made.id]![0]!.since - since)).toBeLessThan(200);
  });
});
