/**
 * Finds out when somebody overwrites a change of this page. The later change of a field wins, and the person who made the earlier one is told. A page
 * remembers which members of a row it has changed, and compares them with each change of somebody else.
 */
import type { Op } from '../edits.js';
import type { TableName } from '../show/tables.js';

/** Where in a row: names of members and places in lists. */
export type MemberPath = readonly (string | number)[];

interface Leaf {
  path: MemberPath;
  value: unknown;
}

/** A member of a row that somebody else has changed after us. */
export interface Overwritten {
  table: TableName | 'settings';
  id: string;
  path: MemberPath;
  mine: unknown;
  /** The row, or the settings, with what is there now. */
  now: object;
}

export interface MyChanges {
  /** This page has changed a row. @param now ms, of a clock that only goes forward */
  changed(
    table: TableName | 'settings',
    id: string,
    before: object | undefined,
    after: object,
    now: number,
  ): void;
  /** The show was edited. @param mine whether by this page. @returns our changes that were overwritten, each of them once */
  edited(ops: readonly Op[], mine: boolean, now: number): Overwritten[];
}

/** How long a change is remembered, and the most that are. A change of the same field hours later is no accident. */
const REMEMBERED_MS = 10 * 60_000;
const MOST = 200;

const isRecord = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);
const isSame = (a: unknown, b: unknown): boolean => a === b || JSON.stringify(a) === JSON.stringify(b);

/** Finds what differs, as deep as both have the same structure. A list whose length has changed counts as one difference. */
function changedLeaves(before: unknown, after: unknown, path: MemberPath = []): Leaf[] {
  if (isSame(before, after)) return [];
  if (isRecord(before) && isRecord(after)) {
    const names = [...new Set([...Object.keys(before), ...Object.keys(after)])];
    return names.flatMap((name) => changedLeaves(before[name], after[name], [...path, name]));
  }
  if (Array.isArray(before) && Array.isArray(after) && before.length === after.length)
    return after.flatMap((one, at) => changedLeaves(before[at], one, [...path, at]));
  return [{ path, value: after }];
}

const valueAt = (row: unknown, path: MemberPath): unknown =>
  path.reduce<unknown>(
    (value, step) =>
      isRecord(value) || Array.isArray(value) ? (value as Record<string | number, unknown>)[step] : undefined,
    row,
  );

function withValue(row: unknown, [step, ...rest]: MemberPath, value: unknown): unknown {
  if (step === undefined) return value;
  if (Array.isArray(row)) return row.map((one, at) => (at === step ? withValue(one, rest, value) : one));
  return isRecord(row) ? { ...row, [step]: withValue(row[step], rest, value) } : row;
}

/** Returns the change that restores ours: the member of the row that contains it. */
export function putBack({ now, path, mine }: Overwritten): Record<string, unknown> {
  const name = String(path[0]);
  return { [name]: (withValue(now, path, mine) as Record<string, unknown>)[name] };
}

interface Mine extends Leaf {
  table: TableName | 'settings';
  id: string;
  at: number;
}

export function createMyChanges(): MyChanges {
  let mine: Mine[] = [];
  const isAt = (one: Mine, table: string, id: string): boolean => one.table === table && one.id === id;
  const isWithin = (one: Mine, path: MemberPath): boolean =>
    path.length <= one.path.length && path.every((step, at) => step === one.path[at]);

  return {
    changed(table, id, before, after, now) {
      if (!before) return;
      for (const leaf of changedLeaves(before, after)) {
        mine = mine.filter((one) => !(isAt(one, table, id) && isWithin(one, leaf.path)));
        mine.push({ table, id, ...leaf, at: now });
      }
      mine = mine.slice(-MOST);
    },
    edited(ops, isMine, now) {
      mine = mine.filter(({ at }) => now - at < REMEMBERED_MS);
      const found: Overwritten[] = [];
      for (const op of ops) {
        if (op.op === 'remove') {
          mine = mine.filter((one) => !isAt(one, op.table, op.id));
          continue;
        }
        const [table, id, row] =
          op.op === 'put' ? [op.table, op.row.id, op.row] : ['settings' as const, 'settings', op.settings];
        for (const one of mine.filter((each) => isAt(each, table, id))) {
          if (isSame(valueAt(row, one.path), one.value)) continue;
          mine = mine.filter((each) => each !== one);
          if (!isMine) found.push({ table, id, path: one.path, mine: one.value, now: row });
        }
      }
      return found;
    },
  };
}
