/** Converts rows that earlier versions saved to what today's schemas read. */

const isObject = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null;

/** One word in braces in an address that is heard used to be taken, and matched nothing. An open part was meant. */
function hearAsNow(hear: unknown): unknown {
  if (!isObject(hear) || hear['message'] !== 'osc' || typeof hear['address'] !== 'string') return hear;
  return { ...hear, address: hear['address'].replace(/\{[^{},]*\}/g, '*') };
}

/** Mappings used to have a single `send`. */
function mappingAsNow(row: unknown): unknown {
  if (!isObject(row)) return row;
  const now = { ...row, hear: hearAsNow(row['hear']) };
  if (!('send' in now) || 'sends' in now) return now;
  const { send, ...rest } = now as Record<string, unknown>;
  return { ...rest, sends: [send] };
}

function momentAsNow(row: unknown): unknown {
  if (!isObject(row) || !Array.isArray(row['callers'])) return row;
  return { ...row, callers: row['callers'].map(hearAsNow) };
}

const MIGRATIONS: Readonly<Record<string, (row: unknown) => unknown>> = {
  mappings: mappingAsNow,
  moments: momentAsNow,
};

/** @param table the row's table. @returns the row for today's schema, which must still check it */
export const migrateRow = (table: string, row: unknown): unknown => MIGRATIONS[table]?.(row) ?? row;
