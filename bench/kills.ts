/**
 * (k) What dies: PostgreSQL, the web server and the engine, each killed twenty times under load. Signals of 200 a second pass a line of the engine and are
 * counted where they arrive; edits are made back to back, and those that were acknowledged are looked for afterwards.
 */
import { addOscLine, post } from './post.js';
import { createSocket, type Socket } from 'node:dgram';
import pg from 'pg';
import WebSocket from 'ws';
import { PORT_BYTES } from '@tawny-signal/core/live/batch';
import type { DeskState, FromServer } from '@tawny-signal/core/live/messages';
import { encodeOsc } from '@tawny-signal/core/osc/packet';
import type { Line } from '@tawny-signal/core/show/line';
import { openTestStage, until, type TestStage } from '../scripts/test-stage.js';

const KILLS = 20;
/** The time between two signals in ms. */
const EVERY_MS = 5;
/** The time between two kills, in which the part recovers. */
const BETWEEN_MS = 1500;

export interface KillFigures {
  what: string;
  sent: number;
  lost: number;
  /** The longest gap between arrivals after each kill. */
  gaps: number[];
  /** Edits: acknowledged, and of those that are there; and how many are there that were refused. */
  acknowledged?: number;
  there?: number;
  refusedButThere?: number;
  /** Of an engine: how long after its death what it held was released; and how often it was not. */
  releasedMs?: number[];
  hanging?: number;
  /** Levels that a pad held up, of a slot and of an OSC address, that were still up when the engine was back. */
  up?: number;
}

export interface Signals {
  sent(): number;
  /** Where nothing arrived, the longest since this was asked last, in ms. */
  gap(): number;
  /** Stops, and waits until what is on its way has arrived. @returns how many never did */
  stop(): Promise<number>;
}

const wait = (ms: number): Promise<void> => new Promise((done) => setTimeout(done, ms));

/** Sends numbered signals through a route of the engine. */
export async function signals(stage: TestStage): Promise<Signals> {
  const far = createSocket({ type: 'udp4', recvBufferSize: 1 << 20 });
  await new Promise<void>((done) => far.bind(0, '127.0.0.1', done));
  const { line, listenPort } = await addOscLine(stage, 'Counted', far.address().port);
  await post(stage, 'routes', {
    carries: 'osc',
    fromId: line.id,
    toId: line.id,
    prefix: '/',
    newPrefix: '/counted',
    ring: true,
  });
  const near: Socket = createSocket('udp4');
  // The engine may be away for a moment, when its port is closed.
  near.on('error', () => undefined);
  const arrived = new Set<number>();
  let lastAt = performance.now();
  let longest = 0;
  far.on('message', (bytes) => {
    const [, number] = /^\/counted\/(\d+)/.exec(bytes.toString('latin1')) ?? [];
    if (number === undefined) return;
    arrived.add(Number(number));
    const now = performance.now();
    longest = Math.max(longest, now - lastAt);
    lastAt = now;
  });
  let sent = 0;
  const send = (): void => {
    const packet = encodeOsc({ kind: 'osc', address: `/${sent++}`, args: [] });
    near.send(packet, listenPort, '127.0.0.1', () => undefined);
  };
  await until(() => {
    send();
    return arrived.size > 0;
  }, 'signals pass');
  const from = sent;
  const timer = setInterval(send, EVERY_MS);
  return {
    sent: () => sent - from,
    gap() {
      const gap = longest;
      longest = 0;
      return gap;
    },
    async stop() {
      clearInterval(timer);
      await wait(500);
      let lost = 0;
      for (let number = from; number < sent; number++) if (!arrived.has(number)) lost++;
      near.close();
      far.close();
      return lost;
    },
  };
}

/** Makes edits back to back until it is stopped. @returns the names that were acknowledged, and those that were refused */
function editing(stage: TestStage): () => Promise<{ acknowledged: string[]; refused: string[] }> {
  const acknowledged: string[] = [];
  const refused: string[] = [];
  let stopped = false;
  const running = (async () => {
    for (let number = 0; !stopped; number++) {
      const name = `Edit ${number}`;
      const done = await post(stage, 'banks', { name }).then(
        () => true,
        () => false,
      );
      (done ? acknowledged : refused).push(name);
      if (!done) await wait(5);
    }
  })();
  return async () => {
    stopped = true;
    await running;
    return { acknowledged, refused };
  };
}

async function names(stage: TestStage): Promise<Set<string>> {
  const client = new pg.Client({ connectionString: stage.databaseUrl });
  await client.connect();
  const { rows } = await client.query<{ name: string }>(`select body->>'name' as name from banks`);
  await client.end();
  return new Set(rows.map(({ name }) => name));
}

const saves = async (stage: TestStage): Promise<boolean> =>
  ((await (await fetch(`${stage.address}api/desk`)).json()) as DeskState).saving;

/** @param cluster returns the current process id of PostgreSQL */
export async function killDatabase(cluster: () => number): Promise<KillFigures> {
  const stage = await openTestStage();
  try {
    const passing = await signals(stage);
    const stopEditing = editing(stage);
    const gaps: number[] = [];
    await wait(BETWEEN_MS);
    passing.gap();
    for (let kill = 0; kill < KILLS; kill++) {
      process.kill(cluster(), 'SIGKILL');
      await wait(BETWEEN_MS);
      gaps.push(passing.gap());
    }
    await until(() => saves(stage), 'it saves again', 30_000);
    const { acknowledged, refused } = await stopEditing();
    // The edit after the last refusal has the database say what it has.
    await until(() => post(stage, 'banks', { name: 'The last' }).then(() => true), 'it saves');
    const sent = passing.sent();
    const lost = await passing.stop();
    const kept = await names(stage);
    return {
      what: 'PostgreSQL',
      sent,
      lost,
      gaps,
      acknowledged: acknowledged.length,
      there: acknowledged.filter((name) => kept.has(name)).length,
      refusedButThere: refused.filter((name) => kept.has(name)).length,
    };
  } finally {
    await stage.stop();
  }
}

export async function killServer(): Promise<KillFigures> {
  const stage = await openTestStage();
  try {
    const passing = await signals(stage);
    const gaps: number[] = [];
    await wait(BETWEEN_MS);
    passing.gap();
    for (let kill = 0; kill < KILLS; kill++) {
      const pid = await until(() => stage.server.pid(), 'a server is there');
      process.kill(pid, 'SIGKILL');
      await wait(BETWEEN_MS);
      gaps.push(passing.gap());
    }
    const sent = passing.sent();
    return { what: 'the web server', sent, lost: await passing.stop(), gaps };
  } finally {
    await stage.stop();
  }
}

/** The pad that holds levels up. */
const PAD = 36;

/** Makes a mapping of a pad that holds up a slot and an OSC value while it is down. */
async function holdsUp(
  stage: TestStage,
  lineId: string,
): Promise<{ up(): Promise<number>; close(): Promise<void> }> {
  const screen = createSocket('udp4');
  let value = 0;
  screen.on('message', (bytes) => {
    if (bytes.toString('latin1').startsWith('/swell\0')) value = bytes.readFloatBE(bytes.length - 4);
  });
  await new Promise<void>((done) => screen.bind(0, '127.0.0.1', done));
  const { line } = await addOscLine(stage, 'Swell', screen.address().port);
  await post(stage, 'mappings', {
    name: 'Held up',
    hear: { message: 'held', lineId, channels: [0, 0], numbers: [PAD, PAD], values: 'any' },
    sends: [
      { kind: 'slot', lineId: 'lantern-rig', slot: 40, range: [0, 255] },
      { kind: 'osc', lineId: line.id, address: '/swell', args: [{ type: 'f', value: 'shaped' }] },
    ],
  });
  return {
    async up() {
      const levels = (await (await fetch(`${stage.address}api/desk/levels/lantern-rig`)).json()) as number[];
      return Number(levels[39]! > 0) + Number(value > 0);
    },
    close: () => new Promise((done) => screen.close(() => done())),
  };
}

export async function killEngine(): Promise<KillFigures> {
  const stage = await openTestStage();
  const socket = new WebSocket(`ws://127.0.0.1:${stage.port}/live`);
  await new Promise((done) => socket.on('open', done));
  try {
    const passing = await signals(stage);
    const organ = { kind: 'midi-inside', name: 'Organ', in: true, out: true };
    let open = false;
    let lineId = '';
    let releasedAt = 0;
    socket.on('message', (data: Buffer, isBinary: boolean) => {
      if (isBinary) {
        if (data[0] === PORT_BYTES && data[2] === 0x80 && data[3] === 60) releasedAt ||= performance.now();
        return;
      }
      const message = JSON.parse(data.toString()) as FromServer;
      if (message.t === 'lineStates') open = message.states[lineId]?.state === 'open';
    });
    socket.send(JSON.stringify({ t: 'ports', ports: [organ] }));
    const line = await post<Line>(stage, 'lines', { kind: 'midi-inside', name: 'Organ', port: 'Organ' });
    lineId = line.id;
    const press = { kind: 'note', lineId, channel: 0, number: 60 };
    const moment = await post<{ id: string }>(stage, 'moments', {
      sends: [{ kind: 'send', value: 100, send: press }],
    });
    const held = await holdsUp(stage, lineId);
    const gaps: number[] = [];
    const releasedMs: number[] = [];
    let hanging = 0;
    let up = 0;
    await wait(BETWEEN_MS);
    for (let kill = 0; kill < KILLS; kill++) {
      await until(
        () =>
          open &&
          post(stage, 'desk/order', { do: 'try', id: moment.id }).then(
            () => true,
            () => false,
          ),
        'the note sounds',
      );
      socket.send(Uint8Array.of(PORT_BYTES, 0, 0x90, PAD, 100));
      await until(async () => (await held.up()) === 2, 'the pad holds both levels up');
      await wait(BETWEEN_MS / 2);
      releasedAt = 0;
      passing.gap();
      const killedAt = performance.now();
      process.kill(await until(() => stage.engine.pid(), 'an engine is there'), 'SIGKILL');
      await wait(BETWEEN_MS);
      if (releasedAt === 0) hanging++;
      else releasedMs.push(releasedAt - killedAt);
      gaps.push(passing.gap());
      up += await held.up();
      // Nobody knows of that press any more; its release does nothing.
      socket.send(Uint8Array.of(PORT_BYTES, 0, 0x80, PAD, 0));
    }
    const sent = passing.sent();
    await held.close();
    return { what: 'the engine', sent, lost: await passing.stop(), gaps, releasedMs, hanging, up };
  } finally {
    socket.terminate();
    await stage.stop();
  }
}
