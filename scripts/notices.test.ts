/** THIRD-PARTY.md names what ships: every dependency of the page, in the installed version. */
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test } from '@jest/globals';
import { ROOT } from './build.js';

const read = (path: string): string => readFileSync(join(ROOT, path), 'utf8');
const rows = [...read('THIRD-PARTY.md').matchAll(/^\| (\S+) \| (\d\S*) \| (.+) \|$/gm)].map(
  ([, name, version, license]) => ({ name: name!, version: version!, license: license! }),
);

/** The version that is installed for the page; null if there is none. */
function installed(name: string): string | null {
  for (const folder of ['web/node_modules', 'node_modules']) {
    const path = join(folder, name, 'package.json');
    if (existsSync(join(ROOT, path))) return (JSON.parse(read(path)) as { version: string }).version;
  }
  return null;
}

/** Only collects other packages, which have notices of their own: nothing of it is left in the page. */
const COLLECTIONS = ['radix-ui'];

test('every package that the page depends on has a notice: npm run notices', () => {
  const { dependencies } = JSON.parse(read('web/package.json')) as { dependencies: object };
  const named = new Set([...rows.map(({ name }) => name), ...COLLECTIONS]);
  expect(Object.keys(dependencies).filter((name) => !named.has(name))).toEqual([]);
});

test('the versions are those that are installed', () => {
  const { dependencies } = JSON.parse(read('web/package.json')) as { dependencies: Record<string, string> };
  const direct = rows.filter(({ name }) => name in dependencies);
  expect(direct.map(({ name, version }) => [name, version])).toEqual(
    direct.map(({ name }) => [name, installed(name)]),
  );
});

test('each has a licence and its text', () => {
  expect(rows.length).toBeGreaterThan(40);
  expect(rows.filter(({ license }) => license === 'see its text')).toEqual([]);
  const text = read('THIRD-PARTY.md');
  for (const { name, version } of rows) expect(text).toContain(`\n## ${name} ${version}\n\n`);
});
