import { makeLine } from '@tawny-signal/core/show/line';
import { createSocket, type Socket } from 'node:dgram';
import { afterEach, describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { fromBuffer } from 'osc-min';
import { encodeOsc } from '@tawny-signal/core/osc/packet';
import type { OscSignal } from '@tawny-signal/core/signal';
import { tryUdpPort } from '../scripts/ports.js';
import { until } from '../scripts/test-stage.js';
import { openOscUdp } from './drivers/osc-udp.js';
import type { LineDriver } from './drivers/driver.js';
import { recorded, type Recorded } from './recorded.test-helper.js';

const ending: (() => void)[] = [];
afterEach(() => {
  for (const end of ending.splice(0)) end();
});

interface Opened extends Recorded {
  driver: LineDriver;
}

function open(port: number, listenPort: number | null = null, host = '127.0.0.1'): Opened {
  const telling = recorded();
  const line = { id: 'water', kind: 'osc-udp', name: 'Water screen' } as const;
  const driver = openOscUdp(makeLine({ ...line, host, port, listenPort }), telling.listener);
  ending.push(() => driver.close());
  return { driver, ...telling };
}

function listener(port: number): Promise<{ socket: Socket; packets: Buffer[] }> {
  return new Promise((done) => {
    const socket = createSocket('udp4');
    const packets: Buffer[] = [];
    socket.on('message', (bytes) => {
      // The empty bundle that asks whether anybody is there says nothing.
      if (bytes.toString('latin1', 0, 7) !== '#bundle') packets.push(bytes);
    });
    socket.bind(port, '127.0.0.1', () => {
      ending.push(() => socket.close());
      done({ socket, packets });
    });
  });
}

const storm: OscSignal = { kind: 'osc', address: '/moment/storm/go', args: [{ type: 'f', value: 0.5 }] };
const free = async (): Promise<number> => (await tryUdpPort(0))!;

test('what is sent arrives, and a package that is not ours reads it', async () => {
  const port = await free();
  const { packets } = await listener(port);
  const { driver } = open(port);
  await until(() => driver.send(storm), 'the line can send');
  await until(() => packets.length > 0, 'the packet arrived');
  expect(fromBuffer(packets[0]!)).toMatchObject({
    address: '/moment/storm/go',
    args: [{ type: 'float', value: 0.5 }],
  });
});

test('a burst of many messages arrives whole, each with its own bytes', async () => {
  const port = await free();
  const { packets } = await listener(port);
  const { driver } = open(port);
  await until(() => driver.send(storm), 'the line can send');
  for (let i = 0; i < 100; i++) driver.send({ ...storm, args: [{ type: 'i', value: i }] });
  await until(() => packets.length === 101, 'all arrived');
  expect(packets.slice(1).map((packet) => packet.readInt32BE(packet.length - 4))).toEqual([
    ...Array(100).keys(),
  ]);
});

test('a target that is not there is said, and so is its coming', async () => {
  const port = await free();
  const { state } = open(port);
  await until(() => state().state === 'trouble', 'the trouble is said');
  expect(state().trouble).toBe(
    `Nothing is listening at 127.0.0.1:${port}. Start the program there, or check its port.`,
  );
  await listener(port);
  await until(() => state().state === 'open', 'the line is well again');
});

test('an answer goes to whoever sent last, where that was chosen', async () => {
  const [fixed, listenPort, asker] = [
    await listener(await free()),
    await free(),
    await listener(await free()),
  ];
  const telling = recorded();
  const line = {
    id: 'water',
    kind: 'osc-udp',
    name: 'Water screen',
    host: '127.0.0.1',
    listenPort,
    answer: true,
  } as const;
  const driver = openOscUdp(makeLine({ ...line, port: fixed.socket.address().port }), telling.listener);
  ending.push(() => driver.close());
  await until(
    () => driver.send(storm) && fixed.packets.length > 0,
    'before anybody has sent it goes to the target',
  );
  await until(() => {
    asker.socket.send(encodeOsc(storm), listenPort, '127.0.0.1');
    return telling.heard.length > 0;
  }, 'the asker is heard');
  driver.send(storm);
  await until(() => asker.packets.length > 0, 'the answer came');
  expect(fromBuffer(asker.packets[0]!)).toMatchObject({ address: '/moment/storm/go' });
});

test('a host that no name server knows is said', async () => {
  const { state } = open(9000, null, 'no-such-machine.invalid');
  await until(() => state().state === 'trouble', 'the trouble is said');
  expect(state().trouble).toContain('No machine is called no-such-machine.invalid.');
});

test('a port to listen on that another program has is said, and taken when it is free', async () => {
  const port = await free();
  const other = createSocket('udp4');
  await new Promise<void>((done) => other.bind({ port, address: '127.0.0.1', exclusive: true }, done));
  const target = await free();
  await listener(target);
  const { state } = open(target, port);
  await until(
    () => state().trouble.includes(`Port ${port} is in use by another program`),
    'the trouble is said',
  );
  other.close();
  await until(() => state().state === 'open', 'the line listens');
});

describe('what comes in', () => {
  async function hearing(): Promise<Opened & { say: (bytes: Uint8Array) => void }> {
    const port = await free();
    const target = await free();
    await listener(target);
    const opened = open(target, port);
    const socket = createSocket('udp4');
    ending.push(() => socket.close());
    await until(() => {
      socket.send(encodeOsc(storm), port, '127.0.0.1');
      return opened.heard.length > 0;
    }, 'the line hears');
    return { ...opened, say: (bytes) => socket.send(bytes, port, '127.0.0.1') };
  }

  test('is decoded', async () => {
    const { heard } = await hearing();
    expect(heard[0]).toEqual(storm);
  });

  test('and is random bytes is counted, and stops nothing', async () => {
    const { heard, bad, say } = await hearing();
    const before = heard.length;
    const packets = fc.sample(fc.uint8Array({ minLength: 1, maxLength: 120 }), { numRuns: 200, seed: 7 });
    for (const packet of packets) say(packet);
    say(encodeOsc({ ...storm, address: '/after/all' }));
    await until(
      () => heard.some((signal) => signal.kind === 'osc' && signal.address === '/after/all'),
      'the last is heard',
    );
    expect(bad.length + heard.length - before).toBeGreaterThanOrEqual(packets.length);
    expect(bad.length).toBeGreaterThan(190);
    expect(bad[0]).toMatch(/^Not OSC: /);
  });
});
