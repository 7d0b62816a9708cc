/** Position and tempo with a real engine, a database and sockets: what is asked of them, and what dies meanwhile. */
import { createSocket, type Socket } from 'node:dgram';
import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import type { Show } from '@tawny-signal/core/show';
import type { TimeOutput, TimeSource } from '@tawny-signal/core/time/ways';
import type { Line } from '@tawny-signal/core/show/line';
import type { Transport } from '@tawny-signal/core/time/transport';
import { readSamples, readWavHeader } from '@tawny-signal/core/files/wav';
import { createLtcDecoder } from '@tawny-signal/core/timecode/ltc/decoder';
import { frameOf } from '@tawny-signal/core/timecode/timecode';
import { CLOCK_VARIABLE } from '@tawny-signal/core/link/common-clock';
import type { FromServer } from '@tawny-signal/core/live/messages';
import WebSocket from 'ws';
import { tryPort } from '../scripts/ports.js';
import { openTestStage, until, type TestStage } from '../scripts/test-stage.js';

const OSC_ADDRESS = 'An OSC address begins with /, like /fog/density, and has no spaces.';

let stage: TestStage;
let far: Socket;
/** The addresses that arrived, in their order. */
let arrived: string[] = [];
let bell: Line;

interface Refusal {
  message: string;
  fields?: { field: string; message: string }[];
}
const call = async <T>(method: string, path: string, body?: object): Promise<{ status: number; body: T }> => {
  const response = await fetch(`${stage.address}api/${path}`, {
    method,
    headers: { 'Content-Type': 'application/json' },
    body: body ? JSON.stringify(body) : null,
  });
  return { status: response.status, body: (await response.json()) as T };
};
/** @throws if the engine has not done it */
const position = async (act: object): Promise<Transport['position']> => {
  const { status, body } = await call<Transport>('POST', 'desk/position', act);
  if (status !== 200) throw new Error(`${status} ${JSON.stringify(body)}`);
  return body.position;
};
const showNow = async (): Promise<Show> => (await call<{ show: Show }>('GET', 'show')).body.show;

/** As if somebody had set the clock of the machine an hour forward since all of it was started. */
const HOUR = 3_600_000;
const STARTED_BY = Date.now() - HOUR - Number(process.hrtime.bigint()) / 1e6;

beforeAll(async () => {
  stage = await openTestStage({ env: { [CLOCK_VARIABLE]: String(STARTED_BY) } });
  far = createSocket('udp4');
  far.on('message', (bytes) => arrived.push(bytes.toString('latin1').replace(/\0.*$/s, '')));
  await new Promise<void>((done) => far.bind(0, '127.0.0.1', done));
  const line = {
    kind: 'osc-udp',
    name: 'Bell tower',
    host: '127.0.0.1',
    port: far.address().port,
    listenPort: null,
  };
  bell = (await call<Line>('POST', 'lines', line)).body;
}, 240_000);
afterAll(async () => {
  far.close();
  await stage.stop();
}, 120_000);
beforeEach(() => {
  arrived = [];
});

describe('rows of time', () => {
  test('are added, moved, changed and removed, each as one edit', async () => {
    const made = await call<TimeSource>('POST', 'time-sources', { kind: 'mtc', lineId: 'score-player' });
    expect(made.body).toMatchObject({ kind: 'mtc', frameRate: null, offsetMs: 0 });
    await call('POST', `time-sources/${made.body.id}/move`, { after: null });
    expect((await showNow()).timeSources[0]!.id).toBe(made.body.id);
    await call('PATCH', `time-sources/${made.body.id}`, { frameRate: '29.97' });
    expect((await showNow()).timeSources[0]!.frameRate).toBe('29.97');
    const removed = await call<{ label: string }>('DELETE', `time-sources/${made.body.id}`);
    expect(removed.body.label).toBe('Remove time source Score player, MIDI timecode');
    for (let steps = 0; steps < 4; steps++) await call('POST', 'undo');
    expect((await showNow()).timeSources.map(({ id }) => id)).toEqual(['tide', 'drums']);
  });

  test.each<[string, object, string]>([
    ['time-sources', { kind: 'mtc', lineId: 'water-screen' }, 'MIDI timecode needs a MIDI line.'],
    ['time-sources', { kind: 'mtc', lineId: 'tide-clock' }, 'Tide clock is in this list already.'],
    ['time-outputs', { kind: 'osc', lineId: 'tide-clock' }, 'OSC needs an OSC line.'],
    ['time-sources', { kind: 'ltc', lineId: 'tide-clock' }, 'Linear timecode needs a line with sound.'],
    ['time-sources', { kind: 'artnet', lineId: 'water-screen' }, 'Art-Net timecode needs an Art-Net line.'],
    ['time-sources', { kind: 'osc', lineId: 'water-screen', address: 'time' }, OSC_ADDRESS],
    [
      'time-outputs',
      { kind: 'osc', lineId: 'water-screen', perSecond: 0 },
      'It is sent 1 to 100 times a second.',
    ],
    ['time-outputs', { kind: 'clock', lineId: 'water-screen' }, 'MIDI clock needs a MIDI line.'],
  ])('of %s %j are refused in words', async (path, body, words) => {
    const answer = await call<Refusal>('POST', path, body);
    expect(answer.status).toBe(422);
    expect(answer.body.fields?.map(({ message }) => message)).toContain(words);
  });

  test('a removed line takes them along to another one', async () => {
    const line = (await call<Line>('POST', 'lines', { kind: 'midi-inside', name: 'Spare', port: 'Spare' }))
      .body;
    const made = await call<TimeOutput>('POST', 'time-outputs', { kind: 'mtc', lineId: line.id });
    await call('DELETE', `lines/${line.id}?moveTo=score-player`);
    expect((await showNow()).timeOutputs.find(({ id }) => id === made.body.id)!.lineId).toBe('score-player');
    await call('DELETE', `time-outputs/${made.body.id}`);
  });
});

describe('the position', () => {
  test('is asked for, and says where it is', async () => {
    const there = await position({ do: 'locate', ms: 60_000 });
    expect(there).toMatchObject({ mode: 'own', counts: 'own', motion: { ms: 60_000, speed: 0 } });
    expect((await position({ do: 'play' })).motion.speed).toBe(1);
    expect((await position({ do: 'speed', speed: 0.5 })).motion.speed).toBe(0.5);
    await position({ do: 'speed', speed: 1 });
    expect((await position({ do: 'stop' })).motion.speed).toBe(0);
  });

  test.each([
    [{ do: 'locate', ms: -1 }, 'A position is a time from 0 to 24 h.'],
    [{ do: 'speed', speed: 9 }, 'A speed is 25 to 400 %.'],
    [{ do: 'loop', loop: { from: 10, to: 10 } }, 'A loop ends at least 0.1 s after it begins.'],
  ])('refuses %j in words', async (act, words) => {
    const answer = await call<Refusal>('POST', 'desk/position', act);
    expect(answer.status).toBe(422);
    expect(JSON.stringify(answer.body)).toContain(words);
  });

  test('is standing at the beginning when another show is opened', async () => {
    await position({ do: 'playFrom', ms: 7_200_000 });
    const { openId } = (await call<{ openId: string }>('GET', 'shows')).body;
    await call('POST', 'shows', { name: 'Encore' });
    await until(async () => (await position({ do: 'calls', on: true })).motion.speed === 0, 'it stands');
    expect((await position({ do: 'calls', on: true })).motion.ms).toBe(0);
    await call('POST', `shows/${openId}/open`);
  });
});

describe('a file of linear timecode', () => {
  const get = (query: string): Promise<Response> => fetch(`${stage.address}api/ltc/file?${query}`);

  test('is a WAV file of 24 bits, in which every frame is read again', async () => {
    const response = await get('from=01:00:00:00&to=01:00:09:24&rate=25');
    expect(response.headers.get('content-disposition')).toContain('ltc 01-00-00-00 to 01-00-09-24 25.wav');
    const bytes = new Uint8Array(await response.arrayBuffer());
    const header = readWavHeader(bytes, bytes.length);
    if (!header.ok) throw new Error(header.reason);
    expect(header.format).toMatchObject({
      sampleRate: 48_000,
      bits: 24,
      channels: 1,
      dataBytes: 480_048 * 3,
    });
    const frames: number[] = [];
    const decoder = createLtcDecoder(48_000, ({ parts }) => frames.push(frameOf(parts, '25')));
    decoder.feed(readSamples(bytes.subarray(44), header.format, 0));
    expect(frames.at(-1)).toBe(90_249);
    expect(frames).toEqual(frames.map((_, at) => frames[0]! + at));
    expect(frames.length).toBeGreaterThanOrEqual(248);
  });

  test('that ends before it begins is refused at its field', async () => {
    const response = await get('from=01:00:10:00&to=01:00:00:00');
    expect(response.status).toBe(422);
    const { fields } = (await response.json()) as Refusal;
    expect(fields).toEqual([
      { field: 'to', message: 'It ends before it begins: write a timecode after 01:00:10:00.' },
    ]);
  });

  test('of hours ends when nobody takes it any more', async () => {
    const stop = new AbortController();
    const response = await fetch(`${stage.address}api/ltc/file?from=00:00:00:00&to=02:00:00:00`, {
      signal: stop.signal,
    });
    const reader = response.body!.getReader();
    await reader.read();
    const second = new AbortController();
    const other = await fetch(`${stage.address}api/ltc/file?from=00:00:00:00&to=02:00:00:00`, {
      signal: second.signal,
    });
    // No more than two are made at once.
    const third = await get('from=01:00:00:00&to=01:00:01:00');
    expect(await third.text()).toContain('Two files are being made already.');
    stop.abort();
    second.abort();
    await expect(reader.read()).rejects.toThrow();
    await other.body?.cancel().catch(() => undefined);
    await until(
      async () => (await get('from=01:00:00:00&to=01:00:01:00')).status === 200,
      'there is room again',
    );
    expect((await position({ do: 'stop' })).motion.speed).toBe(0);
  });
});

const MOMENTS = Array.from({ length: 12 }, (_, n) => ({
  id: `peal-${n}`,
  address: `/peal/${n}`,
  /** Half a second apart, from 10:00:01:00 on. */
  timecode: `10:00:${String(1 + Math.floor(n / 2)).padStart(2, '0')}:${n % 2 === 0 ? '00' : '12'}`,
}));
const TEN_HOURS = 36_000_000;

async function ring(): Promise<void> {
  for (const { id, address, timecode } of MOMENTS) {
    const send = { kind: 'osc', lineId: bell.id, address, args: [{ type: 'f', value: 'shaped' }] };
    await call('POST', 'moments', { name: id, timecode, sends: [{ kind: 'send', send, value: 1 }] });
  }
}

/** Kills the engine, and waits until another one is in its place. */
async function killEngine(): Promise<void> {
  const before = stage.engine.pid()!;
  process.kill(before, 'SIGKILL');
  await until(
    () => stage.engine.pid() !== null && stage.engine.pid() !== before,
    'another engine is started',
  );
}

test('an engine that is killed while our own position plays goes on, and calls each moment once', async () => {
  await ring();
  await position({ do: 'playFrom', ms: TEN_HOURS });
  const pealed = (): number => arrived.filter((address) => address.startsWith('/peal/')).length;
  for (const kill of [1, 2, 3]) {
    // Each of them has called something, at once after it began where that took long: it dies before any file is written.
    const before = pealed();
    await until(() => pealed() > before || pealed() === MOMENTS.length, `engine ${kill} calls a moment`);
    await killEngine();
  }
  await until(() => arrived.includes('/peal/11'), 'the last moment is called');
  expect(arrived.filter((address) => address.startsWith('/peal/'))).toEqual(
    MOMENTS.map(({ address }) => address),
  );
});

/** Waits for something that the server tells browsers. @param find null for a message that does not say it */
function told(find: (message: FromServer) => number | null): Promise<number> {
  const socket = new WebSocket(`ws://127.0.0.1:${stage.port}/live`);
  return new Promise((done, fail) => {
    socket.on('error', fail);
    socket.on('open', () => socket.send(JSON.stringify({ t: 'clock', sent: 0 })));
    socket.on('message', (data, isBinary) => {
      const found = isBinary ? null : find(JSON.parse(String(data)) as FromServer);
      if (found === null) return;
      socket.close();
      done(found);
    });
  });
}

/** A minute is more than a test takes, and less than the hour by which a clock of their own would be off. */
const offMs = (at: number): number => Math.abs(at - (Date.now() - HOUR));

test('an engine and a server count by the clock that was when all of it was started, and so does the next engine', async () => {
  for (const kills of [false, true]) {
    if (kills) await killEngine();
    const { at } = (await until(() => position({ do: 'playFrom', ms: 0 }), 'an engine is there')).motion;
    const clock = await told((message) => (message.t === 'clock' ? message.now : null));
    for (const one of [at, clock]) expect(offMs(one)).toBeLessThan(HOUR / 60);
  }
  await position({ do: 'stop' });
});

test('a line that tries again says when by that clock too', async () => {
  const port = (await tryPort(0))!;
  const nobody = {
    kind: 'osc-tcp',
    name: 'Nobody',
    host: '127.0.0.1',
    port,
    listenPort: null,
    framing: 'slip',
  };
  const made = await call<Line>('POST', 'lines', nobody);
  expect(made.status).toBe(201);
  const { id } = made.body;
  const nextTryAt = await told(
    (message) => (message.t === 'lineStates' && message.states[id]?.nextTryAt) || null,
  );
  expect(offMs(nextTryAt)).toBeLessThan(HOUR / 60);
  await call('DELETE', `lines/${id}`);
});

test('a server that is killed meanwhile changes nothing', async () => {
  // The engine that was killed before is back, and the server knows it: until then it says that nothing was done.
  await until(async () => (await position({ do: 'stop' })).mode === 'own', 'the engine is back');
  arrived = [];
  await position({ do: 'playFrom', ms: TEN_HOURS });
  await until(() => arrived.includes('/peal/2'), 'a moment is called');
  const before = stage.server.pid()!;
  process.kill(before, 'SIGKILL');
  await until(() => arrived.includes('/peal/11'), 'the last moment is called');
  expect(arrived).toEqual(MOMENTS.map(({ address }) => address));
  await until(async () => (await position({ do: 'stop' })).mode === 'own', 'the server is back');
});
