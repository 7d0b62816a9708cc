/** Two whole machines of ours in a session: a stage and a front of house, by address on loopback, also over a bad network. */
import { createSocket } from 'node:dgram';
import { afterAll, afterEach, beforeAll, describe, expect, test } from '@jest/globals';
import type { LineState, NetworkSeen } from '@tawny-signal/core/live/line-state';
import type { Line } from '@tawny-signal/core/show/line';
import type { Transport } from '@tawny-signal/core/time/transport';
import WebSocket from 'ws';
import { carryPorts, type Carried } from '../e2e/carried.js';
import { freeUdpPair } from '../scripts/ports.js';
import { openTestStage, until, type TestStage } from '../scripts/test-stage.js';
import { openBadNetwork, type BadNetwork } from '../scripts/bad-network.js';
import { openNamesRelay, type NamesRelay } from '../scripts/names-relay.js';

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
  const env = { TAWNY_NAMES_RELAY: String(names.port) };
  const stage = await openTestStage({ demo: false, env });
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
      (await line(id)).network ?? {
        port: 0,
        participants: [],
        refused: [],
        calling: [],
        lateToPlay: 0,
        found: null,
      },
  };
}

let near: Machine;
let far: Machine;
let network: BadNetwork;
let names: NamesRelay;
let keys: Line;
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
  names = await openNamesRelay();
  [near, far] = await Promise.all([openMachine(), openMachine()]);
  pair = await freeUdpPair();
  network = await openBadNetwork(pair);
  keys = await near.call<Line>('POST', 'lines', { kind: 'midi-inside', name: KEYS, port: KEYS });
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
  names.close();
}, 120_000);
afterEach(async () => {
  network.lose(0);
  network.carryJournals(true);
  for (const { machine, id } of lines.splice(0)) await machine.call('DELETE', `lines/${id}`);
});

/** A response of multicast DNS (RFC 6762, section 18; RFC 1035, section 4): a session at a port of an address, as four bytes. */
function announcement(name: string, port = 5004, address = '\x0a\0\0\x09'): Buffer {
  const label = (text: string): string => String.fromCharCode(Buffer.byteLength(text)) + text;
  const type = `${label('_apple-midi')}${label('_udp')}${label('local')}\0`;
  const host = `${label('flood')}${label('local')}\0`;
  const record = (owner: string, kind: number, data: string): string =>
    `${owner}\0${String.fromCharCode(kind)}\0\x01\0\0\0\x78\0${String.fromCharCode(data.length)}${data}`;
  const whole = label(name) + type;
  return Buffer.from(
    `\0\0\x84\0\0\0\0\x03\0\0\0\0${record(type, 12, whole)}${record(whole, 33, `\0\0\0\0${String.fromCharCode(port >> 8, port & 255)}${host}`)}${record(host, 1, address)}`,
    'latin1',
  );
}

/** Listens at a port. */
async function listening(port: number): Promise<{ heard(): number; close(): void }> {
  const socket = createSocket('udp4');
  let packets = 0;
  socket.on('message', () => packets++);
  await new Promise<void>((done) => socket.bind(port, '127.0.0.1', done));
  return { heard: () => packets, close: () => void socket.close() };
}

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

/** Longer by hand: 15,000 are a minute. */
const STEPS = Number(process.env['STEPS'] ?? 400);
const position = (machine: Machine, act: object): Promise<Transport> =>
  machine.call<Transport>('POST', 'desk/position', act);
/** Timecode goes from the one machine to the other. @returns ends it */
async function sendTimecode(): Promise<() => Promise<unknown>> {
  const source = await far.call<{ id: string }>('POST', 'time-sources', { kind: 'mtc', lineId: into.id });
  const output = await near.call<{ id: string }>('POST', 'time-outputs', { kind: 'mtc', lineId: out.id });
  return () =>
    Promise.all([
      near.call('DELETE', `time-outputs/${output.id}`),
      far.call('DELETE', `time-sources/${source.id}`),
    ]);
}
/** Reads the position, and changes nothing. */
const positionOf = async (machine: Machine): Promise<Transport['position']> =>
  (await position(machine, { do: 'calls', on: true })).position;
const FRAME_MS = 1000 / 24;

test.each([1, 5, 20])(
  'with %i %% of the packets lost, no note hangs, and the last values and the position are right',
  async (percent) => {
    const endTimecode = await sendTimecode();
    await position(near, { do: 'playFrom', ms: 3_600_000 * percent });
    far.got.length = 0;
    network.lose(percent);
    const before = (await far.network(into.id)).participants[0]!;
    let seed = percent;
    const random = (below: number): number => (seed = (seed * 48_271) % 0x7fff_ffff) % below;
    const down = new Set<number>();
    for (let n = 0; n < STEPS; n++) {
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
    const { motion } = (await position(near, { do: 'stop' })).position;
    await until(async () => {
      const there = await positionOf(far);
      return there.motion.speed === 0 && Math.abs(there.motion.ms - motion.ms) <= FRAME_MS;
    }, 'it stands at the same place there');
    await endTimecode();
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

  test('two sessions of one machine are a loop between two programs: what goes out comes back', async () => {
    const free = await freeUdpPair();
    const one = await add(near, session('Loop in', { mayJoin: 'anyone', port: free }));
    const other = await add(near, session('Loop out', { calls: [`127.0.0.1:${free}`] }));
    const device = await add(near, { kind: 'midi-inside', name: DEVICE, port: DEVICE });
    await near.call('POST', 'routes', midi(keys.id, other.id));
    await near.call('POST', 'routes', midi(one.id, device.id));
    await until(
      async () => (await connected(near, one)) && (await connected(near, other)),
      'they are connected',
    );
    near.got.length = 0;
    play(0x90, 61, 101, 0x80, 61, 64);
    await until(() => near.got.length === 2, 'it comes back');
    expect(near.got).toEqual([
      [0x90, 61, 101],
      [0x80, 61, 64],
    ]);
  });
});

describe('found by name', () => {
  const found = async (machine: Machine, { id }: Line): Promise<string[]> =>
    ((await machine.network(id)).found ?? []).map(({ name }) => name);
  const byName = (machine: Machine, name: string, more: object = {}): Promise<Line> =>
    add(machine, session(name, { byName: true, ...more }));

  test('two machines see each other, and one calls the other by its name, also after it has moved', async () => {
    const house = await byName(far, 'Dr. Fog’s house', { mayJoin: 'anyone', port: await freeUdpPair() });
    const stage = await byName(near, 'Pier stage', { calls: ['"Dr. Fog’s house"'] });
    await until(() => connected(near, stage), 'it is called by its name');
    expect((await near.network(stage.id)).participants.map(({ name }) => name)).toEqual(['Dr. Fog’s house']);
    await until(async () => (await found(far, house)).includes('Pier stage'), 'the caller is found too');
    expect(await found(near, stage)).toEqual(['Dr- Fog’s house']);
    const moved = await freeUdpPair();
    await far.call('PATCH', `lines/${house.id}`, { port: moved });
    await until(
      async () => (await near.network(stage.id)).participants[0]?.port === moved,
      'it is called at its new ports',
    );
  });

  test('what is announced has the records of RFC 6763, sections 4 to 6, in the labels of RFC 1035, section 3.1', async () => {
    names.packets.length = 0;
    const house = await byName(far, 'Quay', { port: await freeUdpPair() });
    const type = '\x0b_apple-midi\x04_udp\x05local\0';
    const all = (): string => names.packets.map((bytes) => bytes.toString('latin1')).join('');
    // Asked for (a PTR of the type, section 4.1), probed (a name of its own), and announced: PTR, SRV with the port, and TXT (6.1: never without).
    const port = String.fromCharCode(
      house.kind === 'midi-network' ? house.port! >> 8 : 0,
      house.kind === 'midi-network' ? house.port! & 255 : 0,
    );
    for (const part of [
      `${type}\0\x0c\0\x01`,
      `\x04Quay${type}\0\xff\0\x01`,
      `${type}\0\x0c\0\x01`,
      `\x04Quay${type}\0\x10`,
      `\0\0\0\0${port}`,
      `\0\x04\x7f\0\0\x01`,
    ])
      await until(() => all().includes(part), `${JSON.stringify(part)} is said`);
  });

  test('a name that is taken is said, and so is one that was not found, and one that nobody looks for', async () => {
    const first = await byName(far, 'Taken', { port: await freeUdpPair() });
    const stage = await byName(near, 'Elsewhere', { calls: ['"Nobody"'] });
    await until(async () => (await found(near, stage)).includes('Taken'), 'it is announced');
    const second = await byName(near, 'Taken', { port: await freeUdpPair() });
    await until(
      async () =>
        (await near.line(second.id)).trouble.includes('“Taken” already: give this one another name'),
      'the name is taken',
    );
    expect((await far.line(first.id)).trouble).not.toContain('already');
    expect((await near.line(stage.id)).trouble).toContain('“Nobody” has not been found on the network yet.');
    await near.call('PATCH', `lines/${stage.id}`, { byName: false });
    await until(
      async () => (await near.line(stage.id)).trouble.includes('switch “Found by name” on'),
      'nobody looks for it',
    );
  });

  test('a session that goes is found no more', async () => {
    const stage = await byName(near, 'Listening');
    const house = await byName(far, 'Fleeting', { port: await freeUdpPair() });
    await until(async () => (await found(near, stage)).includes('Fleeting'), 'it is found');
    await far.call('PATCH', `lines/${house.id}`, { byName: false });
    await until(async () => !(await found(near, stage)).includes('Fleeting'), 'it is gone');
  });

  test('somebody who says the name of a session that is called is not called while that one is there', async () => {
    await byName(far, 'Fog house', { mayJoin: 'anyone', port: await freeUdpPair() });
    const stage = await byName(near, 'Pier deck', { calls: ['"Fog house"'] });
    await until(() => connected(near, stage), 'it is called by its name');
    const liar = await freeUdpPair();
    const [control, data] = await Promise.all([liar, liar + 1].map(listening));
    names.say(announcement('Fog house', liar, '\x7f\0\0\x01'));
    await until(
      async () => (await near.network(stage.id)).found!.some(({ port }) => port === liar),
      'the other one is found',
    );
    // What was sent to it before is heard before this, on the same machine.
    const last = createSocket('udp4');
    for (const port of [liar, liar + 1]) last.send('the last one', port, '127.0.0.1');
    await until(() => control!.heard() > 0 && data!.heard() > 0, 'it hears what is sent to it');
    expect([control!.heard(), data!.heard()]).toEqual([1, 1]);
    expect((await near.network(stage.id)).participants.map(({ name }) => name)).toEqual(['Fog house']);
    last.close();
    for (const one of [control!, data!]) one.close();
  });

  test('noise and a flood of names fill the list, and no more', async () => {
    const stage = await byName(near, 'Flooded');
    const before = near.stage.engine.pid();
    await until(() => names.packets.some((bytes) => bytes.includes('Flooded')), 'it is announced');
    for (let at = 0; at < 200; at++) {
      names.say(Buffer.from(`noise ${at}`.repeat(at)));
      names.say(announcement(`Flood ${at}`));
    }
    await until(async () => (await found(near, stage)).length > 0, 'some are found');
    play(0x90, 62, 1, 0x80, 62, 64);
    await until(() => heard(0x80, 62), 'signals go on');
    expect((await found(near, stage)).length).toBeLessThanOrEqual(64);
    expect(near.stage.engine.pid()).toBe(before);
  });
});

describe('over a session', () => {
  test('MIDI clock sets the tempo of the other machine', async () => {
    const source = await far.call<{ id: string }>('POST', 'time-sources', { kind: 'clock', lineId: into.id });
    const output = await near.call<{ id: string }>('POST', 'time-outputs', { kind: 'clock', lineId: out.id });
    await near.call('PUT', 'desk/tempo', { bpm: 97 });
    await near.call('POST', 'desk/position', { do: 'playFrom', ms: 0 });
    await until(async () => {
      const { tempo } = await far.call<Transport>('POST', 'desk/position', { do: 'calls', on: true });
      const state = tempo.sources[source.id];
      return state?.state === 'locked' && Math.abs(state.bpm! - 97) < 3;
    }, 'it is heard there');
    await near.call('POST', 'desk/position', { do: 'stop' });
    await near.call('DELETE', `time-outputs/${output.id}`);
    await far.call('DELETE', `time-sources/${source.id}`);
  });

  test('a mapping there answers back to the control', async () => {
    const device = await add(near, { kind: 'midi-inside', name: DEVICE, port: DEVICE });
    const back = await near.call<{ id: string }>('POST', 'routes', midi(out.id, device.id));
    const bank = await far.call<{ id: string }>('POST', 'banks', { name: 'Lamp' });
    const mapping = await far.call<{ id: string }>('POST', 'mappings', {
      hear: { message: 'pressed', lineId: into.id, channels: [0, 0], numbers: [50, 50], values: 'any' },
      sends: [{ kind: 'bank', lineId: null, bankId: bank.id, act: 'toggle' }],
      answer: { lineId: into.id, kind: 'note', channel: 0, number: 50, shows: 'bank', bankId: bank.id },
    });
    near.got.length = 0;
    far.got.length = 0;
    const lamp = (): string[] => near.got.map((bytes) => bytes.join(' '));
    await until(() => {
      // Again until the new line and route are there: an answer to a line that is not open yet is lost.
      play(0x90, 50, 100, 0x80, 50, 64);
      return lamp().includes('144 50 127') || lamp().includes('144 50 0');
    }, 'the lamp is answered');
    await near.call('DELETE', `routes/${back.id}`);
    await far.call('DELETE', `mappings/${mapping.id}`);
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
  const endTimecode = await sendTimecode();
  const moment = await far.call<{ id: string }>('POST', 'moments', { name: 'Fog bank' });
  await far.call('PATCH', `moments/${moment.id}`, { timecode: '01:00:02:00' });
  await position(near, { do: 'playFrom', ms: 3_600_000 });
  await until(async () => (await calledAt(far)) === moment.id, 'it is called there');
  expect((await positionOf(far)).mode).toMatch(/following|riding/);
  await position(near, { do: 'stop' });
  await until(async () => (await positionOf(far)).motion.speed === 0, 'it stands there too');
  await endTimecode();
});

test.each([
  ['with', 2],
  ['without', 3],
] as const)(
  'timecode of which one packet in five is lost, %s journals, calls every moment of the other machine, in order',
  async (journals, hour) => {
    const endTimecode = await sendTimecode();
    const moments: string[] = [];
    for (const second of ['01', '02', '03', '04']) {
      const { id } = await far.call<{ id: string }>('POST', 'moments', { name: `Tide ${second}` });
      await far.call('PATCH', `moments/${id}`, { timecode: `0${hour}:00:${second}:00` });
      moments.push(id);
    }
    network.lose(20);
    network.carryJournals(journals === 'with');
    await position(near, { do: 'playFrom', ms: hour * 3_600_000 });
    const called = new Set<string>();
    await until(async () => {
      const { lastCalls } = await far.call<{ lastCalls: { id: string }[] }>('GET', 'desk/order');
      for (const { id } of lastCalls.toReversed()) if (moments.includes(id)) called.add(id);
      return called.size === moments.length;
    }, 'all of them are called');
    expect([...called]).toEqual(moments);
    expect(network.seen().cut > 0).toBe(journals === 'without');
    await position(near, { do: 'stop' });
    await endTimecode();
  },
);
