/** The addresses that the page is open at: what is opened, closed and said. Loopback only. */
import { createServer, get, type Server } from 'node:http';
import { connect, createServer as createTcp, type AddressInfo, type Socket } from 'node:net';
import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { until } from '../../scripts/test-stage.js';
import { BadCertificate } from './certificate.js';
import { openDoors, type Doors } from './doors.js';

const OTHER = '127.0.0.2';
/** One that the machine has later. */
const LATER = '127.0.0.3';

let main: Server;
let port: number;
let doors: Doors;
let certify: () => Promise<never>;
beforeEach(async () => {
  main = createServer();
  await new Promise<void>((done) => main.listen(0, '127.0.0.1', done));
  ({ port } = main.address() as AddressInfo);
  certify = () => Promise.reject(new Error('not asked for'));
  doors = openDoors(
    main,
    port,
    (_, response) => response.end('here'),
    () => certify(),
  );
});
afterEach(() => {
  doors.close();
  main.close();
});

const ask = (host = OTHER): Promise<string> =>
  new Promise((done) =>
    get(
      { host, port, agent: false },
      (response) => void response.on('data', (part: Buffer) => done(String(part))),
    ).on('error', (error: NodeJS.ErrnoException) => done(error.code ?? 'failed')),
  );

test('an address is open while it is chosen, and its live connections end with it', async () => {
  expect(await ask()).toBe('ECONNREFUSED');
  await doors.set([OTHER], false);
  expect(await ask()).toBe('here');
  expect(doors.urls().map(({ url }) => url)).toEqual([
    `http://127.0.0.1:${port}/`,
    `http://${OTHER}:${port}/`,
  ]);
  const upgraded = new Promise<void>((done) => main.on('upgrade', () => done()));
  const socket = connect(port, OTHER);
  socket.write('GET /live HTTP/1.1\r\nHost: x\r\nConnection: Upgrade\r\nUpgrade: websocket\r\n\r\n');
  const closed = new Promise<void>((done) => socket.on('close', () => done()));
  socket.on('error', () => undefined);
  await upgraded;
  await doors.set([], false);
  await closed;
  expect(await ask()).toBe('ECONNREFUSED');
});

describe('a crowd of strangers', () => {
  const STRANGER = '127.0.0.9';
  const BOUNDS = { most: 40, mostFromOne: 20, headMs: 500, requestMs: 60_000 };
  let sockets: Socket[];
  beforeEach(async () => {
    sockets = [];
    doors.close();
    doors = openDoors(
      main,
      port,
      (_, response) => response.end('here'),
      () => certify(),
      undefined,
      BOUNDS,
    );
    await doors.set([OTHER], false);
  });
  afterEach(() => {
    for (const socket of sockets) socket.destroy();
  });

  function come(says: string, from = STRANGER): { socket: Socket; heard: string; closed: boolean } {
    const socket = connect({ port, host: OTHER, localAddress: from });
    const one = { socket, heard: '', closed: false };
    sockets.push(socket);
    socket.on('data', (bytes) => (one.heard += String(bytes)));
    socket.on('error', () => undefined);
    socket.on('close', () => (one.closed = true));
    socket.write(says);
    return one;
  }

  test('that says the head of a request letter by letter is sent away, and holds up nobody', async () => {
    const slow = Array.from({ length: 30 }, () => come('GET / HTTP/1.1\r\nHost: x\r\nX-Long: '));
    const writing = setInterval(() => {
      for (const { socket, closed } of slow) if (!closed) socket.write('a');
    }, 50);
    // Ten of the thirty are refused at once; and somebody else is answered meanwhile.
    await until(() => slow.filter(({ closed }) => closed).length >= 10, 'those beyond the bound are refused');
    expect(slow.filter(({ closed }) => !closed).length).toBeLessThanOrEqual(20);
    expect(await ask()).toBe('here');
    await until(() => slow.every(({ closed }) => closed), 'all of them are sent away');
    clearInterval(writing);
    // It may come again.
    const again = come('GET / HTTP/1.1\r\nHost: x\r\nConnection: close\r\n\r\n');
    await until(() => again.closed, 'it is answered');
    expect(again.heard).toMatch(/^HTTP\/1\.1 200 [^]*here/);
  });

  // RFC 6585, 5: 431 for header fields that are too large.
  test('with a head of a megabyte is refused', async () => {
    const one = come(`GET / HTTP/1.1\r\nHost: x\r\nX-Long: ${'a'.repeat(1 << 20)}\r\n\r\n`);
    await until(() => one.closed, 'it is closed');
    expect(one.heard).toMatch(/^(?:HTTP\/1\.1 431 |$)/);
    expect(await ask()).toBe('here');
  });

  // RFC 9112, 9.3.2: a client may send requests without waiting for answers, which come in their order; 2.2: and in any pieces.
  test('with many requests at once, or one in pieces, gets each answer once', async () => {
    const request = 'GET / HTTP/1.1\r\nHost: x\r\n\r\n';
    const many = come(request.repeat(50));
    await until(() => many.heard.split('HTTP/1.1 200').length === 51, 'fifty answers came');
    const pieces = come('');
    for (const letter of request.repeat(2)) pieces.socket.write(letter);
    await until(() => pieces.heard.split('HTTP/1.1 200').length === 3, 'two answers came');
  });

  // RFC 9112, 6.1: both lengths at once are a smuggled request; a server ought to refuse it.
  test('whose request has two lengths is refused', async () => {
    const one = come(
      'POST / HTTP/1.1\r\nHost: x\r\nContent-Length: 4\r\nTransfer-Encoding: chunked\r\n\r\n0\r\n\r\nGET /secret HTTP/1.1\r\nHost: x\r\n\r\n',
    );
    await until(() => one.closed, 'it is closed');
    expect(one.heard).toMatch(/^HTTP\/1\.1 400 /);
    expect(one.heard.match(/HTTP\/1\.1/g)).toHaveLength(1);
  });
});

test('an address that is not of this machine is said, with those that are', async () => {
  await doors.set(['192.0.2.7', OTHER], false); // RFC 5737: an address of documents
  expect(doors.troubles()).toMatchObject([{ address: '192.0.2.7' }]);
  expect(doors.troubles()[0]!.why).toMatch(/^this machine has no address 192\.0\.2\.7 now\. It has /);
  expect(await ask()).toBe('here');
});

test('a port that another program uses there is said', async () => {
  const other = createTcp();
  await new Promise<void>((done) => other.listen(port, OTHER, done));
  await doors.set([OTHER], false);
  expect(doors.troubles()[0]!.why).toMatch(/^another program uses port \d+ there/);
  await new Promise((done) => other.close(done));
});

test('without a certificate nothing is open unencrypted instead, and it is said why', async () => {
  certify = () => Promise.reject(new BadCertificate('The certificate ended on 2020-01-01.'));
  await doors.set([OTHER], true);
  expect(await ask()).toBe('ECONNREFUSED');
  expect(doors.troubles()).toEqual([{ address: OTHER, why: 'The certificate ended on 2020-01-01.' }]);
  certify = () => Promise.reject(new Error('disk full'));
  await doors.set([OTHER], true);
  expect(doors.troubles()).toEqual([{ address: OTHER, why: 'no certificate could be made: disk full' }]);
});

test('addresses that come and go are followed, and a page at another one goes on', async () => {
  doors.close();
  let own = [OTHER];
  doors = openDoors(
    main,
    port,
    (_, response) => response.end('here'),
    () => certify(),
    () => own,
  );
  await doors.set(['all'], false);
  const upgraded = new Promise<void>((done) => main.on('upgrade', () => done()));
  const socket = connect(port, OTHER);
  socket.write('GET /live HTTP/1.1\r\nHost: x\r\nConnection: Upgrade\r\nUpgrade: websocket\r\n\r\n');
  socket.on('error', () => undefined);
  await upgraded;

  own = [OTHER, LATER];
  await until(async () => (await ask(LATER)) === 'here', 'the new address is open');
  expect(socket.closed).toBe(false);
  const closed = new Promise<void>((done) => socket.on('close', () => done()));
  own = [LATER];
  await closed;
  expect(await ask()).toBe('ECONNREFUSED');
  expect(await ask(LATER)).toBe('here');
});
