/** The service of systemd, read by systemd itself (`systemd-analyze verify`), and started as it would start it. */
import { spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { ROOT } from './build.js';
import { unitText } from './service.js';

const ANALYZE = '/usr/bin/systemd-analyze';
let folder: string;
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'tawny-service-'));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const verify = (path: string): string => {
  const { stderr } = spawnSync(ANALYZE, ['verify', '--man=no', path], { encoding: 'utf8' });
  return stderr
    .split('\n')
    .filter((line) => line.includes('tawny-signal.service'))
    .join('\n');
};

const unit = {
  root: ROOT,
  node: process.execPath,
  options: ['--listen', '192.0.2.5', '--database', 'postgres://me:50%$x@db/a b'],
  user: null,
  env: { TAWNY_FOLDER: '/srv/the show' },
};

// Where systemd is not installed, nobody needs the service either.
(existsSync(ANALYZE) ? test : test.skip)(
  'is understood by systemd, and a mistake in it would be seen',
  () => {
    const path = join(folder, 'tawny-signal.service');
    writeFileSync(path, unitText(unit));
    expect(verify(path)).toBe('');
    writeFileSync(path, unitText({ ...unit, node: '/nowhere/node' }).replace('KillMode', 'KilMode'));
    expect(verify(path)).toMatch(/nowhere/);
  },
);

test('keeps what systemd would read as its own', () => {
  const text = unitText(unit);
  expect(text).toContain('"--database" "postgres://me:50%%$$x@db/a b"');
  expect(text).toContain('Environment="TAWNY_FOLDER=/srv/the show"');
  expect(text).toContain('WantedBy=default.target');
  expect(unitText({ ...unit, user: 'juno' })).toMatch(/User=juno\n[^]*WantedBy=multi-user\.target/);
});

test('npm start writes it, for its owner alone, and starts nothing', () => {
  const env = { ...process.env, NODE_OPTIONS: '', TAWNY_SERVICE_FOLDER: folder, TAWNY_FOLDER: folder };
  const run = (...options: string[]) =>
    spawnSync(process.execPath, ['--conditions=source', '--import', 'tsx', 'scripts/start.ts', ...options], {
      cwd: ROOT,
      env,
      encoding: 'utf8',
    });
  expect(run('--install-service', '--port', '99999').stderr).toContain('a port is a number from 1 to 65535');
  const { stdout, status } = run('--port', '4700', '--install-service', '--listen', 'all');
  expect([status, stdout]).toEqual([0, expect.stringContaining('enable --now tawny-signal.service')]);
  const path = join(folder, 'tawny-signal.service');
  const text = readFileSync(path, 'utf8');
  expect(text).toContain('"start" "--no-install" "--port" "4700" "--listen" "all"');
  expect(text).toContain(`Environment="TAWNY_FOLDER=${folder}"`);
  expect(statSync(path).mode & 0o777).toBe(0o600);
  expect(existsSync(join(folder, 'running.json'))).toBe(false);
});
