/** Backing up and restoring a database that was given, as a user that owns it and may do nothing else. */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { lockRestores, OUR_TABLES, setAside, undoKilledRestore } from '../scripts/set-aside.js';
import { connected } from '../scripts/postgres.js';
import { runCommand } from '../scripts/test-command.js';
import { openTestStage, type TestStage } from '../scripts/test-stage.js';

const LONG_MS = 300_000;
let folder: string;
let stage: TestStage;
let file: string;
beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'tawny-given-backup-'));
  file = join(folder, 'night.backup');
  // The piece of the score player is kept beside the database.
  writeFileSync(join(folder, 'score.mid'), 'the score');
  stage = await openTestStage();
}, LONG_MS);
afterAll(async () => {
  await stage.stop();
  rmSync(folder, { recursive: true, force: true });
}, LONG_MS);

/** Runs `npm run backup` or `restore` for the database of the stage. @returns the code of its end, and what it said */
async function run(command: 'backup' | 'restore', ...options: string[]): Promise<[number, string]> {
  const { ended, said } = runCommand(command, folder, options);
  return [await ended, said()];
}
const here = (): string[] => ['--database', stage.databaseUrl];

const query = (sql: string): Promise<Record<string, unknown>[]> =>
  connected(stage.databaseUrl, async (client) => (await client.query<Record<string, unknown>>(sql)).rows);
/** How many rows each of our tables has, and the name of the show. */
async function contents(): Promise<unknown[]> {
  const counts = OUR_TABLES.filter((table) => table !== 'health').map(
    (table) => `(select count(*) from ${pg.escapeIdentifier(table)}) as ${pg.escapeIdentifier(table)}`,
  );
  return query(
    `select settings->>'name' as name, ${counts.join()},
     (select count(*) from drizzle.__drizzle_migrations) as migrations from shows`,
  );
}
const rename = (name: string): Promise<unknown> =>
  query(`update shows set settings = jsonb_set(settings, '{name}', to_jsonb('${name}'::text))`);
const schemas = async (): Promise<unknown[]> =>
  (await query(`select nspname from pg_namespace where nspname !~ '^pg_' order by 1`)).map(
    ({ nspname }) => nspname,
  );

test(
  'it is backed up while it runs, and refused where it would be changed under a running program',
  async () => {
    expect(await run('backup', file, ...here())).toEqual([0, expect.stringContaining(file)]);
    const before = await contents();
    const [code, said] = await run('restore', file, ...here());
    expect([code, said]).toEqual([
      1,
      expect.stringMatching(/is running with this database.*End it with Ctrl-C/),
    ]);
    expect(await contents()).toEqual(before);
  },
  LONG_MS,
);

test(
  'what was kept comes back in the same database, and what other programs have there stays',
  async () => {
    const kept = await contents();
    await stage.stop();
    await query('create table of_another_program as select 7 as number');
    await query('create view seen_by_another_program as select number from of_another_program');
    await query('create function of_another_program() returns int language sql return 7');
    await rename('The spoilt night');
    await query('delete from moments');
    writeFileSync(join(folder, 'score.mid'), 'another score');

    expect(await run('restore', file, ...here())).toEqual([0, expect.stringContaining('Restored: 1 show.')]);
    expect(readFileSync(join(folder, 'score.mid'), 'utf8')).toBe('the score');
    const first = readdirSync(folder).find((name) => name.startsWith('before-restore-'))!;
    expect(await contents()).toEqual(kept);
    expect(await query('select number from of_another_program')).toEqual([{ number: 7 }]);
    expect(await schemas()).toEqual(['drizzle', 'information_schema', 'public']);

    // A backup of the database that they share is restored too.
    const shared = join(folder, 'shared.backup');
    expect((await run('backup', shared, ...here()))[0]).toBe(0);
    expect(await run('restore', shared, ...here())).toEqual([
      0,
      expect.stringContaining('Restored: 1 show.'),
    ]);
    expect(await query('select number from seen_by_another_program')).toEqual([{ number: 7 }]);

    // What was there before is kept too, without the table of the other program, and can be put back.
    const before = first;
    expect((await run('restore', join(folder, before), ...here()))[0]).toBe(0);
    expect(await contents()).toEqual([expect.objectContaining({ name: 'The spoilt night', moments: '0' })]);
    expect((await run('restore', file, ...here()))[0]).toBe(0);
    // The number of the next edit goes on after the last one.
    expect(
      await query(`select pg_get_serial_sequence('edits', 'id') as sequence,
        (select coalesce(max(id), 0) from edits) < nextval(pg_get_serial_sequence('edits', 'id')) as later`),
    ).toEqual([{ sequence: 'public.edits_id_seq', later: true }]);
  },
  LONG_MS,
);

test(
  'a restore that fails, or is killed when the tables are set aside, leaves everything as it was',
  async () => {
    const kept = await contents();
    // Another program has a table that is called as our index is, so that the restore breaks off in the middle.
    await query('alter table moments rename constraint moments_show_id_id_pk to kept_aside');
    await query('create table moments_show_id_id_pk ()');
    const [code, said] = await run('restore', file, ...here());
    expect([code, said]).toEqual([
      1,
      expect.stringMatching(/"moments_show_id_id_pk" already exists[^]*Nothing was changed\./),
    ]);
    expect(await contents()).toEqual(kept);
    await query('drop table moments_show_id_id_pk');
    // A folder is where the score would be put.
    mkdirSync(join(folder, 'score.mid.restored'));
    writeFileSync(join(folder, 'score.mid'), 'another score');
    expect((await run('restore', file, ...here()))[1]).toContain('Nothing was changed.');
    expect(await contents()).toEqual(kept);
    expect(readFileSync(join(folder, 'score.mid'), 'utf8')).toBe('another score');
    expect(readdirSync(folder)).not.toContain('score.mid.restored');
    await query('alter table moments rename constraint kept_aside to moments_show_id_id_pk');

    await connected(stage.databaseUrl, setAside);
    expect(await schemas()).toContain('tawny_before_restore');
    await expect(contents()).rejects.toThrow('does not exist');
    await connected(stage.databaseUrl, async (atWork) => {
      await lockRestores(atWork);
      await expect(connected(stage.databaseUrl, undoKilledRestore)).rejects.toThrow('is being restored');
    });
    expect(await connected(stage.databaseUrl, undoKilledRestore)).toBe(true);
    expect(await contents()).toEqual(kept);
    expect(await connected(stage.databaseUrl, undoKilledRestore)).toBe(false);
  },
  LONG_MS,
);

test(
  'without the address it is said where the shows are, and no old cluster is taken for them',
  async () => {
    writeFileSync(join(folder, 'kept-elsewhere'), 'db.example:5432/tawny');
    for (const command of ['backup', 'restore'] as const)
      expect(await run(command, join(folder, `${command}.backup`))).toEqual([
        1,
        expect.stringContaining('kept in db.example:5432/tawny. Say its address'),
      ]);
    expect(readdirSync(folder)).not.toContain('postgres');
  },
  LONG_MS,
);
