/** Several shows, and versions of one: through the API, with a real database and engine. */
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import WebSocket from 'ws';
import { openBatch, readRecord, type TrafficRecord } from '@tawny-signal/core/live/batch';
import type { FromServer } from '@tawny-signal/core/live/messages';
import type { Show } from '@tawny-signal/core/show';
import { openTestStage, until, type TestStage } from '../scripts/test-stage.js';

let stage: TestStage;
beforeAll(async () => {
  stage = await openTestStage();
}, 240_000);
afterAll(() => stage.stop(), 120_000);

interface Listed {
  id: string;
  name: string;
  rows: Record<string, number>;
  playedAt: string | null;
  archivedAt: string | null;
}
interface Answer<T> {
  status: number;
  body: T;
}
type Problem = { message: string };

async function call<T = Problem>(method: string, path: string, body?: unknown): Promise<Answer<T>> {
  const isFile = typeof body === 'string';
  const init: RequestInit = { method };
  if (body !== undefined) {
    init.headers = { 'Content-Type': isFile ? 'application/octet-stream' : 'application/json' };
    init.body = isFile ? body : JSON.stringify(body);
  }
  const response = await fetch(`${stage.address}api/${path}`, init);
  const text = await response.text();
  return { status: response.status, body: (text === '' ? null : JSON.parse(text)) as T };
}
const show = async (): Promise<Show> => (await call<{ show: Show }>('GET', 'show')).body.show;
const list = async (): Promise<Listed[]> => (await call<{ shows: Listed[] }>('GET', 'shows')).body.shows;
const openId = async (): Promise<string> => (await call<{ openId: string }>('GET', 'shows')).body.openId;
const begin = async (name: string, withLines = false): Promise<string> =>
  (await call<{ id: string }>('POST', 'shows', { name, withLines })).body.id;

/** Presses a pad from outside, the first one if no other is given, and returns how many messages it caused once the press has passed. */
async function pressed(note = 36): Promise<number> {
  const socket = new WebSocket(`ws://127.0.0.1:${stage.port}/live`);
  const records: TrafficRecord[] = [];
  socket.on('message', (data: Buffer, binary) => {
    if (!binary || data[0] !== 1) return;
    const { view, records: starts, past } = openBatch(new Uint8Array(data));
    if (!past) records.push(...starts.map((at) => readRecord(view, new Uint8Array(data), at)));
  });
  const ready = new Promise<void>((done) =>
    socket.on('message', (data: Buffer, binary) => {
      if (!binary && (JSON.parse(data.toString()) as FromServer).t === 'levels') done();
    }),
  );
  await ready;
  socket.send(
    JSON.stringify({ t: 'ports', ports: [{ kind: 'midi-inside', name: 'Pier pads', in: true, out: true }] }),
  );
  const heard = (of: number) => records.find(({ direction, bytes }) => direction === 'in' && bytes[1] === of);
  const untilHeard = (of: number) => until(() => heard(of), `note ${of} is heard`);
  // A port is known once its line is open.
  await until(async () => {
    if (!heard(37)) socket.send(Uint8Array.of(2, 0, 0x99, 37, 100));
    return heard(37);
  }, 'the pads are heard');
  socket.send(Uint8Array.of(2, 0, 0x99, note, 100));
  const press = await untilHeard(note);
  // What the press caused passes before the next press.
  socket.send(Uint8Array.of(2, 0, 0x99, 38, 100));
  await untilHeard(38);
  socket.close();
  return records.filter(({ cause }) => cause === press.seq).length;
}

describe('shows', () => {
  test('a new one has the lines of the house, and the engine plays it; the other comes back as it was', async () => {
    const before = await show();
    const first = await openId();
    expect(await pressed()).toBeGreaterThan(0);
    await begin('Second night', true);
    const second = await show();
    expect(second.settings.name).toBe('Second night');
    expect(second.lines).toEqual(before.lines);
    expect(second.mappings).toEqual([]);
    expect((await call<{ undo: null }>('GET', 'undo')).body.undo).toBeNull();
    expect(await pressed()).toBe(0);
    await call('POST', 'banks', { name: 'Only here' });
    await call('POST', `shows/${first}/open`);
    expect(await show()).toEqual(before);
    expect(await pressed()).toBeGreaterThan(0);
    expect((await list()).map(({ name }) => name)).toEqual(['The Lantern Pier', 'Second night']);
    expect((await list())[1]!.rows).toMatchObject({ banks: 1, mappings: 0, lines: before.lines.length });
  }, 240_000);

  test('the one that was opened last is open after a restart, and its undo goes on', async () => {
    const [first, second] = await list();
    await call('POST', `shows/${second!.id}/open`);
    await call('PATCH', `shows/${second!.id}`, { name: 'Third night' });
    await stage.restart();
    expect((await show()).settings.name).toBe('Third night');
    expect((await call('POST', 'undo')).body).toEqual({ label: 'Rename the show to Third night' });
    expect((await show()).settings.name).toBe('Second night');
    await call('POST', `shows/${first!.id}/open`);
  }, 240_000);

  test('a copy is called after its show, is not opened, and can be renamed and archived', async () => {
    const id = await openId();
    const { body } = await call<{ id: string }>('POST', `shows/${id}/copy`);
    expect(await openId()).toBe(id);
    const copy = async (): Promise<Listed> => (await list()).find((one) => one.id === body.id)!;
    expect((await copy()).name).toBe('The Lantern Pier 2');
    expect((await copy()).rows['mappings']).toBe((await show()).mappings.length);
    await call('PATCH', `shows/${body.id}`, { name: 'Matinee', archived: true });
    expect(await copy()).toMatchObject({ name: 'Matinee', archivedAt: expect.any(String) });
    // Opening it takes it out of the archive.
    await call('POST', `shows/${body.id}/open`);
    expect(await copy()).toMatchObject({ archivedAt: null });
    expect((await show()).settings.name).toBe('Matinee');
    expect(await pressed()).toBeGreaterThan(0);
    await call('POST', `shows/${id}/open`);
  }, 240_000);

  test('what can’t be is refused in words', async () => {
    const id = await openId();
    const refused = async (method: string, path: string, body?: unknown): Promise<string> =>
      (await call(method, path, body)).body.message;
    expect(await refused('POST', 'shows', { name: 'the lantern pier' })).toContain('exists already');
    expect(await refused('POST', 'shows', { name: ' ' })).toBe('Give it a name.');
    expect(await refused('PATCH', `shows/${id}`, { archived: true })).toContain('Open another one first');
    expect(await refused('POST', 'shows/gone/open')).toContain('no longer exists');
    expect(await refused('PATCH', 'shows/gone', { name: 'Gone' })).toContain('no longer exists');
    await call('PUT', 'desk/locked', { locked: true });
    const other = (await list()).find((one) => one.id !== id)!;
    expect((await call('POST', `shows/${other.id}/open`)).status).toBe(423);
    const before = await list();
    expect((await call('POST', 'shows', { name: 'Not now' })).status).toBe(423);
    expect(await list()).toEqual(before);
    expect(await openId()).toBe(id);
    await call('PUT', 'desk/locked', { locked: false });
  });

  test('safe that is pressed while a show opens stays safe', async () => {
    const id = await openId();
    const other = (await list()).find((one) => one.id !== id)!;
    for (let n = 0; n < 10; n++) {
      await call('PUT', 'desk/armed', { armed: true });
      const opening = call('POST', `shows/${n % 2 ? id : other.id}/open`);
      await call('PUT', 'desk/armed', { armed: false });
      await opening;
      // What the engine was told before is done once it has answered.
      await call('PUT', 'desk/tempo', { bpm: 100 + n });
      expect((await call<{ armed: boolean }>('GET', 'desk')).body.armed).toBe(false);
    }
    await call('PUT', 'desk/armed', { armed: true });
    await call('POST', `shows/${id}/open`);
  }, 240_000);

  test('a file becomes a show of its own, once it was said what is in it', async () => {
    const before = await show();
    const response = await fetch(`${stage.address}api/files/show`);
    expect(response.headers.get('content-disposition')).toMatch(
      /filename="the-lantern-pier-\d{4}-\d\d-\d\d\.show\.json"/,
    );
    const file = await response.text();
    await call('POST', 'banks', { name: 'Encore' });
    const looked = await call<object>('POST', 'files/show?look=true', file);
    expect(looked.body).toMatchObject({
      name: 'The Lantern Pier',
      differs: 1,
      rows: { moments: before.moments.length, lines: before.lines.length },
    });
    expect((await show()).banks.map(({ name }) => name)).toContain('Encore');
    await call('POST', 'files/show?as=new', file);
    expect((await show()).settings.name).toMatch(/^The Lantern Pier \d$/);
    expect((await show()).banks.map(({ name }) => name)).not.toContain('Encore');
    const first = (await list()).find(({ name }) => name === 'The Lantern Pier')!;
    await call('POST', `shows/${first.id}/open`);
    await call('POST', 'undo');
    expect(await show()).toEqual(before);
  }, 240_000);

  test('a performance belongs to the show that was open, and ends with it', async () => {
    const first = await openId();
    const { id } = (await show()).moments[0]!;
    await call('POST', 'desk/order', { do: 'call', id });
    await until(async () => (await call<{ current: object | null }>('GET', 'log')).body.current, 'it began');
    await begin('Fourth night');
    const log = await call<{ current: null; performances: object[] }>('GET', 'log');
    expect(log.body).toEqual({ current: null, performances: [] });
    expect((await list()).find((one) => one.id === first)!.playedAt).not.toBeNull();
    await call('POST', `shows/${first}/open`);
    expect((await call<{ performances: object[] }>('GET', 'log')).body.performances).toHaveLength(1);
  }, 240_000);
});

describe('versions', () => {
  interface Version {
    id: string;
    name: string;
  }
  const versions = async (): Promise<Version[]> => (await call<Version[]>('GET', 'versions')).body;
  interface Comparison {
    rows: { table: string; name: string; what: string; members: { member: string }[] }[];
  }
  const differs = async (id: string, to = 'now'): Promise<string[]> =>
    (await call<Comparison>('GET', `versions/${id}/compare?to=${to}`)).body.rows.map(
      ({ table, name, what }) => `${table} ${name} ${what}`,
    );

  test('one is compared row by row, gone back to, and Undo takes that back', async () => {
    const before = await show();
    const { id } = (await call<Version>('POST', 'versions', { name: 'After the dress rehearsal' })).body;
    expect(await differs(id)).toEqual([]);
    // A bank that a signal switches is no difference.
    await pressed(39);
    const isOn = async (): Promise<boolean> =>
      (await show()).banks.find(({ id: bank }) => bank === 'storm-glass')!.on;
    await until(async () => !(await isOn()), 'the bank is off');
    expect(await differs(id)).toEqual([]);
    await pressed(39);
    await until(isOn, 'the bank is on again');
    await call('PATCH', 'mappings/storm-go', { name: 'Storm' });
    await call('POST', 'banks', { name: 'Encore' });
    await call('DELETE', 'mappings/lamp');
    const changed = await show();
    expect(await differs(id)).toEqual([
      'banks Encore added',
      expect.stringMatching(/^mappings Lamp.* removed$/),
      'mappings Storm changed',
    ]);
    const { label } = (await call<{ label: string }>('POST', `versions/${id}/restore`)).body;
    expect(await show()).toEqual(before);
    expect((await call('POST', 'undo')).body).toEqual({ label });
    expect(await show()).toEqual(changed);
    // Two versions are compared with one another too.
    const then = (await call<Version>('POST', 'versions', { name: 'Opening night' })).body;
    expect(await differs(id, then.id)).toHaveLength(3);
    for (let i = 0; i < 3; i++) await call('POST', 'undo');
    expect(await show()).toEqual(before);
  });

  test('one is opened as a show, renamed and removed; a name is used once', async () => {
    const [newest] = await versions();
    expect(newest!.name).toBe('Opening night');
    const twice = await call('POST', 'versions', { name: 'opening night' });
    expect(twice).toMatchObject({
      status: 422,
      body: { message: expect.stringContaining('exists already') },
    });
    const first = await openId();
    await call('POST', `versions/${newest!.id}/show`, { name: 'As at the opening' });
    expect((await show()).banks.map(({ name }) => name)).toContain('Encore');
    // The versions are those of the other show.
    expect(await versions()).toEqual([]);
    expect((await call('POST', `versions/${newest!.id}/restore`)).status).toBe(404);
    await call('POST', `shows/${first}/open`);
    await call('PATCH', `versions/${newest!.id}`, { name: 'Second opening' });
    expect((await versions()).map(({ name }) => name)).toEqual([
      'Second opening',
      'After the dress rehearsal',
    ]);
    await call('DELETE', `versions/${newest!.id}`);
    expect(await versions()).toHaveLength(1);
  }, 240_000);
});
