/** Converts rows that earlier versions saved to what today's schemas read. */
import { HEARS, type HearMessage } from '../hears.js';

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
  if (!('send' in now) || 'sends' in now) return letGoAsNow(now);
  const { send, ...rest } = now as Record<string, unknown>;
  return letGoAsNow({ ...rest, sends: [send] });
}

const runsWhileHeld = (send: unknown): boolean =>
  isObject(send) && send['kind'] === 'motion' && send['act'] === 'press';
const started = (send: unknown): unknown =>
  runsWhileHeld(send) ? { ...(send as object), act: 'start' } : send;

/** A motion that runs while its control is held could be moved by what never says that it was let go, and ran for ever. */
function letGoAsNow(row: Record<string, unknown>): Record<string, unknown> {
  const { hear, sends } = row;
  if (!isObject(hear) || !Array.isArray(sends) || !sends.some(runsWhileHeld)) return row;
  const { neverLetGo } = HEARS[hear['message'] as HearMessage] ?? {};
  if (!neverLetGo) return row;
  const held = neverLetGo.instead;
  return held ? { ...row, hear: { ...hear, message: held } } : { ...row, sends: sends.map(started) };
}

function momentAsNow(row: unknown): unknown {
  if (!isObject(row)) return row;
  const { callers, sends } = row;
  return {
    ...row,
    ...(Array.isArray(callers) && { callers: callers.map(hearAsNow) }),
    ...(Array.isArray(sends) && {
      sends: sends.map((one: unknown) =>
        isObject(one) && 'send' in one ? { ...one, send: started(one['send']) } : one,
      ),
    }),
  };
}

const MIGRATIONS: Readonly<Record<string, (row: unknown) => unknown>> = {
  mappings: mappingAsNow,
  moments: momentAsNow,
};

/** @param table the row's table. @returns the row for today's schema, which must still check it */
export const migrateRow = (table: string, row: unknown): unknown => MIGRATIONS[table]?.(row) ?? row;
