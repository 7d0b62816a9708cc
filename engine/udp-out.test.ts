/** A network that is pulled out and put back. The socket's own send is replaced, since a test can't pull a cable: Linux answers send with ENETUNREACH (send(2), ip(7)). */
import { createSocket, Socket } from 'node:dgram';
import { afterEach, describe, jest, test } from '@jest/globals';
import { until } from '../scripts/test-stage.js';
import { createTimers } from './drivers/retry.js';
import { openUdpOut } from './drivers/udp-out.js';

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
    const out = openUdpOut({ host: '127.0.0.1', port, probe }, (words) => (trouble = words), timers);
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
