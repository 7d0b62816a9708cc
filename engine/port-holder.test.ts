import { spawn } from 'node:child_process';
import { createSocket } from 'node:dgram';
import { expect, test } from '@jest/globals';
import { tryUdpPort } from '../scripts/ports.js';
import { holderOf, inodesOf, inUseWords } from './drivers/port-holder.js';

// proc(5), /proc/net/udp and /proc/net/tcp, as a machine printed them.
const TABLE = `   sl  local_address rem_address   st tx_queue rx_queue tr tm->when retrnsmt   uid  timeout inode ref pointer drops
 7064: 0100007F:15C2 00000000:0000 07 00000000:00000000 00:00000000 00000000     0        0 88132 2 0000000046dac8a3 0
 7950: 0100007F:1938 00000000:0000 07 00000000:00000000 00:00000000 00000000  1000        0 88133 2 0000000032e94ae3 0
 7951: 0100007F:1938 0100007F:15C2 01 00000000:00000000 00:00000000 00000000     0        0 88134 2 0000000032e94ae3 0`;

test('sockets are found by their port; of TCP only those that listen', () => {
  expect(inodesOf(TABLE, 0x15c2, 'udp')).toEqual(['88132']);
  expect(inodesOf(TABLE, 0x1938, 'udp')).toEqual(['88133', '88134']);
  expect(inodesOf(TABLE.replaceAll(' 07 ', ' 0A '), 0x1938, 'tcp')).toEqual(['88133']);
  expect(inodesOf(TABLE, 1, 'udp')).toEqual([]);
});

test('a port of ours is ours, and one of another program is that program’s', async () => {
  const port = (await tryUdpPort(0))!;
  expect(await holderOf(port, 'udp')).toBeNull();
  const socket = createSocket('udp4');
  await new Promise<void>((done) => socket.bind(port, '127.0.0.1', done));
  expect(await holderOf(port, 'udp')).toBe('us');
  socket.close();
  const program = `require('dgram').createSocket('udp4').bind(${port}, '127.0.0.1', () => console.log('bound'))`;
  const other = spawn(process.execPath, ['-e', program], { stdio: ['ignore', 'pipe', 'ignore'] });
  await new Promise((done) => other.stdout.once('data', done));
  expect(await holderOf(port, 'udp')).toBe(`node (process ${other.pid})`);
  other.kill();
});

test('in words', () => {
  expect(inUseWords(9000, 'node (process 12)')).toBe(
    'Port 9000 is in use by node (process 12). Close that one, or choose another port.',
  );
  expect(inUseWords(9000, 'us')).toContain('by another line of this show');
  expect(inUseWords(9000, null)).toContain('by another program on this machine, or by another line');
});
