/** The tables of rows are those of core's registry, and each has a name of its own that `drizzle-kit generate` can see. */
import { expect, test } from '@jest/globals';
import { getTableName } from 'drizzle-orm';
import { TABLE_NAMES, TABLES } from '@tawny-signal/core/show/tables';
import * as schema from './schema.js';

test('each table of the show is in the database, under its name', () => {
  const exported = schema as unknown as Record<string, Parameters<typeof getTableName>[0] | undefined>;
  for (const table of TABLE_NAMES) {
    expect(exported[table]).toBe(schema.ROW_TABLES[table]);
    expect(getTableName(schema.ROW_TABLES[table])).toBe(TABLES[table].sql);
  }
});
