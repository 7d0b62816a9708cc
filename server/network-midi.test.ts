/** Two whole machines of ours in a session: a stage and a front of house, by address on loopback, also over a bad network. */
import { afterAll, afterEach, beforeAll, describe, expect, test } from '@jest/globals';
import type { LineState, NetworkSeen } from '@tawny-signal/core/live/messages';
import type { Line } from '@tawny-signal/core/show/line';
import type { Transport } from '@tawny-signal/core/time/transport';
import WebSocket from 'ws';
import { carryPorts, type Carried } from '../e2e/carried.js';
import { freeUdpPair } from '../scripts/ports.js';
import { openTestStage, until, type TestStage } from '../scripts/test-stage.js';
import { openBadNetwork, type BadNetwork } from '../scripts/bad-network.js';

/** A machine with a keyboard and a device at it. */
interface Machine {
  stage: TestStage;
  ports: Carried;
  call<T>(method: string, path: string, body?: object): Promise<T>;
  /** What its device was sent, three bytes each. */
  got: number[][];
  line(id: string): Promise<LineState>;
  close(): Promise<void>;
  network(id: string): Promise<NetworkSeen>;
}

const KEYS = 'Keys';
const DEVICE = 'Device';

async function openMachine(): Promise<Machine> {
  const stage = await openTestStage({ demo: false });
  const got: number[][] = [];
  const ports = await carryPorts(stage.port, [KEYS, DEVICE], (port, bytes) => {
    if (port === DEVICE) got.push(bytes);
  });
  const states = new Map<string, LineState>();
  const watching = new WebSocket(`${stage.address.replace('http', 'ws')}live`);
  watching.on('message', (data, isBinary) => {
    if (isBinary) return;
    const message = JSON.parse((data as Buffer).toString()) as {
      t: string;
      states?: Record<string, LineState>;
    };
    if (message.t === 'lineStates')
      for (const [id, state] of Object.entries(message.states!)) states.set(id, state);
  });
  const call = async <T>(method: string, path: string, body?: object): Promise<T> => {
    const response = await fetch(`${stage.address}api/${path}`, {
      method,
      headers: { 'Content-Type': 'application/json' },
      body: body ? JSON.stringify(body) : null,
    });
    const answer = (await response.json()) as T & { message?: string };
    if (!response.ok) throw new Error(answer.message);
    return answer;
  };
  const line = (id: string): Promise<LineState> => until(() => states.get(id), `the line ${id} is known`);
  return {
    stage,
    ports,
    call,
    got,
    line,
    async close() {
      watching.close();
      ports.close();
      await stage.stop();
    },
    network: async (id) =>
      (await line(id)).network ?? { port: 0, participants: [], refused: [], calling: [], lateToPlay: 0 },
  };
}

let near: Machine;
let far: Machine;
let network: BadNetwork;
/** The lines of the session, and the first port of the far one. */
let out: Line;
let into: Line;
let pair: number;
const lines: { machine: Machine; id: string }[] = [];

const midi = (fromId: string, toId: string): object => ({ carries: 'midi', fromId, toId });

async function add(machine: Machine, line: object): Promise<Line> {
  const made = await machine.call<Line>('POST', 'lines', line);
  lines.push({ machine, id: made.id });
  return made;
}

const session = (name: string, more: object): object => ({
  kind: 'midi-network',
  name,
  session: name,
  ...more,
});
const connected = async (machine: Machine, { id }: Line): Promise<boolean> =>
  (await machine.line(id)).state === 'open';

beforeAll(async () => {
  [near, far] = await Promise.all([openMachine(), openMachine()]);
  pair = await freeUdpPair();
  network = await openBadNetwork(pair);
  const keys = await near.call<Line>('POST', 'lines', { kind: 'midi-inside', name: KEYS, port: KEYS });
  out = await near.call<Line>('POST', 'lines', session('Stage', { calls: [`127.0.0.1:${network.port}`] }));
  await near.call('POST', 'routes', midi(keys.id, out.id));
  const device = await far.call<Line>('POST', 'lines', { kind: 'midi-inside', name: DEVICE, port: DEVICE });
  into = await far.call<Line>('POST', 'lines', session('Front of house', { mayJoin: 'anyone', port: pair }));
  await far.call('POST', 'routes', midi(into.id, device.id));
  await until(async () => (await connected(near, out)) && (await connected(far, into)), 'they are connected');
}, 240_000);
afterAll(async () => {
  network.close();
  await Promise.all([near.close(), far.close()]);
}, 120_000);
afterEach(async () => {
  network.lose(0);
  for (const { machine, id } of lines.splice(0)) await machine.call('DELETE', `lines/${id}`);
});

/** Whether the far device was sent this. */
const heard = (status: number, number: number): boolean =>
  far.got.some((bytes) => bytes[0] === status && bytes[1] === number);
const play = (...bytes: number[]): void => near.ports.play(KEYS, ...bytes);

test('they know each other by name, and what is played on the one is played on the other', async () => {
  expect((await near.network(out.id)).participants.map(({ name }) => name)).toEqual(['Front of house']);
  expect((await far.network(into.id)).participants.map(({ name }) => name)).toEqual(['Stage']);
  far.got.length = 0;
  play(0x90, 60, 100, 0x80, 60, 64);
  await until(() => far.got.length === 2, 'it is played there');
  expect(far.got).toEqual([
    [0x90, 60, 100],
    [0x80, 60, 64],
  ]);
});

test.each([1, 5, 20])(
  'with %i %% of the packets lost, no note hangs, and the last values are right',
  async (percent) => {
    far.got.length = 0;
    network.lose(percent);
    const before = (await far.network(into.id)).participants[0]!;
    let seed = percent;
    const random = (below: number): number => (seed = (seed * 48_271) % 0x7fff_ffff) % below;
    const down = new Set<number>();
    for (let n = 0; n < 400; n++) {
      const note = 40 + random(40);
      if (down.delete(note)) play(0x80, note, 64);
      else {
        down.add(note);
        play(0x90, note, 1 + random(127));
      }
      play(0xb0, 1 + random(3), random(128));
      await new Promise((done) => setTimeout(done, 4));
    }
    for (const note of down) play(0x80, note, 64);
    for (const controller of [1, 2, 3]) play(0xb0, controller, 100 + controller);
    const last = (controller: number): number =>
      far.got.findLast(([status, number]) => status === 0xb0 && number === controller)?.[2] ?? -1;
    await until(() => [1, 2, 3].every((one) => last(one) === 100 + one), 'the last values are there');
    const sounding = (): number[] => {
      const notes = new Set<number>();
      for (const [status, note] of far.got) {
        if (status === 0x90) notes.add(note!);
        if (status === 0x80) notes.delete(note!);
      }
      return [...notes];
    };
    await until(() => sounding().length === 0, 'nothing sounds');
    const { lost, recovered } = await until(async () => {
      const [one] = (await far.network(into.id)).participants;
      return one && one.lost > before.lost && one.recovered > before.recovered ? one : null;
    }, 'what was lost and made good is shown');
    expect(lost - before.lost).toBeLessThanOrEqual(network.seen().lost);
    expect(recovered).toBeGreaterThan(0);
  },
);

describe('who calls whom', () => {
  test('a machine that comes later is found, whichever it is', async () => {
    for (const callerFirst of [true, false]) {
      const free = await freeUdpPair();
      const caller = (): Promise<Line> =>
        add(near, session(`Early ${free}`, { calls: [`127.0.0.1:${free}`] }));
      const called = (): Promise<Line> =>
        add(far, session(`Late ${free}`, { mayJoin: 'anyone', port: free }));
      const ones = callerFirst
        ? [await caller(), await called()]
        : [await called(), await caller()].reverse();
      await until(() => connected(near, ones[0]!), 'the caller is connected');
      await until(() => connected(far, ones[1]!), 'the called one is connected');
    }
  });

  test('somebody who may not come in is refused, and is let in', async () => {
    const free = await freeUdpPair();
    const house = await add(far, session('Closed', { mayJoin: 'nobody', port: free }));
    const stage = await add(near, session('Knocking', { calls: [`127.0.0.1:${free}`] }));
    await until(async () => (await near.line(stage.id)).trouble.includes('does not let us in'), 'it is told');
    const refused = await until(async () => (await far.network(house.id)).refused[0], 'it is listed');
    expect(refused).toMatchObject({ name: 'Knocking', host: '127.0.0.1' });
    await far.call('PATCH', `lines/${house.id}`, { mayJoin: 'listed', hearFrom: [refused.host] });
    await until(() => connected(near, stage), 'it is let in');
  });

  test('two sessions of one machine are a loop between two programs', async () => {
    const free = await freeUdpPair();
    const one = await add(near, session('Loop in', { mayJoin: 'anyone', port: free }));
    const other = await add(near, session('Loop out', { calls: [`127.0.0.1:${free}`] }));
    await until(
      async () => (await connected(near, one)) && (await connected(near, other)),
      'they are connected',
    );
  });
});

test('an engine that is killed is back in the session, and nothing hangs', async () => {
  for (const [machine, other] of [
    [far, near],
    [near, far],
  ] as const) {
    far.got.length = 0;
    play(0x90, 72, 90);
    await until(() => heard(0x90, 72), 'a note is down');
    const before = machine.stage.engine.pid()!;
    process.kill(before, 'SIGKILL');
    await until(
      () => machine.stage.engine.pid() !== null && machine.stage.engine.pid() !== before,
      'another one runs',
    );
    await until(() => heard(0x80, 72), 'the note is released');
    far.got.length = 0;
    await until(() => {
      play(0x90, 73, 90, 0x80, 73, 64);
      return heard(0x80, 73);
    }, 'what is played is heard again');
    expect(other.stage.engine.pid()).not.toBeNull();
  }
});

/** The moment that was called last. */
async function calledAt(machine: Machine): Promise<string | null> {
  return (await machine.call<{ called: { id: string } | null }>('GET', 'desk/order')).called?.id ?? null;
}

test('a note at any force calls the running order of the other machine', async () => {
  const moment = await far.call<{ id: string }>('POST', 'moments', { name: 'Slack water' });
  await far.call('PATCH', `moments/${moment.id}`, {
    callers: [{ message: 'pressed', lineId: into.id, channels: [9, 9], numbers: [51, 51], values: 'any' }],
  });
  play(0x99, 51, 1);
  await until(async () => (await calledAt(far)) === moment.id, 'it is called');
});

test('the position of the one drives the show of the other', async () => {
  const source = await far.call<{ id: string }>('POST', 'time-sources', { kind: 'mtc', lineId: into.id });
  const output = await near.call<{ id: string }>('POST', 'time-outputs', { kind: 'mtc', lineId: out.id });
  const moment = await far.call<{ id: string }>('POST', 'moments', { name: 'Fog bank' });
  await far.call('PATCH', `moments/${moment.id}`, { timecode: '01:00:02:00' });
  const position = (machine: Machine, act: object): Promise<Transport> =>
    machine.call<Transport>('POST', 'desk/position', act);
  await position(near, { do: 'playFrom', ms: 3_600_000 });
  await until(async () => (await calledAt(far)) === moment.id, 'it is called there');
  expect((await position(far, { do: 'calls', on: true })).position.mode).toMatch(/following|riding/);
  await position(near, { do: 'stop' });
  await until(
    async () => (await position(far, { do: 'calls', on: true })).position.motion.speed === 0,
    'it stands there too',
  );
  await near.call('DELETE', `time-outputs/${output.id}`);
  await far.call('DELETE', `time-sources/${source.id}`);
});
