/** The edits that people make to rows, as ops: checked by core's schemas, with messages at the fields. */
import { randomUUID } from 'node:crypto';
import { isDeepStrictEqual } from 'node:util';
import type { z } from 'zod';
import { positionOf, type Op, type PlacedShow } from '@tawny-signal/core/edits';
import { CARRIES, type Line } from '@tawny-signal/core/show/line';
import { TABLE_NAMES, TABLES, type RowOf, type TableName } from '@tawny-signal/core/show/tables';
import { renamed, usesOf } from '@tawny-signal/core/uses/rows';
import { ringOf } from '@tawny-signal/core/cues/rings';
import { ROW_SCHEMAS } from '@tawny-signal/core/show/row-schemas';
import { motionRing, ringWords } from '@tawny-signal/core/motion/rings';
import type { Motion } from '@tawny-signal/core/show/motion';
import { BadInput, NotThere, problemsOf } from '../http/problems.js';
import { refuseUnknown } from '../http/unknown-fields.js';

const SCHEMAS: { [T in TableName]: z.ZodType<RowOf[T]> } = ROW_SCHEMAS;
const called = (table: TableName): string => `This ${TABLES[table].called}`;

export const newId = (): string => randomUUID().slice(0, 13);

export function findRow<T extends TableName>({ show }: PlacedShow, table: T, id: string): RowOf[T] {
  const row = (show[table] as RowOf[T][]).find((candidate) => candidate.id === id);
  if (!row) throw new NotThere(called(table));
  return row;
}

/** Tables in which several rows may have one name: a song has several choruses. */
const REPEATED_NAMES: readonly TableName[] = ['mappings', 'tempoMarks'];

/** Checks a row against its schema. Names and cue numbers must be unique. */
function check<T extends TableName>({ show }: PlacedShow, table: T, row: unknown): RowOf[T] {
  const parsed = SCHEMAS[table].safeParse(row);
  if (!parsed.success) throw new BadInput(problemsOf(parsed.error.issues));
  const checked = parsed.data;
  refuseUnknown(row, checked);
  if ('cue' in checked) {
    const same = show.moments.find((other) => other.id !== checked.id && other.cue === checked.cue);
    if (same)
      throw new BadInput([
        {
          field: 'cue',
          message: `Cue ${same.cue} is ${same.name || 'there'} already. Choose another number, such as one between.`,
        },
      ]);
    const ring = ringOf([...show.moments.filter(({ id }) => id !== checked.id), checked], checked);
    if (ring >= 0)
      throw new BadInput([
        {
          field: `sends.${ring}.send.momentId`,
          message: `Cue ${checked.cue} would call itself again without any delay. Choose another moment, or add a delay.`,
        },
      ]);
  } else if ('name' in checked && !REPEATED_NAMES.includes(table)) {
    const same = (show[table] as { id: string; name: string }[]).find(
      (other) => other.id !== checked.id && other.name.toLowerCase() === checked.name.toLowerCase(),
    );
    if (same)
      throw new BadInput([
        { field: 'name', message: `“${same.name}” is used already. Choose another name.` },
      ]);
  }
  if (table === 'motions') refuseRing(show.motions, checked as Motion);
  return checked;
}

function refuseRing(motions: readonly Motion[], motion: Motion): void {
  const ring = motionRing([...motions.filter(({ id }) => id !== motion.id), motion], motion);
  if (ring) throw new BadInput([{ field: 'sends', message: `${ringWords(ring)} Choose another motion.` }]);
}

/** Returns a position right after the row `after`; at the end if it is undefined, at the beginning if it is null. */
function placeAfter(placed: PlacedShow, table: TableName, after: string | null | undefined): number {
  const rows: { id: string }[] = placed.show[table];
  const at =
    after === undefined ? rows.length - 1 : after === null ? -1 : rows.findIndex((row) => row.id === after);
  if (after && at < 0) throw new NotThere(called(table));
  const before = at < 0 ? null : positionOf(placed, table, rows[at]!.id);
  const next = rows[at + 1] ? positionOf(placed, table, rows[at + 1]!.id) : null;
  if (before === null) return next === null ? 1 : next - 1;
  return next === null ? before + 1 : (before + next) / 2;
}

const put = <T extends TableName>(table: T, row: RowOf[T], position: number): Op =>
  ({ op: 'put', table, row, position }) as Op;

export function addRow<T extends TableName>(
  placed: PlacedShow,
  table: T,
  row: unknown,
  after?: string | null,
): { ops: Op[]; result: RowOf[T] } {
  const checked = check(placed, table, row);
  return { ops: [put(table, checked, placeAfter(placed, table, after))], result: checked };
}

/** Adds rows at the end that were checked when they were read. */
export function putRows<T extends TableName>(placed: PlacedShow, table: T, rows: readonly RowOf[T][]): Op[] {
  const first = placeAfter(placed, table, undefined);
  return rows.map((row, at) => put(table, row, first + at));
}

/** Adds rows at the end, in one go. */
export function addRows<T extends TableName>(
  placed: PlacedShow,
  table: T,
  rows: readonly unknown[],
): { ops: Op[]; result: RowOf[T][] } {
  const result = rows.map((row) => check(placed, table, row));
  return { ops: putRows(placed, table, result), result };
}

/** Changes the given members of a row. */
export function changeRow<T extends TableName>(
  placed: PlacedShow,
  table: T,
  id: string,
  patch: object,
): { ops: Op[]; result: RowOf[T] } {
  const row = findRow(placed, table, id);
  const checked = check(placed, table, { ...row, ...patch, id });
  if (isDeepStrictEqual(checked, row)) return { ops: [], result: row };
  return { ops: [put(table, checked, positionOf(placed, table, id))], result: checked };
}

/** If positions are closer than this, all rows get new ones, long before two could become equal. */
const CLOSEST = 1e-6;

export function moveRow<T extends TableName>(
  placed: PlacedShow,
  table: T,
  id: string,
  after: string | null,
): { ops: Op[]; result: RowOf[T] } {
  const row = findRow(placed, table, id);
  if (after === id) return { ops: [], result: row };
  const without = {
    ...placed,
    show: { ...placed.show, [table]: (placed.show[table] as { id: string }[]).filter((r) => r.id !== id) },
  };
  const position = placeAfter(without, table, after);
  const rest = without.show[table] as RowOf[T][];
  if (rest.every((other) => Math.abs(positionOf(placed, table, other.id) - position) > CLOSEST)) {
    return { ops: [put(table, row, position)], result: row };
  }
  const at = after === null ? 0 : rest.findIndex((other) => other.id === after) + 1;
  const order = [...rest.slice(0, at), row, ...rest.slice(at)];
  return { ops: order.map((one, i) => put(table, one, i + 1)), result: row };
}

/** Removes a row. @param moveTo the row that everything which uses the removed one uses instead; undefined to leave those as they are */
export function removeRow(
  placed: PlacedShow,
  table: TableName,
  id: string,
  moveTo?: string,
): { ops: Op[]; result: null } {
  findRow(placed, table, id);
  const moved = moveTo === undefined ? [] : moveUses(placed, table, id, moveTo);
  return { ops: [...moved, { op: 'remove', table, id }], result: null };
}

/** Lets everything that uses a row use another one. */
function moveUses(placed: PlacedShow, table: TableName, id: string, moveTo: string): Op[] {
  const to = findRow(placed, table, moveTo);
  const carries = (row: unknown): string => CARRIES[(row as Line).kind];
  if (table === 'lines' && carries(to) !== carries(findRow(placed, table, id)))
    throw new BadInput([
      {
        field: 'moveTo',
        message: `${(to as Line).name} carries something else. Choose a line of the same protocol.`,
      },
    ]);
  const uses = usesOf(placed.show, table, id);
  return TABLE_NAMES.flatMap((other) =>
    (uses[other] as { id: string }[]).flatMap(
      (row) => changeRow(placed, other, row.id, renamed(row, table, id, moveTo)).ops,
    ),
  );
}
