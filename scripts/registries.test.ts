import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test } from '@jest/globals';
import { ROOT } from './build.js';

/** Sources that are not tests and not built. */
const sources = ['core', 'engine', 'server', 'web/src'].flatMap((folder) =>
  readdirSync(join(ROOT, folder), { recursive: true })
    .map((name) => join(folder, String(name)))
    .filter((path) => /\.tsx?$/.test(path))
    .filter((path) => !/node_modules|\bdist\b|\.test(-helper)?\.tsx?$/.test(path)),
);

const found = (pattern: RegExp): string[] =>
  sources.filter((path) => pattern.test(readFileSync(join(ROOT, path), 'utf8')));

test('no place but its own file has a case for each kind of send, or for each message that is heard', () => {
  expect(sources.length).toBeGreaterThan(200);
  expect(found(/switch \([\w.!]*\bsend!?\.kind\)/)).toEqual([]);
  expect(found(/switch \([\w.!]*\b(hear!?\.)?message\)/)).toEqual([]);
});
