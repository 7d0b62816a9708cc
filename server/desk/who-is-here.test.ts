/** Who is here: what is told of it, and how often. No source: our own rule. */
import type { IncomingMessage } from 'node:http';
import { beforeEach, describe, expect, test } from '@jest/globals';
import { MOST_HERE, type HereSeen } from '@tawny-signal/core/people/here';
import type { Somebody } from '../people/asking.js';
import { until } from '../../scripts/test-stage.js';
import { createWhoIsHere, type HereTold, type WhoIsHere } from './who-is-here.js';

const request = (localAddress: string, remoteAddress: string): IncomingMessage =>
  ({ socket: { localAddress, remoteAddress }, headers: { 'user-agent': 'Firefox (Linux)' } }) as never;
const HERE = request('127.0.0.1', '127.0.0.1');
const FAR = request('192.0.2.1', '192.0.2.7');
const somebody = (name: string, sessionId: string | null): Somebody => ({
  role: 'operator',
  standIn: false,
  name,
  sessionId,
});
const at = (path: string, name = '') => ({
  page: '0123abcd',
  name,
  path,
  field: null,
  hidden: false,
  lists: false,
});

describe('who is here', () => {
  let told: (HereTold & { to: readonly number[] })[];
  let here: WhoIsHere;
  beforeEach(() => {
    // What the test before still tells goes to its own list.
    const mine: typeof told = [];
    told = mine;
    here = createWhoIsHere((to, what) => mine.push({ to, ...what }));
  });

  /** The pages that a page is told of that lists everybody, without itself. */
  async function listed(): Promise<HereSeen[]> {
    here.came(99, somebody('', null), HERE);
    here.said(99, { ...at('/people'), page: 'feed0000', lists: true });
    const mine = () => told.find(({ to, anew }) => anew && to.includes(99));
    await until(() => mine() !== undefined, 'it is told');
    return mine()!.changed.filter(({ id }) => id !== 99);
  }

  test('is listed once it has said where it is; somebody who signed in keeps their name', async () => {
    here.came(1, somebody('Juno', 'a session'), FAR);
    here.came(2, somebody('', null), HERE);
    expect(await listed()).toEqual([]);
    here.left(99);
    told.length = 0;
    here.said(1, at('/prompt', 'Not Juno'));
    expect(here.nameOf('0123abcd')).toBe('Juno');
    here.said(2, { ...at('/order', 'Booth'), page: 'ffff0000' });
    expect(await listed()).toMatchObject([
      { id: 1, name: 'Juno', from: '192.0.2.7', browser: 'Firefox, Linux', path: '/prompt', tripMs: null },
      { id: 2, name: 'Booth', from: '', path: '/order' },
    ]);
    here.said(2, { ...at('/order'), page: 'ffff0000' });
    expect(here.nameOf('ffff0000')).toBe('A browser of the server’s machine');
    expect(here.nameOf('')).toBe('');
    expect(here.isQuiet(1)).toBe(false);
    here.said(1, at('/afar'));
    expect([here.isQuiet(1), here.isQuiet(9)]).toEqual([true, false]);
  });

  test('is told together, however often it changes', async () => {
    here.came(1, somebody('Juno', 'a session'), FAR);
    here.came(3, somebody('', null), HERE);
    here.came(4, somebody('Mara', null), HERE);
    here.said(4, { ...at('/people'), lists: true });
    for (let step = 0; step < 1000; step++) here.said(1, at(`/order/m${step}`));
    here.left(3);
    await until(() => told.length > 1, 'it is told');
    const moved = { id: 1, path: '/order/m999' };
    expect(told).toMatchObject([
      { to: [4], changed: [moved, { id: 4 }], gone: [], count: 2, anew: true },
      { to: [1], changed: [moved], gone: [], count: 2, anew: true },
    ]);
    here.left(1);
    here.left(1);
    await until(() => told.length > 2, 'it is told');
    expect(told.slice(2)).toEqual([{ to: [4], changed: [], gone: [1], count: 1, anew: false }]);
  });

  test('is told to those at the same place, to all who list everybody, and to nobody who sees nothing', async () => {
    const places = ['/order', '/order', '/lines/water', '/afar', '/order'];
    places.forEach((path, id) => {
      here.came(id, somebody('', null), HERE);
      here.said(id, { ...at(path), hidden: id === 4 });
    });
    here.offers(1, [
      { kind: 'midi-browser', name: 'Far keys', in: true, out: true },
      { kind: 'midi-browser', name: 'Held keys', in: true, out: true, held: true },
      { kind: 'midi-inside', name: 'Pier pads', in: true, out: true },
    ]);
    await until(() => told.length === 2, 'it is told');
    const idsOf = ({ to, changed }: (typeof told)[number]) => [to, changed.map(({ id }) => id)];
    // On the page of a line it is said in whose browser a port is.
    expect(told.map(idsOf)).toEqual([
      [
        [0, 1],
        [0, 1, 4],
      ],
      [[2], [2, 1]],
    ]);
    expect(told.every(({ count, anew }) => count === 5 && anew)).toBe(true);
    expect(told[0]!.changed[1]!.ports).toEqual(['Far keys']);
    // Once somebody lists everybody, they are told of all of them; the others are not told of what is elsewhere.
    told.length = 0;
    here.said(4, { ...at('/order'), lists: true });
    here.said(2, { ...at('/lines/water'), field: 'Name' });
    await until(() => told.some(({ to }) => to.includes(4)), 'it is told');
    expect(told.map(idsOf)).toEqual([
      [[0, 1], [4]],
      [[2], [2]],
      [[4], [0, 1, 2, 3, 4]],
    ]);
  });

  test('is cut at a hundred, with a count, and its cost is that of those who are told', async () => {
    const CROWD = 1000;
    for (let id = 0; id < CROWD; id++) {
      here.came(id, somebody('', null), HERE);
      here.said(id, at('/desk'));
    }
    await until(() => told.length > 0, 'it is told');
    expect(told.map(({ count, anew }) => [count, anew])).toEqual([[CROWD, true]]);
    expect([told[0]!.to.length, told[0]!.changed.length]).toEqual([CROWD, MOST_HERE]);
    // One more is a number to those who show a hundred already.
    told.length = 0;
    here.came(CROWD, somebody('', null), HERE);
    here.said(CROWD, at('/desk'));
    await until(() => told.length > 1, 'it is told');
    expect(told[0]).toMatchObject({ changed: [], gone: [], count: CROWD + 1, anew: false });
    expect(told[1]).toMatchObject({ to: [CROWD], anew: true });
    // One of the hundred goes, and another comes into sight.
    told.length = 0;
    here.left(7);
    await until(() => told.length > 0, 'it is told');
    expect(told).toMatchObject([{ changed: [{ id: MOST_HERE }], gone: [7], count: CROWD }]);
  });

  test('has the shortest of the last five trips, told where it is another one for a person', async () => {
    here.came(1, somebody('Juno', 'a session'), FAR);
    here.said(1, at('/prompt'));
    here.came(2, somebody('Mara', null), HERE);
    here.said(2, { ...at('/order'), lists: true });
    for (const trip of [90, 31.7, 400]) here.answered(1, trip);
    await until(() => told.length > 0, 'it is told');
    const trips = () =>
      told.flatMap(({ changed }) => changed).flatMap(({ id, tripMs }) => (id === 1 ? [tripMs] : []));
    expect(trips()).toContain(30);
    told.length = 0;
    here.answered(1, 32.4);
    for (const trip of [180, 180, 180, 180]) here.answered(1, trip);
    // What is told with it would be told too.
    here.said(2, { ...at('/order'), lists: true });
    await until(() => told.length > 0, 'it is told');
    expect([told.length, trips()]).toEqual([1, []]);
    told.length = 0;
    here.answered(1, 180);
    await until(() => told.length > 0, 'it is told');
    // Only those see it who list everybody.
    expect(told).toMatchObject([{ to: [2], changed: [{ tripMs: 200 }], anew: false }]);
  });
});
