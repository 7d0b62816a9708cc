/** Converts rows that earlier versions saved to what today's schemas read. */

const isObject = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null;

/** Mappings used to have a single `send`. */
function mappingAsNow(row: unknown): unknown {
  if (!isObject(row) || !('send' in row) || 'sends' in row) return row;
  const { send, ...rest } = row;
  return { ...rest, sends: [send] };
}

const MIGRATIONS: Readonly<Record<string, (row: unknown) => unknown>> = { mappings: mappingAsNow };

/** @param table the row's table. @returns the row for today's schema, which must still check it */
export const migrateRow = (table: string, row: unknown): unknown => MIGRATIONS[table]?.(row) ?? row;
