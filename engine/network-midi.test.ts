/** Sessions of network MIDI over real sockets on loopback. What the packets say is checked in core/network-midi. */
import { createSocket } from 'node:dgram';
import { networkInterfaces } from 'node:os';
import { afterEach, describe, expect, jest, test } from '@jest/globals';
import { makeLine } from '@tawny-signal/core/show/line';
import type { MidiSignal, Signal } from '@tawny-signal/core/signal';
import { freeUdpPair } from '../scripts/ports.js';
import { until } from '../scripts/test-stage.js';
import type { LineDriver } from './drivers/driver.js';
import { createEvenly } from './drivers/network-midi/evenly.js';
import { createSends } from './drivers/network-midi/port-pair.js';
import { openNetworkMidi, type NetworkMidiLine } from './drivers/network-midi/network-midi.js';
import { recorded, type Recorded } from './recorded.test-helper.js';

const ending: (() => unknown)[] = [];
afterEach(async () => {
  for (const end of ending.splice(0).reverse()) await end();
});

const PRESS: MidiSignal = { kind: 'noteOn', channel: 0, number: 60, value: 100 };
const RELEASE: MidiSignal = { kind: 'noteOff', channel: 0, number: 60, value: 64 };

interface Opened extends Recorded {
  driver: LineDriver;
  /** The first port of its pair. */
  port: () => number;
  here: () => string[];
}

function open(given: Partial<NetworkMidiLine> = {}): Opened {
  const telling = recorded();
  const line = makeLine({ id: 'house', kind: 'midi-network', name: 'House', session: 'House', ...given });
  const driver = openNetworkMidi(line, telling.listener);
  ending.push(() => driver.close());
  const network = () => telling.state().network;
  return {
    driver,
    ...telling,
    port: () => network()?.port ?? 0,
    here: () => network()?.participants.map(({ name }) => name) ?? [],
  };
}

/** A stage that calls a front of house. */
async function openTwo(stage: Partial<NetworkMidiLine> = {}, house: Partial<NetworkMidiLine> = {}) {
  const far = open({ session: 'Front of house', mayJoin: 'anyone', ...house });
  await until(() => far.port() > 0, 'its ports are open');
  const near = open({ session: 'Stage', calls: [`127.0.0.1:${far.port()}`], ...stage });
  await until(() => near.state().state === 'open' && far.state().state === 'open', 'they are connected');
  return { near, far };
}

const hasIpv6 = Object.values(networkInterfaces()).some((all) =>
  all?.some(({ address }) => address === '::1'),
);
(hasIpv6 ? test : test.skip)(
  'two sessions meet over IPv6, and one that can’t be reached from there is said',
  async () => {
    const far = open({ session: 'House', mayJoin: 'anyone', listenHost: '::1' });
    await until(() => far.port() > 0, 'its ports are open');
    const near = open({ session: 'Stage', listenHost: '::1', calls: [`[::1]:${far.port()}`, '127.0.0.1'] });
    await until(() => near.here()[0] === 'House' && far.here()[0] === 'Stage', 'they are connected');
    near.driver.send(PRESS);
    await until(() => far.heard.length === 1, 'it is heard');
    expect(near.state().trouble).toContain('This session is at ::1, from where 127.0.0.1 can’t be reached');
  },
);

test('two sessions on one machine hear each other, and know each other’s names', async () => {
  const { near, far } = await openTwo();
  expect([near.here(), far.here()]).toEqual([['Front of house'], ['Stage']]);
  expect(far.port() % 2).toBe(0);
  expect(near.driver.send(PRESS)).toEqual(Uint8Array.of(0x90, 60, 100));
  near.driver.send(RELEASE);
  far.driver.send({ ...PRESS, kind: 'controlChange', number: 7 });
  await until(() => far.heard.length === 2 && near.heard.length === 1, 'all is heard');
  expect(far.heard).toMatchObject([PRESS, { kind: 'noteOff', number: 60 }]);
  expect(near.state().network!.participants[0]!.latencyMs).toBeLessThan(1000);
});

test('a long system-exclusive message goes through', async () => {
  const { near, far } = await openTwo();
  const bytes = Uint8Array.of(0xf0, ...Array.from({ length: 20_000 }, (_, at) => at % 128), 0xf7);
  near.driver.send({ kind: 'sysex', bytes } as Signal);
  await until(() => far.heard.length === 1, 'it is heard');
  expect((far.heard[0] as { bytes: Uint8Array }).bytes).toEqual(bytes);
});

test('nothing is sent while nobody is there, and the line says whom it waits for', async () => {
  const pair = await freeUdpPair();
  const near = open({ calls: [`127.0.0.1:${pair}`] });
  await until(() => near.state().trouble.includes('has not answered'), 'it says so');
  expect(near.state().trouble).toBe(
    `Nobody is connected. 127.0.0.1:${pair} has not answered; it is called again and again.`,
  );
  expect(near.driver.send(PRESS)).toBeNull();
});

test('somebody who may not come in is refused, and both are told', async () => {
  const far = open({ mayJoin: 'listed', hearFrom: ['192.0.2.0/24'] });
  await until(() => far.port() > 0, 'its ports are open');
  const near = open({ session: 'Stage', calls: [`127.0.0.1:${far.port()}`] });
  await until(() => near.state().trouble.includes('does not let us in'), 'it is told');
  await until(() => far.state().network!.refused.length === 1, 'it is listed');
  expect(far.state().network!.refused[0]).toMatchObject({ name: 'Stage', host: '127.0.0.1', count: 1 });
});

test('who closes says goodbye, what was down is released, and it is called again', async () => {
  const { near, far } = await openTwo();
  near.driver.send(PRESS);
  await until(() => far.heard.length === 1, 'it is heard');
  await near.driver.close();
  await until(() => far.here().length === 0, 'it has left');
  await until(() => far.heard.length === 2, 'it is released');
  expect(far.heard[1]).toMatchObject({ kind: 'noteOff', number: 60 });
});

test('a packet that says it is from port 0 is answered by nothing, and stops nothing', async () => {
  const socket = createSocket('udp4');
  const sends = createSends();
  for (const port of [0, -1, 65_536]) sends.send(socket, { host: '127.0.0.1', port }, Uint8Array.of(1));
  await sends.done();
  socket.close();
});

describe('ports', () => {
  test('that are in use are said, with who has them, and taken once they are free', async () => {
    const pair = await freeUdpPair();
    const other = createSocket('udp4');
    await new Promise<void>((done) => other.bind(pair + 1, '127.0.0.1', done));
    const near = open({ port: pair });
    await until(() => near.state().state === 'trouble', 'it says so');
    expect(near.state().trouble).toContain(`${pair + 1}`);
    other.close();
    await until(() => near.port() === pair, 'it has them');
  });

  test('of a session without any are the next pair that is free', async () => {
    const one = open();
    await until(() => one.port() > 0, 'it is open');
    const other = open({ id: 'other' });
    await until(() => other.port() > 0, 'it is open too');
    expect(other.port()).not.toBe(one.port());
    expect(other.port() % 2).toBe(0);
  });

  test('stay the same when a line is opened again, even before it has closed', async () => {
    const one = open({ id: 'again' });
    await until(() => one.port() > 0, 'it is open');
    const other = open({ id: 'again' });
    setTimeout(() => void one.driver.close(), 100);
    await until(() => other.port() > 0, 'it is open again');
    expect(other.port()).toBe(one.port());
  });
});

test('a session that calls itself, or nobody that there is, says so', async () => {
  const pair = await freeUdpPair();
  const self = open({ port: pair, calls: [`127.0.0.1:${pair}`] });
  await until(() => self.state().trouble.includes('calls itself'), 'it says so');
  const lost = open({ calls: ['nobody.invalid'] });
  await until(() => lost.state().trouble.includes('No machine is called “nobody.invalid”'), 'it says so');
});

describe('evenly', () => {
  const played: [number, number][] = [];
  let evenly: ReturnType<typeof createEvenly>;
  const begin = (afterMs: number | null): void => {
    jest.useFakeTimers();
    played.length = 0;
    evenly = createEvenly(afterMs, (bytes, ageMs) => played.push([bytes[0]!, Math.round(ageMs)]));
  };
  const take = (n: number, ageMs: number): void => evenly.take(Uint8Array.of(n), ageMs);
  afterEach(() => void jest.useRealTimers());

  test('what is heard is played so long after it was played there, in its order', () => {
    begin(20);
    take(1, 3);
    take(2, 12);
    jest.advanceTimersByTime(16);
    expect(played).toEqual([]);
    jest.advanceTimersByTime(1);
    expect(played).toEqual([
      [1, 20],
      [2, 29],
    ]);
  });

  test('what is too late is played at once, and counted', () => {
    begin(20);
    take(1, 30);
    expect(played).toEqual([[1, 30]]);
    expect(evenly.late()).toBe(1);
  });

  test('nothing waits where that is not wanted', () => {
    begin(null);
    take(1, 3);
    expect(played).toEqual([[1, 3]]);
  });
});
