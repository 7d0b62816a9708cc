import { makeLine } from '@tawny-signal/core/show/line';
import { connect, createServer, type Server, type Socket } from 'node:net';
import { afterEach, describe, expect, test } from '@jest/globals';
import { fromBuffer, toBuffer, type OscMessageOutput } from 'osc-min';
import slip from 'slip';
import { frame, type Framing } from '@tawny-signal/core/osc/framing';
import { encodeOsc } from '@tawny-signal/core/osc/packet';
import type { OscSignal } from '@tawny-signal/core/signal';
import { freePort } from '../scripts/ports.js';
import { until } from '../scripts/test-stage.js';
import type { LineDriver } from './drivers/driver.js';
import { openOscTcp } from './drivers/osc-tcp.js';
import { recorded, type Recorded } from './recorded.test-helper.js';

const ending: (() => void)[] = [];
afterEach(() => {
  for (const end of ending.splice(0)) end();
});

interface Opened extends Recorded {
  driver: LineDriver;
}

function open(port: number, given: { framing?: Framing; listenPort?: number } = {}): Opened {
  const telling = recorded();
  const line = {
    id: 'bells',
    kind: 'osc-tcp',
    name: 'Bell player',
    host: '127.0.0.1',
    port,
  } as const;
  const { framing = 'slip', listenPort = null } = given;
  const driver = openOscTcp(makeLine({ ...line, framing, listenPort }), telling.listener);
  ending.push(() => driver.close());
  return { driver, ...telling };
}

interface Listening {
  server: Server;
  sockets: Socket[];
  bytes: Buffer[];
  stop: () => void;
}

async function listenAt(port: number): Promise<Listening> {
  const sockets: Socket[] = [];
  const bytes: Buffer[] = [];
  const server = createServer((socket) => {
    sockets.push(socket);
    socket.on('data', (part) => bytes.push(part as Buffer));
    socket.on('error', () => undefined);
  });
  await new Promise<void>((done) => server.listen(port, '127.0.0.1', done));
  const stop = (): void => {
    server.close();
    for (const socket of sockets) socket.destroy();
  };
  ending.push(stop);
  return { server, sockets, bytes, stop };
}

const bell: OscSignal = { kind: 'osc', address: '/bell/ripple', args: [{ type: 'f', value: 0.5 }] };

test('what is sent in SLIP is read by packages that are not ours', async () => {
  const port = await freePort();
  const { bytes } = await listenAt(port);
  const { driver, state } = open(port);
  await until(() => state().state === 'open', 'it is connected');
  driver.send(bell);
  driver.send({ ...bell, address: '/bell/\u00c0' }); // bytes that SLIP must escape
  const found: OscMessageOutput[] = [];
  const decoder = new slip.Decoder({
    onMessage: (packet) => found.push(fromBuffer(packet) as OscMessageOutput),
  });
  await until(() => {
    for (const part of bytes.splice(0)) decoder.decode(part);
    return found.length === 2;
  }, 'both arrived');
  expect(found[0]).toMatchObject({ address: '/bell/ripple', args: [{ type: 'float', value: 0.5 }] });
});

test('what is sent with its length is read by a package that is not ours', async () => {
  const port = await freePort();
  const { bytes } = await listenAt(port);
  const { driver, state } = open(port, { framing: 'length' });
  await until(() => state().state === 'open', 'it is connected');
  driver.send(bell);
  await until(() => Buffer.concat(bytes).length === 28, 'it arrived');
  const all = Buffer.concat(bytes);
  expect(all.readInt32BE(0)).toBe(24);
  expect(fromBuffer(all.subarray(4))).toMatchObject({ address: '/bell/ripple' });
});

describe('what comes in', () => {
  test('on its own connection is heard', async () => {
    const port = await freePort();
    const { sockets } = await listenAt(port);
    const { heard, state } = open(port);
    await until(() => state().state === 'open' && sockets[0], 'it is connected');
    const view = toBuffer({ address: '/bell/done', args: [{ type: 'integer', value: 3 }] });
    sockets[0]!.write(slip.encode(new Uint8Array(view.buffer, view.byteOffset, view.byteLength)));
    await until(() => heard.length === 1, 'it is heard');
    expect(heard).toEqual([{ kind: 'osc', address: '/bell/done', args: [{ type: 'i', value: 3 }] }]);
  });

  test('from others who connect is heard, in pieces and from several at once', async () => {
    const listenPort = await freePort();
    const { heard } = open(await freePort(), { listenPort });
    const packet = frame('slip', encodeOsc(bell));
    const two = await Promise.all(
      [0, 1].map(() =>
        until(
          () =>
            new Promise<Socket | null>((done) => {
              const socket = connect(listenPort, '127.0.0.1', () => done(socket));
              socket.on('error', () => done(null));
            }),
          'it can be connected to',
        ),
      ),
    );
    for (const socket of two) ending.push(() => socket.destroy());
    // Each sends its packet byte by byte, in turn: a stream is each connection's own.
    for (const byte of packet) for (const socket of two) socket.write(Uint8Array.of(byte));
    await until(() => heard.length === 2, 'both are heard');
    expect(heard).toEqual([bell, bell]);
  });

  test('framed the other way is counted and said, and stops nothing', async () => {
    const port = await freePort();
    const { sockets } = await listenAt(port);
    const { bad, heard, state } = open(port, { framing: 'length' });
    await until(() => state().state === 'open' && sockets[0], 'it is connected');
    sockets[0]!.write(frame('slip', encodeOsc(bell)));
    await until(() => bad.length > 0, 'it is said');
    expect(bad[0]).toContain('Is it framed the other way?');
    await until(() => sockets.length > 1, 'it connects anew');
    sockets[1]!.write(frame('length', encodeOsc(bell)));
    await until(() => heard.length === 1, 'what is framed well is heard');
  });
});

// A page of anywhere can make a browser send a request to a port of this machine: RFC 9112, 3, a request line begins with its method.
test.each([
  ['slip', 'POST / HTTP/1.1\r\nContent-Type: text/plain\r\n\r\n'],
  ['slip', 'GET /bell HTTP/1.1\r\n\r\n'],
  ['slip', 'hello '],
  ['length', 'OPTIONS * HTTP/1.1\r\n\r\n'],
  ['length', 'hello '],
] as const)('what begins in %s with %j is closed at once, and plays nothing', async (framing, words) => {
  const listenPort = await freePort();
  const { bad, heard } = open(await freePort(), { framing, listenPort });
  const socket = await until(
    () =>
      new Promise<Socket | null>((done) => {
        const attempt = connect(listenPort, '127.0.0.1', () => done(attempt));
        attempt.on('error', () => done(null));
      }),
    'it is connected',
  );
  let closed = false;
  socket.on('error', () => undefined);
  socket.on('close', () => (closed = true));
  const packet = frame(framing, encodeOsc(bell));
  socket.write(Buffer.concat([Buffer.from(words), packet]));
  await until(() => closed, 'it is closed');
  expect([heard, bad.length]).toEqual([[], 1]);
});

describe('a target', () => {
  test('that is not there is said, and taken when it comes', async () => {
    const port = await freePort();
    const { state, driver } = open(port);
    await until(() => state().trouble.includes(`Nothing is listening at 127.0.0.1:${port}.`), 'it is said');
    expect(driver.send(bell)).toBeNull();
    // Nothing can come back either, and nobody else may connect.
    expect(state().sides).toEqual({ in: 'trouble', out: 'trouble' });
    await listenAt(port);
    await until(() => state().state === 'open', 'it is connected');
    expect(state().sides).toEqual({ in: 'open', out: 'open' });
  });

  test('that is not there leaves the input alone where others may connect', async () => {
    const port = await freePort();
    const { state } = open(port, { listenPort: await freePort() });
    await until(() => state().trouble.includes('Nothing is listening'), 'it is said');
    expect(state().sides).toEqual({ in: 'open', out: 'trouble' });
  });

  test('that goes is said, and taken when it comes back', async () => {
    const port = await freePort();
    const first = await listenAt(port);
    const { state } = open(port);
    await until(() => state().state === 'open', 'it is connected');
    first.stop();
    await until(() => state().state === 'trouble', 'it is said');
    await listenAt(port);
    await until(() => state().state === 'open', 'it is connected again');
  });

  test('that takes nothing gets no more than it can hold, and it is said', async () => {
    const port = await freePort();
    const { sockets } = await listenAt(port);
    const { driver, state } = open(port);
    await until(() => state().state === 'open' && sockets[0], 'it is connected');
    sockets[0]!.pause();
    const big: OscSignal = { ...bell, args: [{ type: 'b', value: new Uint8Array(60_000) }] };
    await until(() => driver.send(big) === null, 'no more leaves');
    expect(state().trouble).toContain('is too slow');
    expect(state().sides).toEqual({ in: 'open', out: 'trouble' });
    sockets[0]!.resume();
    await until(() => state().state === 'open', 'it takes again');
    expect(driver.send(bell)).not.toBeNull();
  });
});
