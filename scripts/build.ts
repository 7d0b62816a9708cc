/** Builds what has changed: core, server and stand-ins with swc, the interface with Vite. */
import { spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

export const ROOT = fileURLToPath(new URL('..', import.meta.url));
const bin = (name: string): string => join(ROOT, 'node_modules/.bin', name);

interface Part {
  folder: string;
  /** Other folders that are part of the build. */
  with: string[];
  command: string[];
}

const bySwc = (folder: string): Part => ({
  folder,
  with: [],
  command: [
    bin('swc'),
    folder,
    '-d',
    `${folder}/dist`,
    '--strip-leading-paths',
    '--config-file',
    'swc.json',
    '--ignore',
    `${folder}/dist/**,**/node_modules/**,**/*.test.ts,**/*.test-helper.ts,**/drizzle.config.ts,**/*.d.ts`,
    '--quiet',
  ],
});

const PARTS: Part[] = [
  bySwc('core'),
  bySwc('engine'),
  bySwc('server'),
  bySwc('stand-ins'),
  { folder: 'web', with: ['core'], command: [bin('vite'), 'build', 'web', '--logLevel', 'warn'] },
];

const PASSED_OVER = new Set(['dist', 'node_modules', 'drizzle']);

function hashFolder(folder: string, hash: ReturnType<typeof createHash>): void {
  for (const entry of readdirSync(join(ROOT, folder), { withFileTypes: true }).sort((a, b) =>
    a.name.localeCompare(b.name),
  )) {
    const path = join(folder, entry.name);
    if (PASSED_OVER.has(entry.name) || /\.test(-helper)?\./.test(entry.name)) continue;
    if (entry.isDirectory()) hashFolder(path, hash);
    else hash.update(path).update(readFileSync(join(ROOT, path)));
  }
}

function contentOf(part: Part): string {
  const hash = createHash('sha256').update(readFileSync(join(ROOT, 'package-lock.json')));
  hash.update(readFileSync(join(ROOT, 'swc.json')));
  for (const folder of [part.folder, ...part.with]) hashFolder(folder, hash);
  return hash.digest('hex');
}

async function build(part: Part): Promise<void> {
  const stamp = join(ROOT, part.folder, 'dist/.built-from');
  const content = contentOf(part);
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === content) return;
  rmSync(join(ROOT, part.folder, 'dist'), { recursive: true, force: true });
  const [program, ...args] = part.command;
  await new Promise<void>((done, fail) => {
    const child = spawn(program!, args, { cwd: ROOT, stdio: 'inherit' });
    child.on('exit', (code) => (code === 0 ? done() : fail(new Error(`building ${part.folder} failed`))));
  });
  mkdirSync(join(ROOT, part.folder, 'dist'), { recursive: true });
  writeFileSync(stamp, content);
}

export async function buildAll(): Promise<void> {
  await Promise.all(PARTS.map(build));
}

if (process.argv[1] === fileURLToPath(import.meta.url)) await buildAll();
