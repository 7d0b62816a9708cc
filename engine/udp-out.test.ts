/** A network that is pulled out and put back. The socket's own send is replaced, since a test can't pull a cable: Linux answers send with ENETUNREACH (send(2), ip(7)). */
import { createSocket, Socket } from 'node:dgram';
import { afterEach, describe, expect, jest, test } from '@jest/globals';
import type { LineState } from '@tawny-signal/core/live/line-state';
import { encodeOscBundle } from '@tawny-signal/core/osc/packet';
import { makeLine } from '@tawny-signal/core/show/line';
import type { LineListener } from './drivers/driver.js';
import { until } from '../scripts/test-stage.js';
import { createTimers } from './drivers/retry.js';
import { openOscUdp } from './drivers/osc-udp.js';
import { openUdpOut, sideOfTarget } from './drivers/udp-out.js';

const ending: (() => void)[] = [];
afterEach(() => {
  for (const end of ending.splice(0)) end();
  jest.restoreAllMocks();
});

/** From now on whatever is sent finds no network. @returns puts the cable back */
function pullOut(): () => void {
  const send = jest.spyOn(Socket.prototype, 'send').mockImplementation(function (
    this: Socket,
    ...args: unknown[]
  ) {
    const error = Object.assign(new Error('send ENETUNREACH'), { code: 'ENETUNREACH' });
    const told = args.at(-1);
    process.nextTick(() => {
      if (typeof told === 'function') (told as (error: Error) => void)(error);
      else this.emit('error', error);
    });
  } as Socket['send']);
  return () => send.mockRestore();
}

describe('a network that is pulled out is said, and that it is back is, too', () => {
  test.each([
    ['where the target can be asked', Uint8Array.of(0)],
    ['where it can’t, as in DMX', null],
  ])('%s', async (_, probe) => {
    const target = createSocket('udp4');
    const packets: Buffer[] = [];
    target.on('message', (bytes) => packets.push(bytes));
    await new Promise<void>((done) => target.bind(0, '127.0.0.1', done));
    ending.push(() => target.close());
    const { port } = target.address();
    let trouble: string | null = 'not known yet';
    const timers = createTimers();
    const out = openUdpOut(
      { host: '127.0.0.1', port, probe },
      (words) => (trouble = words),
      () => undefined,
      timers,
    );
    ending.push(
      () => timers.stop(),
      () => out.close(),
    );
    await until(() => trouble === null, 'it is well');
    const putBack = pullOut();
    await until(() => {
      out.send(Uint8Array.of(1));
      return trouble?.startsWith('This machine can’t reach 127.0.0.1.');
    }, 'it is said');
    putBack();
    // Nobody does anything on the desk: it is found out.
    await until(() => trouble === null, 'it is said that it is back');
    packets.length = 0;
    out.send(Uint8Array.of(7));
    await until(() => packets.some((bytes) => bytes[0] === 7), 'it arrives');
  });
});

describe('the direction to a target', () => {
  test('is not used without one, well on this machine, and not proven elsewhere', () => {
    expect(sideOfTarget(null)).toBe('none');
    for (const host of ['127.0.0.1', '127.3.2.1', '::1', 'localhost'])
      expect(sideOfTarget(host)).toBe('open');
    for (const host of ['192.0.2.7', 'front-of-house', 'fd00::1'])
      expect(sideOfTarget(host)).toBe('unproven');
  });

  test('is proven by the first packet from there', async () => {
    // 192.0.2.7 is an address for documentation (RFC 5737): the socket is connected to loopback instead.
    const connect = Socket.prototype.connect;
    jest.spyOn(Socket.prototype, 'connect').mockImplementation(function (
      this: Socket,
      port: number,
      _: unknown,
      done: unknown,
    ) {
      (connect as unknown as (...args: unknown[]) => void).call(this, port, '127.0.0.1', done);
    } as Socket['connect']);
    const target = createSocket('udp4');
    await new Promise<void>((done) => target.bind(0, '127.0.0.1', done));
    ending.push(() => target.close());
    const free = createSocket('udp4');
    await new Promise<void>((done) => free.bind(0, '127.0.0.1', done));
    const { port: listenPort } = free.address();
    await new Promise<void>((done) => free.close(done));
    const row = makeLine({
      kind: 'osc-udp',
      id: 'water',
      name: 'Water screen',
      host: '192.0.2.7',
      port: target.address().port,
      listenPort,
    });
    const states: LineState[] = [];
    const driver = openOscUdp(
      row as never,
      {
        heard: () => undefined,
        bad: () => undefined,
        gone: () => undefined,
        state: (state) => states.push(state),
        take: (work) => work(0),
        holdUp: () => false,
        carried: () => undefined,
        seen: () => undefined,
      } as LineListener,
    );
    ending.push(() => void driver.close());
    const out = (): string | undefined => states.at(-1)?.sides?.out;
    expect(out()).toBe('unproven');
    await until(() => {
      target.send(encodeOscBundle([]), listenPort, '127.0.0.1');
      return out() === 'open';
    }, 'it has answered');
    expect(states.at(-1)).toEqual({ state: 'open', trouble: '', sides: { in: 'open', out: 'open' } });
  });
});
