import { usesOf, usesWords } from '@tawny-signal/core/uses/rows';
import { createSocket } from 'node:dgram';
import { request } from 'node:http';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import pg from 'pg';
import WebSocket from 'ws';
import { timedPortBytes } from '@tawny-signal/core/live/batch';
import type { DeskState, FromServer } from '@tawny-signal/core/live/messages';
import type { Show } from '@tawny-signal/core/show';
import type { Layout } from '@tawny-signal/core/show/layout';
import type { Line } from '@tawny-signal/core/show/line';
import type { Mapping } from '@tawny-signal/core/show/mapping';
import type { Moment } from '@tawny-signal/core/show/moment';
import { makeShape } from '@tawny-signal/core/show/shape';
import { openTestStage, until, type TestStage } from '../scripts/test-stage.js';

let stage: TestStage;
beforeAll(async () => {
  stage = await openTestStage();
}, 240_000);
afterAll(() => stage.stop(), 120_000);

interface Answer<T> {
  status: number;
  body: T;
}
interface Problem {
  message: string;
  fields: { field: string; message: string }[];
}

async function call<T = Problem>(method: string, path: string, body?: unknown): Promise<Answer<T>> {
  const init: RequestInit = { method };
  if (body !== undefined) {
    init.headers = { 'Content-Type': 'application/json' };
    init.body = typeof body === 'string' ? body : JSON.stringify(body);
  }
  const response = await fetch(`${stage.address}api/${path}`, init);
  const text = await response.text();
  return { status: response.status, body: (text === '' ? null : JSON.parse(text)) as T };
}

const show = async (): Promise<Show> => (await call<{ show: Show }>('GET', 'show')).body.show;
const mapping = async (id: string): Promise<Mapping | undefined> =>
  (await show()).mappings.find((one) => one.id === id);
const fields = ({ body }: Answer<Problem>): string[] =>
  body.fields.map(({ field, message }) => `${field}: ${message}`);

describe('editing', () => {
  test('a change is kept, undone and done again', async () => {
    const before = (await mapping('storm-go'))!;
    const sends = [{ ...before.sends[0], address: '/moment/storm/now' }];
    expect((await call('PATCH', 'mappings/storm-go', { sends })).status).toBe(200);
    expect((await mapping('storm-go'))!.sends).toMatchObject([{ address: '/moment/storm/now' }]);
    expect((await call('POST', 'undo')).body).toEqual({ label: 'Change Storm glass breaks' });
    expect(await mapping('storm-go')).toEqual(before);
    await call('POST', 'redo');
    expect((await mapping('storm-go'))!.sends).toEqual(sends);
    await call('POST', 'undo');
  });

  test('rows are added, copied, moved and removed, and undo brings each back', async () => {
    const order = async (): Promise<string[]> => (await show()).mappings.map(({ id }) => id);
    const before = await order();
    const added = (await call<Mapping>('POST', 'mappings', { after: 'storm-go' })).body;
    const copy = (await call<Mapping>('POST', `mappings/${added.id}/copy`)).body;
    expect((await order()).slice(0, 3)).toEqual(['storm-go', added.id, copy.id]);
    await call('POST', `mappings/${copy.id}/move`, { after: null });
    expect((await order()).slice(0, 3)).toEqual([copy.id, 'storm-go', added.id]);
    await call('DELETE', 'mappings/storm-go');
    expect(await order()).not.toContain('storm-go');
    for (let i = 0; i < 4; i++) await call('POST', 'undo');
    expect(await order()).toEqual(before);
  });

  test('rows that are moved into the same gap again and again stay in order', async () => {
    const ids = (await show()).mappings.map(({ id }) => id);
    const [first, second, third] = ids as [string, string, string];
    for (let i = 0; i < 30; i++) {
      await call('POST', `mappings/${i % 2 ? second : third}/move`, { after: first });
    }
    expect((await show()).mappings.map(({ id }) => id).slice(0, 3)).toEqual([first, second, third]);
  });

  test('an edit that changes nothing is no edit', async () => {
    const { name } = (await mapping('fog'))!;
    const rev = async (): Promise<number> => (await call<{ rev: number }>('GET', 'show')).body.rev;
    const before = await rev();
    await call('PATCH', 'mappings/fog', { name });
    expect(await rev()).toBe(before);
  });

  test('a bank that is removed lets its mappings stay, and undo brings both back', async () => {
    await call('DELETE', 'banks/storm-glass');
    expect((await mapping('storm-go'))!.bankId).toBeNull();
    await call('POST', 'undo');
    expect((await mapping('storm-go'))!.bankId).toBe('storm-glass');
  });

  test('a route is made with all let through, changed, and undone', async () => {
    const routes = async (): Promise<Show['routes']> => (await show()).routes;
    const before = await routes();
    const { body } = await call<Show['routes'][number]>('POST', 'routes', {
      fromId: 'pier-pads',
      toId: 'fog-laser',
    });
    expect(body).toMatchObject({ carries: 'midi', channels: 'any', notes: 'any', transpose: 0, on: true });
    await call('PATCH', `routes/${body.id}`, { transpose: -12 });
    expect((await routes()).at(-1)).toMatchObject({ transpose: -12 });
    await call('POST', 'undo');
    await call('POST', 'undo');
    expect(await routes()).toEqual(before);
  });

  test('a line that is removed leaves its routes and mappings, and undo joins them again', async () => {
    const before = await show();
    await call('DELETE', 'lines/deck-desk');
    expect((await show()).routes).toEqual(before.routes);
    await call('POST', 'undo');
    expect(await show()).toEqual(before);
  });

  test('what uses a removed row can use another one, as one edit', async () => {
    const before = await show();
    const { body } = await call<Show['lines'][number]>('POST', 'lines', {
      kind: 'midi-inside',
      name: 'Second pads',
      port: 'Second pads',
    });
    const { body: removed } = await call<{ label: string }>('DELETE', `lines/pier-pads?moveTo=${body.id}`);
    expect(removed.label).toBe('Remove line Pier pads');
    const after = await show();
    expect(usesWords(usesOf(after, 'lines', 'pier-pads'))).toBe('');
    expect(after.mappings.map(({ hear }) => hear.lineId).filter((id) => id === body.id)).toHaveLength(
      before.mappings.filter(({ hear }) => hear.lineId === 'pier-pads').length,
    );
    await call('POST', 'undo');
    await call('POST', 'undo');
    expect(await show()).toEqual(before);
    const refused = await call('DELETE', 'lines/pier-pads?moveTo=lantern-rig');
    expect(refused).toMatchObject({ status: 422, body: { fields: [{ field: 'moveTo' }] } });
    expect((await call('DELETE', 'looks/none?moveTo=x')).status).toBe(404);
    expect(await show()).toEqual(before);
  });

  test('all of it is there after a restart, and undo goes on from before it', async () => {
    await call('PATCH', 'mappings/fog', { name: 'Fog over the pier' });
    await call('PUT', 'desk/armed', { armed: false });
    const before = await show();
    await stage.restart();
    expect(await show()).toEqual(before);
    expect((await call<DeskState>('GET', 'desk')).body.armed).toBe(false);
    await call('PUT', 'desk/armed', { armed: true });
    expect((await call('POST', 'undo')).body).toEqual({ label: 'Change Fog bank' });
    expect((await mapping('fog'))!.name).toBe('Fog bank');
  }, 240_000);

  test('edits made at the same time all hold', async () => {
    const names = ['Gull', 'Buoy', 'Rope', 'Mole', 'Crane'];
    await Promise.all(names.map((name) => call('POST', 'banks', { name })));
    expect((await show()).banks.map(({ name }) => name)).toEqual(expect.arrayContaining(names));
    for (let i = 0; i < names.length; i++) await call('POST', 'undo');
    expect((await show()).banks.map(({ name }) => name)).toEqual(['House', 'Storm glass']);
  });
});

describe('bad input is said at its field, and changes nothing', () => {
  const hear = { message: 'pressed', lineId: 'pier-pads', channels: 'any', numbers: 'any', values: 'any' };
  const send = { kind: 'osc', lineId: 'water-screen', address: '/x', args: [] };

  test.each<[string, string, string, unknown, string]>([
    [
      'an OSC address without /',
      'PATCH',
      'mappings/fog',
      { sends: [{ ...send, address: 'fog' }] },
      'sends.0.address: An OSC address begins with /',
    ],
    [
      'a port of 70000',
      'PATCH',
      'lines/water-screen',
      { port: 70_000 },
      'port: A port is a number from 1 to 65535.',
    ],
    ['a channel of 17', 'PATCH', 'mappings/fog', { hear: { ...hear, channels: [16, 16] } }, 'hear.channels'],
    [
      'a name already used',
      'PATCH',
      'lines/water-screen',
      { name: 'pier PADS' },
      'name: “Pier pads” is used already. Choose another name.',
    ],
    ['a note of 200', 'PATCH', 'mappings/fog', { hear: { ...hear, numbers: [200, 200] } }, 'hear.numbers'],
    [
      'a new line without its port',
      'POST',
      'lines',
      { kind: 'osc-udp', name: 'Gull', host: 'localhost', listenPort: null },
      'port: ',
    ],
    ['a kind of line that there is not', 'POST', 'lines', { kind: 'carrier-pigeon', name: 'Gull' }, 'kind: '],
    [
      'universe 0 in sACN',
      'PATCH',
      'lines/lantern-rig',
      { universe: 0 },
      'universe: An sACN universe is a number from 1 to 63999.',
    ],
    [
      'universe 64000 in sACN',
      'PATCH',
      'lines/lantern-rig',
      { universe: 64_000 },
      'universe: An sACN universe',
    ],
    [
      'universe 40000 in Art-Net',
      'PATCH',
      'lines/deck-desk',
      { universe: 40_000 },
      'universe: An Art-Net universe is a number from 0 to 32767.',
    ],
    [
      'a delay of a minute',
      'PATCH',
      'lines/deck-desk',
      { delayMs: 60_000 },
      'delayMs: A delay is a time from 0 to 10',
    ],
    [
      'a sender that is no address',
      'PATCH',
      'lines/deck-desk',
      { hearFrom: ['front of house'] },
      'hearFrom.0: Write addresses like 192.168.1.20, or networks',
    ],
    [
      'a route whose channels run backwards',
      'PATCH',
      'routes/score-to-laser',
      { channels: [{ from: [7, 2], to: null }] },
      'The range runs backwards',
    ],
    [
      'a route to a line that carries something else',
      'POST',
      'routes',
      { fromId: 'pier-pads', toId: 'water-screen' },
      'toId: Water screen carries OSC, and this route MIDI.',
    ],
    [
      'a route that would feed itself, through another',
      'POST',
      'routes',
      { fromId: 'fog-laser', toId: 'score-player', channels: [{ from: [5, 5], to: [2, 2] }], transpose: 36 },
      'toId: This route would feed itself: Fog laser → Score player → Fog laser.',
    ],
    [
      'a route of keys',
      'POST',
      'routes',
      { fromId: 'quay-stream', toId: 'pier-pads' },
      'fromId: Keys can’t be routed',
    ],
    [
      'a member that there is not',
      'PATCH',
      'mappings/fog',
      { send: {} },
      'send: There is no field “send” here',
    ],
    [
      'a field of a line whose name is misspelt',
      'POST',
      'lines',
      { kind: 'osc-udp', name: 'Quay', host: '127.0.0.1', port: 9000, listenPort: null, listenprot: 9001 },
      'listenprot: There is no field “listenprot” here',
    ],
    [
      'a field deep in a moment whose name is misspelt',
      'POST',
      'moments',
      { sends: [{ kind: 'levels', lineId: null, levels: [{ slots: [1, 2], level: 4, levle: 3 }] }] },
      'sends.0.levels.0.levle: There is no field',
    ],
    [
      'a field deep in a mapping whose name is misspelt',
      'PATCH',
      'mappings/fog',
      { shape: { ...makeShape({ from: 'value', in: [0, 127], out: [0, 1], curve: 'straight' }), stpes: 3 } },
      'shape.stpes: There is no field',
    ],
    [
      'a field of a layout that there is not',
      'POST',
      'layouts',
      { name: 'Rack', rows: 4 },
      'rows: There is no field',
    ],
    ['a setting that there is not', 'PATCH', 'show/settings', { temp: 100 }, 'temp: There is no field'],
    [
      'system-exclusive that is none',
      'PATCH',
      'mappings/fog',
      { sends: [{ kind: 'sysex', lineId: 'fog-laser', template: 'F0 90 F7' }] },
      'sends.0.template: 90 can’t be inside: data bytes go from 00 to 7F.',
    ],
    ['a middle C of 7', 'PATCH', 'show/settings', { middleC: 7 }, 'middleC: '],
  ])('%s', async (_, method, path, body, said) => {
    const before = await call<{ rev: number }>('GET', 'show');
    const answer = await call(method, path, body);
    expect(answer.status).toBe(422);
    expect(fields(answer).join('\n')).toContain(said);
    expect((await call<{ rev: number }>('GET', 'show')).body).toEqual(before.body);
  });

  test('a row that is gone, and JSON that is none', async () => {
    expect(await call('PATCH', 'mappings/nobody', { on: false })).toMatchObject({
      status: 404,
      body: { message: expect.stringContaining('no longer exists') },
    });
    expect(await call('POST', 'banks', '{"name":')).toMatchObject({
      status: 400,
      body: { message: expect.stringContaining('JSON') },
    });
  });

  test.each([
    ['a text', new TextEncoder().encode('slack water'), 'This is not a MIDI file.'],
    [
      'a file that breaks off',
      Uint8Array.of(0x4d, 0x54, 0x68, 0x64, 0, 0, 0, 6, 0, 1, 0, 2, 1, 0xe0),
      'breaks off',
    ],
  ])('%s for the score player', async (_, bytes, said) => {
    const response = await fetch(`${stage.address}api/stand-ins/score-player/file?name=x.mid`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/octet-stream' },
      body: bytes,
    });
    expect(response.status).toBe(422);
    expect(((await response.json()) as Problem).fields).toEqual([
      { field: 'file', message: expect.stringContaining(said) },
    ]);
  });
});

/** Sends a file, as it is. */
async function send<T = Problem>(path: string, file: string): Promise<Answer<T>> {
  const response = await fetch(`${stage.address}api/files/${path}`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/octet-stream' },
    body: file,
  });
  return { status: response.status, body: (await response.json()) as T };
}
const read = async (path: string): Promise<string> =>
  (await fetch(`${stage.address}api/files/${path}`)).text();

describe('files', () => {
  test.each(['application/json', 'text/plain'])(
    'that come as %s are refused with the type that is wanted',
    async (type) => {
      const response = await fetch(`${stage.address}api/files/show`, {
        method: 'POST',
        headers: { 'Content-Type': type },
        body: await read('show'),
      });
      expect(response.status).toBe(422);
      expect(((await response.json()) as Problem).message).toContain('is sent as application/octet-stream');
    },
  );

  test('a show that is saved, changed and opened again is as it was, and Undo brings the change back', async () => {
    const before = await show();
    const file = await read('show');
    await call('DELETE', 'mappings/lamp');
    await call('POST', 'banks', { name: 'Encore' });
    expect((await send('show', file)).body).toMatchObject({
      name: 'The Lantern Pier',
      mappings: before.mappings.length,
      differs: 2,
    });
    expect(await show()).toEqual(before);
    await call('POST', 'undo');
    expect((await show()).banks.map(({ name }) => name)).toContain('Encore');
    await call('POST', 'undo');
    await call('POST', 'undo');
    expect(await show()).toEqual(before);
  });

  test('a bank is added under a free name, with lines found by their names', async () => {
    const file = await read('bank/storm-glass');
    const { body } = await send<{ name: string; mappings: number; missing: string[] }>('bank', file);
    expect(body).toMatchObject({ name: 'Storm glass 2', missing: [] });
    const added = (await show()).mappings.filter(
      (one) => one.bankId !== 'storm-glass' && one.name === 'Storm strobe',
    );
    expect(added).toHaveLength(1);
    expect(added[0]!.sends[0]!.lineId).toBe('lantern-rig');
    await call('POST', 'undo');
  });

  test('a layout is saved and opened', async () => {
    const { body } = await send<Layout>('layout', await read('layout/pier-pads'));
    expect(body).toMatchObject({ name: 'Pier pads 2', lineId: null });
    expect(body.controls).toHaveLength(20);
    await call('DELETE', `layouts/${body.id}`);
  });

  test('mappings go out as a table and come in again, with bad lines named', async () => {
    const table = await read('mappings.csv');
    const before = (await show()).mappings;
    const looked = await send<{ added: number; bad: object[] }>('mappings.csv?look=true', table);
    expect(looked.body).toEqual({ added: before.length, bad: [] });
    expect((await show()).mappings).toHaveLength(before.length);
    const broken = `${table}Odd,,,,hit,,,,,,,,osc,,/x,\r\n`;
    const { body } = await send<{ added: number; bad: { line: number; reason: string }[] }>(
      'mappings.csv',
      broken,
    );
    expect(body.added).toBe(before.length);
    expect(body.bad).toMatchObject([
      { line: before.length + 2, reason: expect.stringContaining('“hit” is not one of') },
    ]);
    const withoutIds = (list: Mapping[]): object[] => list.map((one) => ({ ...one, id: '' }));
    const after = (await show()).mappings;
    expect(withoutIds(after.slice(before.length))).toEqual(withoutIds(before));
    await call('POST', 'undo');
  });

  test.each([
    ['show', 'lantern', 'This file is not JSON'],
    ['show', '{"format":"tawny-signal-bank"}', 'a show is needed here'],
    ['bank', '{}', 'This is not a Tawny Signal file'],
    ['layout', '{"format":"tawny-signal-layout","version":1}', 'layout: '],
  ])('a %s that is none (%s) is refused in words, and nothing is changed', async (kind, file, words) => {
    const before = await show();
    const refused = await send(kind, file);
    expect(refused.status).toBe(422);
    expect(refused.body.message).toContain(words);
    expect(await show()).toEqual(before);
  });

  test('a show of 3,000 mappings is opened in one go', async () => {
    const before = await show();
    const [plain] = before.mappings;
    const mappings = Array.from({ length: 3000 }, (_, at) => ({ ...plain, id: `many-${at}` }));
    const { status } = await send('show', JSON.stringify({ ...before, mappings }));
    expect(status).toBe(200);
    expect((await show()).mappings).toHaveLength(3000);
    await call('POST', 'undo');
    expect(await show()).toEqual(before);
  });
});

describe('what signals make of the show', () => {
  const isOn = async (): Promise<boolean | undefined> =>
    (await show()).banks.find(({ id }) => id === 'storm-glass')?.on;

  test('is no edit, and is there after a restart', async () => {
    const undo = (await call('GET', 'undo')).body;
    const socket = new WebSocket(`ws://127.0.0.1:${stage.port}/live`);
    await new Promise((done) => socket.on('open', done));
    socket.send(
      JSON.stringify({
        t: 'ports',
        ports: [{ kind: 'midi-inside', name: 'Pier pads', in: true, out: false }],
      }),
    );
    socket.send(Uint8Array.of(2, 0, 0x99, 39, 100));
    await until(async () => (await isOn()) === false, 'the bank is off');
    socket.close();
    expect((await call('GET', 'undo')).body).toEqual(undo);
    await stage.restart();
    expect(await isOn()).toBe(false);
    await call('PATCH', 'banks/storm-glass', { act: 'only' });
    expect((await show()).banks.map(({ on }) => on)).toEqual([false, true]);
    await call('POST', 'undo');
    await call('PATCH', 'banks/storm-glass', { on: true });
  });

  test('a message that says when it arrived is heard, whatever it says; the clock is told to who asks', async () => {
    const socket = new WebSocket(`ws://127.0.0.1:${stage.port}/live`);
    const clocks: Extract<FromServer, { t: 'clock' }>[] = [];
    socket.on('message', (data: Buffer, isBinary: boolean) => {
      const message = isBinary ? null : (JSON.parse(data.toString()) as FromServer);
      if (message?.t === 'clock') clocks.push(message);
    });
    await new Promise((done) => socket.on('open', done));
    socket.send(JSON.stringify({ t: 'clock', sent: 12.5 }));
    await until(() => clocks.length > 0, 'the clock is told');
    expect(clocks[0]).toEqual({ t: 'clock', sent: 12.5, now: expect.any(Number) as unknown as number });
    const ports = [{ kind: 'midi-inside', name: 'Pier pads', in: true, out: false }];
    socket.send(JSON.stringify({ t: 'ports', ports }));
    // The bank is on, and each press switches it.
    for (const [at, on] of [clocks[0]!.now, NaN, -Infinity, 1e300].map(
      (one, i) => [one, i % 2 === 1] as const,
    )) {
      socket.send(timedPortBytes(0, at, Uint8Array.of(0x99, 39, 100)));
      await until(async () => (await isOn()) === on, 'the bank was switched');
    }
    socket.close();
  });

  test('a tempo that is typed or tapped is told to everybody, and is neither an edit nor a row', async () => {
    const before = (await call('GET', 'show')).body;
    const told: number[] = [];
    const listen = async (): Promise<WebSocket> => {
      const socket = new WebSocket(`ws://127.0.0.1:${stage.port}/live`);
      socket.on('message', (data: Buffer, isBinary: boolean) => {
        const message = isBinary ? null : (JSON.parse(data.toString()) as FromServer);
        if (message?.t === 'transport') told.push(message.transport.bpm);
      });
      await new Promise((done) => socket.on('open', done));
      return socket;
    };
    const socket = await listen();
    const refused = await call('PUT', 'desk/tempo', { bpm: 9 });
    expect(refused.body.fields).toEqual([{ field: 'bpm', message: 'A tempo is 20 to 400 beats a minute.' }]);
    expect((await call('PUT', 'desk/tempo', { bpm: 97.5 })).status).toBe(200);
    await until(() => told.at(-1) === 97.5, 'the tempo is told');
    await call('POST', 'desk/tap');
    await until(() => told.length >= 3, 'the tap is told');
    socket.close();
    expect((await call('GET', 'show')).body).toEqual(before);
    await stage.restart();
    told.length = 0;
    const again = await listen();
    await until(() => told.length > 0, 'the tempo is told first of all');
    again.close();
    expect(told[0]).toBe(97.5);
    expect((await call('GET', 'show')).body).toEqual(before);
  });
});

describe('moments', () => {
  const cues = async (): Promise<string[]> => (await show()).moments.map(({ cue }) => cue);

  test('get a cue between their neighbours, are copied, moved and renumbered, and undo brings each back', async () => {
    const before = (await show()).moments;
    const { body } = await call<Moment>('POST', 'moments', { after: 'slack-water', name: 'Gulls' });
    expect(body).toMatchObject({ cue: '2.5', name: 'Gulls', sends: [] });
    expect((await call<Moment>('POST', 'moments/lamp-lit/copy')).body).toMatchObject({
      cue: '6',
      name: 'Lamp lit copy',
    });
    await call('POST', `moments/${body.id}/move`, { after: null });
    expect((await cues())[0]).toBe('2.5');
    await call('POST', 'moments/renumber');
    expect(await cues()).toEqual(['1', '2', '3', '4', '5', '6', '7', '8']);
    for (let i = 0; i < 4; i++) await call('POST', 'undo');
    expect((await show()).moments).toEqual(before);
  });

  test.each([
    [{ cue: '4' }, 'cue: Cue 4 is Storm glass breaks already. Choose another number, such as one between.'],
    [{ cue: 'four' }, 'cue: A cue number is written in digits and points, like 4, 4.5 or 12.1.3.'],
    [{ follow: { after: 'start', ms: -1 } }, 'follow.ms: It follows after 0 to 3600 s.'],
    [
      { sends: [{ kind: 'levels', lineId: 'lantern-rig', levels: [{ slots: [1, 600], level: 3 }] }] },
      'sends.0.levels.0.slots.1: Slots are 1 to 512.',
    ],
    [
      {
        sends: [
          { kind: 'levels', lineId: 'lantern-rig', fadeMs: -1000, levels: [{ slots: [1, 6], level: 3 }] },
        ],
      },
      'sends.0.fadeMs: A fade is a time from 0 to 3600 s.',
    ],
  ])('that are wrong are refused at their field: %j', async (change, said) => {
    const before = (await show()).moments;
    const refused = await call('PATCH', 'moments/slack-water', change);
    expect(refused.status).toBe(422);
    expect(fields(refused)).toContain(said);
    expect((await show()).moments).toEqual(before);
  });

  test('are asked for in a shape that is checked', async () => {
    expect((await call('POST', 'desk/order', { do: 'jump' })).status).toBe(422);
    expect((await call('POST', 'desk/order', { do: 'call', id: 'nowhere' })).status).toBe(200);
  });
});

test('the API describes itself', async () => {
  const response = await fetch(`${stage.address}api/docs-json`);
  const { paths } = (await response.json()) as { paths: Record<string, object> };
  expect(Object.keys(paths)).toEqual(
    expect.arrayContaining(['/api/show', '/api/lines/{id}', '/api/mappings', '/api/undo', '/api/desk/panic']),
  );
});

describe('strangers', () => {
  const status = (headers: Record<string, string>): Promise<number> =>
    new Promise((done) => {
      request({ port: stage.port, host: '127.0.0.1', path: '/api/show', headers }, (response) => {
        response.resume();
        done(response.statusCode!);
      }).end();
    });
  const connects = (origin: string): Promise<boolean> =>
    new Promise((done) => {
      const socket = new WebSocket(`ws://127.0.0.1:${stage.port}/live`, { origin });
      socket.on('open', () => {
        socket.close();
        done(true);
      });
      socket.on('error', () => done(false));
    });

  test('under another name, or from another page, are turned away', async () => {
    expect(await status({ host: `localhost:${stage.port}` })).toBe(200);
    expect(await status({ host: 'pier.example' })).toBe(403);
    expect(await status({ host: `127.0.0.1:${stage.port}`, origin: 'http://pier.example' })).toBe(403);
    expect(await connects(`http://127.0.0.1:${stage.port}`)).toBe(true);
    expect(await connects('http://pier.example')).toBe(false);
  });

  test('that send nonsense over the live connection stop nothing', async () => {
    const socket = new WebSocket(`ws://127.0.0.1:${stage.port}/live`);
    await new Promise((done) => socket.on('open', done));
    for (const text of [
      '',
      '{',
      '[]',
      '{"t":"ports"}',
      '{"t":"try","mappingId":3}',
      '{"t":"toStandIn","name":"nobody","ask":{}}',
    ])
      socket.send(text);
    for (const bytes of [[], [2], [2, 9, 0x90, 1, 1], [9, 9, 9], [2, 0, 0xff]])
      socket.send(Uint8Array.from(bytes));
    const state = await call<DeskState>('GET', 'desk');
    expect([state.status, state.body.engineRestarts]).toEqual([200, 0]);
    socket.close();
  });
});

/** A live connection that remembers what it was told. */
async function listen(): Promise<{
  heard: FromServer[];
  batches: () => number;
  send: (data: string | Uint8Array) => void;
  close: () => void;
}> {
  const socket = new WebSocket(`ws://127.0.0.1:${stage.port}/live`);
  const heard: FromServer[] = [];
  let batches = 0;
  socket.on('message', (data: Buffer, isBinary: boolean) => {
    if (isBinary) batches++;
    else heard.push(JSON.parse(data.toString()) as FromServer);
  });
  await new Promise((done) => socket.on('open', done));
  return { heard, batches: () => batches, send: (data) => socket.send(data), close: () => socket.close() };
}

describe('when something dies', () => {
  /** A pad of our own: pressed, it must arrive at a socket of our own. */
  async function rig(): Promise<{ press: () => void; arrived: () => number; close: () => void }> {
    const socket = createSocket('udp4');
    let arrived = 0;
    socket.on('message', (bytes) => (arrived += bytes.toString('latin1').startsWith('/gull/cries') ? 1 : 0));
    await new Promise<void>((done) => socket.bind(0, '127.0.0.1', done));
    const line = (
      await call<Line>('POST', 'lines', {
        kind: 'osc-udp',
        name: `Gull ${socket.address().port}`,
        host: '127.0.0.1',
        port: socket.address().port,
        listenPort: null,
      })
    ).body;
    const made = (
      await call<Mapping>('POST', 'mappings', {
        hear: { message: 'pressed', lineId: 'pier-pads', channels: 'any', numbers: [99, 99], values: 'any' },
        sends: [{ kind: 'osc', lineId: line.id, address: '/gull/cries', args: [] }],
      })
    ).body;
    const live = await listen();
    live.send(
      JSON.stringify({
        t: 'ports',
        ports: [{ kind: 'midi-inside', name: 'Pier pads', in: true, out: false }],
      }),
    );
    return {
      press: () => live.send(Uint8Array.of(2, 0, 0x90, 99, 100, 0x80, 99, 0)),
      arrived: () => arrived,
      close() {
        live.close();
        socket.close();
        void call('DELETE', `mappings/${made.id}`).then(() => call('DELETE', `lines/${line.id}`));
      },
    };
  }

  test('the engine comes back with the show it had, and says so', async () => {
    const { press, arrived, close } = await rig();
    const watcher = await listen();
    await until(() => (press(), arrived() > 0), 'a press arrives');
    await call('POST', 'desk/fail-engine');
    await until(
      () => watcher.heard.some((message) => message.t === 'desk' && message.desk.engineRestarts === 1),
      'the restart is said',
    );
    const before = arrived();
    await until(() => (press(), arrived() > before), 'a press arrives again');
    watcher.close();
    close();
  }, 240_000);

  test('without the database signals go on, edits are refused in words, and it is said', async () => {
    const { press, arrived, close } = await rig();
    const watcher = await listen();
    await until(() => (press(), arrived() > 0), 'a press arrives');
    const name = new URL(stage.ownerUrl).pathname.slice(1);
    const admin = new pg.Client({ connectionString: stage.ownerUrl.replace(name, 'postgres') });
    await admin.connect();
    await admin.query(`alter database ${name} with allow_connections false`);
    await admin.query('select pg_terminate_backend(pid) from pg_stat_activity where datname = $1', [name]);

    const saving = (wanted: boolean) => () =>
      watcher.heard.some((message) => message.t === 'desk' && message.desk.saving === wanted);
    await until(saving(false), 'it is said that nothing is saved');
    const refused = await call('PATCH', 'mappings/fog', { name: 'Lost in the fog' });
    expect([refused.status, refused.body.message]).toEqual([
      503,
      expect.stringContaining('Not saved: the database is not answering.'),
    ]);
    const before = arrived();
    await until(() => (press(), arrived() > before), 'signals go on');

    watcher.heard.length = 0;
    await admin.query(`alter database ${name} with allow_connections true`);
    await admin.end();
    await until(saving(true), 'it is said that it saves again');
    expect((await mapping('fog'))!.name).toBe('Fog bank');
    expect((await call('PATCH', 'mappings/fog', { name: 'Fog again' })).status).toBe(200);
    await call('POST', 'undo');
    watcher.close();
    close();
  }, 240_000);
});

test('a server without a demo begins with an empty show', async () => {
  const bare = await openTestStage({ demo: false });
  try {
    const { show: empty } = (await (await fetch(`${bare.address}api/show`)).json()) as { show: Show };
    expect([empty.settings.name, empty.lines, empty.mappings]).toEqual(['New show', [], []]);
  } finally {
    await bare.stop();
  }
}, 240_000);
