/** A PostgreSQL that is already there and encrypts, as those of providers do. */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import { chmodSync, chownSync, mkdirSync, mkdtempSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { drizzle } from 'drizzle-orm/node-postgres';
import { migrate } from 'drizzle-orm/node-postgres/migrator';
import { restoreBackup, writeBackup } from '../scripts/backups.js';
import { ROOT } from '../scripts/build.js';
import { checkDatabase, checkedAddress, programAddress } from '../scripts/given-database.js';
import { connected, makeDatabase, programUrl, startCluster, type Cluster } from '../scripts/postgres.js';
import { DATABASES, until } from '../scripts/test-stage.js';
import { ownCertificate } from './people/certificate.js';

const LONG_MS = 240_000;
let folder: string;
let cluster: Cluster;
let url: string;
let authority: string;

/** Its data are where the user of PostgreSQL can reach them, which may be elsewhere. */
const dataFolder = async (): Promise<string> =>
  connected(cluster.ownerUrl('postgres'), async (client) => {
    const { rows } = await client.query<{ data_directory: string }>('show data_directory');
    return rows[0]!.data_directory;
  });

beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'tawny-given-tls-'));
  chmodSync(folder, 0o711);
  cluster = await startCluster(join(folder, 'cluster'), { careless: true });
  await makeDatabase(cluster.ownerUrl, 'given');
  url = programUrl(cluster.ownerUrl('given'));
  const made = await ownCertificate(join(folder, 'certificate'), ['127.0.0.1']);
  authority = join(folder, 'authority.pem');
  writeFileSync(authority, made.authority!);
  const data = await dataFolder();
  const { uid, gid } = statSync(data);
  for (const [name, text] of [
    ['server.crt', made.cert],
    ['server.key', made.key],
  ] as const) {
    writeFileSync(join(data, name), text, { mode: 0o600 });
    chownSync(join(data, name), uid, gid);
  }
  await connected(cluster.ownerUrl('postgres'), async (client) => {
    await client.query('alter system set ssl = on');
    await client.query('select pg_reload_conf()');
  });
  await until(
    () => checkDatabase(`${url}?sslmode=no-verify`).then(() => true),
    'it takes encrypted connections',
  );
  await connected(url, (client) =>
    migrate(drizzle(client), { migrationsFolder: join(ROOT, 'server/drizzle') }),
  );
}, LONG_MS);
afterAll(async () => {
  await cluster.stop();
  rmSync(folder, { recursive: true, force: true });
}, LONG_MS);

const said = (given: string): Promise<string> =>
  checkDatabase(checkedAddress(given)).then(
    () => 'taken',
    (error: Error) => error.message.replace(/^--database \S+: /, ''),
  );

test('its certificate is checked, and what is wrong is said in words', async () => {
  expect(await said(`${url}?sslmode=verify-full&sslrootcert=${authority}`)).toBe('taken');
  expect(await said(`${url}?sslmode=require&sslrootcert=${authority}`)).toBe('taken');
  expect(await said(`${url}?sslmode=no-verify`)).toBe('taken');
  expect(await said(`${url}?sslmode=require`)).toMatch(/^nobody whom this machine knows has signed/);
  expect(await said(`${url}?sslmode=require&sslrootcert=${authority}.none`)).toBe(
    `its address names a file that is not there, ${authority}.none.`,
  );
  const named = url.replace('127.0.0.1', 'localhost');
  expect(await said(`${named}?sslmode=require&sslrootcert=${authority}`)).toMatch(/is for another name/);
});

test('one that does not encrypt is not taken for one that does', async () => {
  const plain = process.env[DATABASES]!.replace('DATABASE', 'postgres');
  expect(await said(`${plain}?sslmode=require`)).toMatch(/^it does not encrypt/);
});

test.each(['no-verify', 'require', 'verify-full'])(
  'it is backed up and restored with sslmode=%s',
  async (mode) => {
    const state = join(folder, mode);
    mkdirSync(state);
    const root = mode === 'no-verify' ? '' : `&sslrootcert=${authority}`;
    const store = { url: checkedAddress(`${url}?sslmode=${mode}${root}`), bin: cluster.bin, state };
    await writeBackup(store, join(state, 'it.backup'));
    expect(await restoreBackup(store, join(state, 'it.backup'), join(state, 'before.backup'))).toBe(0);
  },
  LONG_MS,
);

test('PostgreSQL’s own programs understand every address that Node does', () => {
  for (const mode of ['no-verify', 'require', 'verify-full', 'disable']) {
    const address = programAddress(checkedAddress(`${url}?sslmode=${mode}`));
    const { status, stderr } = spawnSync(`${cluster.bin}psql`, [address.href, '-c', 'select 1'], {
      encoding: 'utf8',
    });
    expect([mode, status, stderr]).toEqual([mode, 0, '']);
  }
});
