// Checked by packages that are not ours: ws carries it, osc-min reads and writes it.
import { afterEach, expect, test } from '@jest/globals';
import { fromBuffer, toBuffer } from 'osc-min';
import WebSocket, { WebSocketServer } from 'ws';
import { makeLine } from '@tawny-signal/core/show/line';
import type { OscSignal } from '@tawny-signal/core/signal';
import { freePort } from '../scripts/ports.js';
import { until } from '../scripts/test-stage.js';
import type { LineDriver } from './drivers/driver.js';
import { openOscWs } from './drivers/osc-ws.js';
import { createIntakes, type Intake } from './intake.js';
import { recorded, type Recorded } from './recorded.test-helper.js';

const ending: (() => void)[] = [];
afterEach(() => {
  for (const end of ending.splice(0).reverse()) end();
});
const fog: OscSignal = { kind: 'osc', address: '/fog/density', args: [{ type: 'f', value: 0.5 }] };

function open(given: {
  intake?: Intake;
  host?: string;
  port?: number;
  listenPort?: number;
  hearFrom?: string[];
  secret?: string;
  pages?: string[];
  namelessPages?: boolean;
}): Recorded & { driver: LineDriver } {
  const { intake, ...fields } = given;
  const telling = recorded(intake);
  const line = {
    id: 'page',
    kind: 'osc-ws',
    name: 'Page',
    host: null,
    port: 9000,
    listenPort: null,
    ...fields,
  } as const;
  const driver = openOscWs(makeLine(line), telling.listener);
  ending.push(() => driver.close());
  return { driver, ...telling };
}

/** A page that connects to us, again and again until it can. */
async function page(port: number, path = '', origin?: string): Promise<{ socket: WebSocket; got: Buffer[] }> {
  const got: Buffer[] = [];
  const socket = await until(
    () =>
      new Promise<WebSocket | null>((done) => {
        const attempt = new WebSocket(
          `ws://127.0.0.1:${port}/${path}`,
          origin === undefined ? {} : { origin },
        );
        attempt.on('message', (data) => got.push(data as Buffer));
        attempt.on('open', () => done(attempt));
        attempt.on('error', () => done(null));
      }),
    'the page is connected',
  );
  ending.push(() => socket.terminate());
  return { socket, got };
}
const bytes = (view: DataView): Buffer => Buffer.from(view.buffer, view.byteOffset, view.byteLength);

test('pages that connect get what is sent, each of them, and what they say is heard', async () => {
  const listenPort = await freePort();
  const { driver, heard } = open({ listenPort });
  const [one, two] = [await page(listenPort), await page(listenPort)];
  await until(() => {
    driver.send(fog);
    return one.got.length > 0 && two.got.length > 0;
  }, 'it arrived at both');
  expect(fromBuffer(one.got[0]!)).toMatchObject({
    address: '/fog/density',
    args: [{ type: 'float', value: 0.5 }],
  });
  two.socket.send(bytes(toBuffer({ address: '/page/ready', args: [{ type: 'integer', value: 3 }] })));
  await until(() => heard.length === 1, 'it is heard');
  expect(heard).toEqual([{ kind: 'osc', address: '/page/ready', args: [{ type: 'i', value: 3 }] }]);
});

test('a program that listens is connected to when it comes, and again when it comes back', async () => {
  const port = await freePort();
  const { state, driver } = open({ host: '127.0.0.1', port });
  await until(() => state().trouble.includes(`Nothing is listening at 127.0.0.1:${port}.`), 'it is said');
  expect(driver.send(fog)).toBeNull();
  const first = new WebSocketServer({ port, host: '127.0.0.1' });
  await until(() => state().state === 'open', 'it is connected');
  for (const client of first.clients) client.terminate();
  first.close();
  await until(() => state().state === 'trouble', 'it is missed');
  const second = new WebSocketServer({ port, host: '127.0.0.1' });
  ending.push(() => second.close());
  await until(() => state().state === 'open', 'it is connected again');
});

test('what is no OSC, and text, is counted with a reason; a stranger is not let in', async () => {
  const listenPort = await freePort();
  const { bad, heard } = open({ listenPort });
  const { socket } = await page(listenPort);
  socket.send(Buffer.from('no osc at all'));
  socket.send('/fog/density 0.5');
  await until(() => bad.length === 2, 'both are counted');
  expect(bad[0]).toMatch(/^Not OSC: /);
  expect(bad[1]).toBe('Text on a WebSocket; OSC comes as binary messages.');
  expect(heard).toEqual([]);
  const strict = await freePort();
  const wary = open({ listenPort: strict, hearFrom: ['10.0.0.0/8'] });
  await page(strict);
  await until(() => wary.bad.length > 0, 'the stranger is said');
  expect(wary.bad[0]).toContain('From 127.0.0.1, which is not allowed to send here.');
});

test('a page that says more than can be taken at once is held up, and all of it is heard in the end', async () => {
  const listenPort = await freePort();
  let clock = 0;
  // Each look at the clock finds it later, so that few messages are taken in a turn.
  const intake = createIntakes(() => (clock += 0.1)).open();
  const { heard, bad } = open({ listenPort, intake });
  const { socket } = await page(listenPort);
  const packet = bytes(toBuffer({ address: '/page/flood', args: [] }));
  for (let i = 0; i < 20_000; i++) socket.send(i % 2 ? packet : 'no packet');
  await until(() => heard.length + bad.length + intake.dropped() === 20_000, 'all were taken or dropped');
  expect([heard.length, bad.length, intake.dropped()]).toEqual([10_000, 10_000, 0]);
});

// RFC 6455, 10.2: a server that is not for every page checks the Origin. RFC 6454, 7.3: a page without one says "null".
test.each([
  ['a page that is named', 'http://127.0.0.1:8080', {}, null],
  ['a page of another port', 'http://127.0.0.1:8081', {}, 'From a page of http://127.0.0.1:8081.'],
  ['a page of the internet', 'https://example.org', {}, 'From a page of https://example.org.'],
  ['a page whose name only begins like it', 'http://127.0.0.1:80801', {}, 'From a page of'],
  ['a page of the local network', 'http://wall.local', {}, 'From a page of http://wall.local.'],
  ['a frame without an address', 'null', {}, 'From a page without an address.'],
  ['the same where it was switched on', 'null', { namelessPages: true }, null],
  ['a program that is no browser', undefined, {}, null],
])('%s', async (_, origin, given, refusal) => {
  const listenPort = await freePort();
  const { bad, heard } = open({ listenPort, secret: 'tide-7', pages: ['http://127.0.0.1:8080'], ...given });
  const { socket } = await page(listenPort, 'tide-7', origin);
  socket.on('error', () => undefined);
  socket.send(bytes(toBuffer({ address: '/page/ready', args: [] })));
  await until(() => heard.length + bad.length > 0, 'it is heard, or refused');
  expect([heard.length, bad[0]?.slice(0, refusal?.length) ?? null]).toEqual([refusal ? 0 : 1, refusal]);
});

test.each([
  ['without the secret part', ''],
  ['with another one', 'tide-8'],
  ['with more behind it', 'tide-7/x'],
])('who connects %s of the address is not heard', async (_, path) => {
  const listenPort = await freePort();
  const { bad, heard } = open({ listenPort, secret: 'tide-7' });
  const { socket } = await page(listenPort, path);
  socket.on('error', () => undefined);
  socket.send(bytes(toBuffer({ address: '/page/ready', args: [] })));
  await until(() => bad.length > 0, 'it is refused');
  expect([heard.length, bad[0]]).toEqual([0, expect.stringContaining('without the secret part')]);
});
