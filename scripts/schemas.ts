/** `npm run schemas`: writes the schemas of our files as JSON Schema into docs/file-format/. A test holds that they are current. */
import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { publishedSchemas } from './published-schemas.js';
import { ROOT } from './build.js';

const FOLDER = join(ROOT, 'docs/file-format');

mkdirSync(FOLDER, { recursive: true });
for (const [name, text] of await publishedSchemas()) writeFileSync(join(FOLDER, name), text);
