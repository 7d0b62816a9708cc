/** What is published of our files is what the program reads. */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test } from '@jest/globals';
import { publishedSchemas } from './published-schemas.js';
import { ROOT } from './build.js';

test('the schemas in docs/file-format are those of the program: npm run schemas writes them anew', async () => {
  for (const [name, text] of await publishedSchemas())
    expect(readFileSync(join(ROOT, 'docs/file-format', name), 'utf8')).toBe(text);
});
