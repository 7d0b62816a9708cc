/** Which ports can be served on. */
import { spawnSync } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { createServer, type AddressInfo } from 'node:net';
import { expect, test } from '@jest/globals';
import { ROOT } from './build.js';
import { freePort, portTrouble } from './ports.js';

/** From here on, everybody may listen (Linux, ip_unprivileged_port_start). */
const FOR_ALL = '/proc/sys/net/ipv4/ip_unprivileged_port_start';

test('a port that is free is taken, one that is in use is said', async () => {
  expect(await portTrouble(await freePort())).toBeNull();
  const server = createServer();
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  const { port } = server.address() as AddressInfo;
  expect(await portTrouble(port)).toBe(
    `Port ${port} is in use. Choose another with --port, or leave it out.`,
  );
  await new Promise((done) => server.close(done));
});

test('a port below 1024 without the right is said, and not taken for one in use', () => {
  // The user “nobody” of Debian, where the tests run as root; an ordinary user stays who it is.
  const script = `import('./scripts/ports.ts').then(({ portTrouble }) => {
    if (process.getuid() === 0) process.setuid(65534);
    return portTrouble(81);
  }).then((words) => console.log(words))`;
  const { stdout } = spawnSync(process.execPath, ['--import', 'tsx', '-e', script], {
    cwd: ROOT,
    encoding: 'utf8',
    env: { ...process.env, NODE_OPTIONS: '' },
  });
  const isForAll = existsSync(FOR_ALL) && Number(readFileSync(FOR_ALL, 'utf8')) <= 81;
  expect(stdout).toMatch(
    isForAll ? /^(?:null|Port 81 is in use)/ : /^Port 81 needs the right to listen below 1024/,
  );
});
