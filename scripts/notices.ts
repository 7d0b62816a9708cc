/**
 * `npm run notices`: writes THIRD-PARTY.md, the licences of the packages and fonts that the built page contains. Which ones those are is read from
 * a build, so that the file names what ships and nothing else.
 */
import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname, join, relative } from 'node:path';
import { build } from 'vite';
import { ROOT } from './build.js';

interface PackageJson {
  name?: string;
  version?: string;
  license?: string;
}

/** A package with the text of its licence. */
interface Notice {
  name: string;
  version: string;
  license: string;
  text: string;
}

const LICENCE_FILE = /^(licen[cs]e|ofl|copying)(\.|-|$)/i;

/** Finds the folder of the package that a file belongs to; null for a file of ours. */
function packageOf(file: string): string | null {
  const path = file.replace(/^\0/, '').replace(/\?.*$/, '');
  if (!path.includes('/node_modules/')) return null;
  let folder = dirname(path);
  // Some packages have a nested package.json that only says which module system a folder uses.
  while (folder !== '/' && !nameIn(folder)) folder = dirname(folder);
  return folder === '/' ? null : folder;
}

function read(folder: string): PackageJson | null {
  const path = join(folder, 'package.json');
  return existsSync(path) ? (JSON.parse(readFileSync(path, 'utf8')) as PackageJson) : null;
}

const nameIn = (folder: string): boolean => {
  const found = read(folder);
  return found?.name !== undefined && found.version !== undefined;
};

function noticeOf(folder: string): Notice {
  const { name, version, license } = read(folder)!;
  const file = readdirSync(folder).find((one) => LICENCE_FILE.test(one));
  const text = file ? readFileSync(join(folder, file), 'utf8').trim() : '';
  return { name: name!, version: version!, license: license ?? 'see its text', text };
}

/** The files that the build reads, fonts among them. */
async function filesOfBuild(): Promise<string[]> {
  const files = new Set<string>();
  await build({
    root: join(ROOT, 'web'),
    configFile: join(ROOT, 'web/vite.config.ts'),
    logLevel: 'silent',
    build: { write: false },
    plugins: [
      {
        name: 'list-files',
        generateBundle(_, bundle) {
          for (const part of Object.values(bundle)) {
            const list = part.type === 'chunk' ? part.moduleIds : part.originalFileNames;
            for (const file of list) files.add(file.startsWith('/') ? file : join(ROOT, 'web', file));
          }
        },
      },
    ],
  });
  return [...files];
}

/** The notices of everything in the built page, by name. */
export async function notices(): Promise<Notice[]> {
  const folders = new Set((await filesOfBuild()).map(packageOf).filter((folder) => folder !== null));
  const byName = new Map<string, Notice>();
  for (const folder of folders) {
    const notice = noticeOf(folder);
    byName.set(`${notice.name} ${notice.version}`, notice);
  }
  return [...byName.values()].sort((a, b) => a.name.localeCompare(b.name));
}

export function noticesText(list: readonly Notice[]): string {
  const rows = list.map(({ name, version, license }) => `| ${name} | ${version} | ${license} |`);
  const texts = list.map(
    ({ name, version, license, text }) =>
      `## ${name} ${version}\n\n${text === '' ? `The package has no licence file; it names ${license}.` : `\`\`\`text\n${text}\n\`\`\``}\n`,
  );
  return [
    '# Third-party notices',
    '',
    'The page that the browser loads contains these packages and fonts. `npm run notices` writes this file.',
    '',
    '| package | version | licence |',
    '| --- | --- | --- |',
    ...rows,
    '',
    ...texts,
  ].join('\n');
}

if (process.argv[1] && relative(process.argv[1], import.meta.filename) === '')
  writeFileSync(join(ROOT, 'THIRD-PARTY.md'), noticesText(await notices()));
