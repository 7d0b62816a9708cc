import { fork } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { expect, test } from '@jest/globals';

test('an engine whose launcher is gone is ended by nothing that it still tells it', async () => {
  const script = fileURLToPath(new URL('launcher-child.test-helper.ts', import.meta.url));
  for (let times = 0; times < 3; times++) {
    const child = fork(script, [], {
      execArgv: ['--conditions=source', '--import', 'tsx'],
      env: { ...process.env, NODE_OPTIONS: '' },
      stdio: 'ignore',
    });
    const ended = new Promise((done) => child.on('exit', (code) => done(code)));
    await new Promise((done) => child.once('message', done));
    child.disconnect();
    expect(await ended).toBe(7);
  }
}, 120_000);
