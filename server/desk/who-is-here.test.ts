/** Who is here: what is told of it, and how often. No source: our own rule. */
import type { IncomingMessage } from 'node:http';
import { beforeEach, describe, expect, test } from '@jest/globals';
import type { HereSeen } from '@tawny-signal/core/people/here';
import type { Somebody } from '../people/asking.js';
import { until } from '../../scripts/test-stage.js';
import { createWhoIsHere, type WhoIsHere } from './who-is-here.js';

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
const at = (path: string, name = '') => ({ page: '0123abcd', name, path, field: null, hidden: false });

describe('who is here', () => {
  let told: [HereSeen[], number[]][];
  let here: WhoIsHere;
  beforeEach(() => {
    // What the test before still tells goes to its own list.
    const mine: typeof told = [];
    told = mine;
    here = createWhoIsHere((changed, gone) => mine.push([changed, gone]));
  });

  test('is listed once it has said where it is; somebody who signed in keeps their name', () => {
    here.came(1, somebody('Juno', 'a session'), FAR);
    here.came(2, somebody('', null), HERE);
    expect(here.all()).toEqual([]);
    here.said(1, at('/prompt', 'Not Juno'));
    expect(here.nameOf('0123abcd')).toBe('Juno');
    here.said(2, { ...at('/order', 'Booth'), page: 'ffff0000' });
    expect(here.all()).toMatchObject([
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
    for (let step = 0; step < 1000; step++) here.said(1, at(`/order/m${step}`));
    here.left(3);
    await until(() => told.length > 0, 'it is told');
    expect(told).toMatchObject([[[{ id: 1, path: '/order/m999' }], []]]);
    here.left(1);
    here.left(1);
    await until(() => told.length > 1, 'it is told');
    expect(told[1]).toEqual([[], [1]]);
  });

  test('has the shortest of the last five trips, told where it is another one for a person', async () => {
    here.came(1, somebody('Juno', 'a session'), FAR);
    here.said(1, at('/prompt'));
    for (const trip of [90, 31.7, 400]) here.answered(1, trip);
    expect(here.all()[0]!.tripMs).toBe(30);
    await until(() => told.length === 1, 'it is told');
    here.answered(1, 32.4);
    for (const trip of [180, 180, 180, 180]) here.answered(1, trip);
    expect(here.all()[0]!.tripMs).toBe(30);
    expect(told.length).toBe(1);
    here.answered(1, 180);
    expect(here.all()[0]!.tripMs).toBe(200);
  });
});
