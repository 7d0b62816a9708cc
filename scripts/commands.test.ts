/** What people type: each command says what there is, and refuses what it does not know. */
import { spawnSync } from 'node:child_process';
import { describe, expect, test } from '@jest/globals';
import { ROOT } from './build.js';

const COMMANDS = ['start', 'test', 'bench', 'fuzz', 'mutate', 'backup', 'restore'];

function type(...args: string[]): { code: number | null; said: string } {
  const { status, stdout, stderr } = spawnSync(
    process.execPath,
    ['scripts/bootstrap.mjs', ...args, '--no-install'],
    { cwd: ROOT, encoding: 'utf8' },
  );
  return { code: status, said: stdout + stderr };
}

describe.each(COMMANDS)('%s', (command) => {
  test('has help', () => {
    const { code, said } = type(command, '--help');
    expect(code).toBe(0);
    expect(said).toContain(
      command === 'start' || command === 'test' ? `npm ${command}` : `npm run ${command}`,
    );
  });

  test('refuses an option that it does not know, and runs nothing', () => {
    const { code, said } = type(command, '--lanterns');
    expect(code).toBe(1);
    expect(said).toMatch(/--help|FILE/);
  });
});

test('a command that is none says which there are', () => {
  expect(type('toString').said).toContain('Use npm start, npm test, or npm run with');
  expect(type('bench', 'lanterns').said).toContain('There is no bench “lanterns”.');
});
