import { expect, test } from '@jest/globals';
import { createFoundList, lookAgainMs, type Announced } from './drivers/network-midi/found-list.js';

const announced = (name: string, more: Partial<Announced> = {}): Announced => ({
  fqdn: `${name}._apple-midi._udp.local`,
  port: 5004,
  addresses: ['192.168.1.20'],
  referer: { address: '192.168.1.20' },
  ...more,
});
const open = () => createFoundList({ name: 'St. Anne', port: 5006 });

test('keeps the sessions of others in the order of their names, also with a dot in it', () => {
  const list = open();
  expect(list.seen(announced('Quay'), 0)).toBe(true);
  expect(list.seen(announced('Dr. Fog', { port: 6000 }), 0)).toBe(true);
  expect(list.seen(announced('Quay'), 0)).toBe(false);
  expect(list.all()).toEqual([
    { name: 'Dr. Fog', host: '192.168.1.20', port: 6000 },
    { name: 'Quay', host: '192.168.1.20', port: 5004 },
  ]);
  expect(list.seen(announced('Quay', { port: 5008 }), 0)).toBe(true);
  expect(list.all()[1]!.port).toBe(5008);
  expect(list.gone({ fqdn: announced('Quay').fqdn })).toBe(true);
  expect(list.all()).toHaveLength(1);
});

test('takes the address that it came from, if that is one of its own', () => {
  const hostOf = (more: Partial<Announced>): string | undefined => {
    const list = open();
    list.seen(announced('Quay', more), 0);
    return list.all()[0]?.host;
  };
  const two = ['10.0.0.4', '192.168.1.20'];
  expect(hostOf({ addresses: two })).toBe('192.168.1.20');
  expect(hostOf({ addresses: two, referer: { address: '10.9.9.9' } })).toBe('10.0.0.4');
  expect(hostOf({ addresses: [] })).toBe('192.168.1.20');
  expect(hostOf({ addresses: ['fe80::1'] })).toBe('192.168.1.20');
  expect(hostOf({ addresses: ['0.0.0.0'], referer: { address: 'fe80::1' } })).toBeUndefined();
});

test('sends us to no group of machines, to nowhere, and to this machine only from here', () => {
  const hostOf = (address: string, from: string): string | undefined => {
    const list = open();
    list.seen(announced('Quay', { addresses: [address], referer: { address: from } }), 0);
    return list.all()[0]?.host;
  };
  for (const lie of ['224.0.0.251', '239.255.0.7', '255.255.255.255', '0.0.0.0', '127.0.0.1'])
    expect(hostOf(lie, '192.168.1.66')).toBe('192.168.1.66');
  expect(hostOf('127.0.0.1', '127.0.0.1')).toBe('127.0.0.1');
});

test('has room for a session that is called, however many names there are', () => {
  const list = createFoundList({ name: 'St. Anne', port: 5006 }, ['Dr. Fog']);
  for (let at = 0; at < 1000; at++) list.seen(announced(`Flood ${at}`), 0);
  expect(list.seen(announced('Dr- Fog'), 0)).toBe(true);
  expect(list.all().map(({ name }) => name)).toContain('Dr- Fog');
  expect(list.all()).toHaveLength(65);
});

test('passes over our own session and what is none', () => {
  const list = open();
  expect(list.seen(announced('St- Anne', { port: 5006 }), 0)).toBe(false);
  for (const bad of [
    announced(''),
    announced('\u0007'),
    announced('Quay', { port: 0 }),
    announced('Quay', { port: 65_535 }),
    announced('Quay', { port: Number.NaN }),
    announced('Quay', { fqdn: 'Quay._http._tcp.local' }),
    announced('Quay', { fqdn: undefined as unknown as string }),
  ])
    expect(list.seen(bad, 0)).toBe(false);
  expect(list.all()).toEqual([]);
});

test('holds 64 at most, each with a name of 60 characters at most', () => {
  const list = open();
  for (let at = 0; at < 1000; at++) list.seen(announced(`${at} ${'o'.repeat(300)}`), 0);
  expect(list.all()).toHaveLength(64);
  expect(Math.max(...list.all().map(({ name }) => name.length))).toBe(60);
});

test('drops one that has not answered in three rounds, which come ever later (RFC 6762, section 5.2)', () => {
  const list = open();
  list.seen(announced('Quay'), 0);
  list.seen(announced('Pier'), 0);
  list.seen(announced('Quay'), 1);
  expect([1, 2].map((round) => list.sweep(round))).toEqual([false, false]);
  expect(list.sweep(3)).toBe(true);
  expect(list.all().map(({ name }) => name)).toEqual(['Quay']);
  expect([0, 1, 2, 5, 6, 60].map(lookAgainMs)).toEqual([1000, 2000, 4000, 32_000, 60_000, 60_000]);
});
