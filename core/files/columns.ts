/** Columns of numbers in a CSV (RFC 4180): what can be read of each, and what is wrong with the rest. */
import { beginning } from '../show/text.js';
import Papa from 'papaparse';
import { MOST_VALUES } from '../motion/makes/table.js';

/** A larger file is not read. */
export const MOST_CHARS = 8 << 20;
export const MOST_COLUMNS = 32;
/** How many bad cells are named. */
const MOST_NAMED = 5;

export type DecimalSign = '.' | ',';

export interface NumberColumn {
  name: string;
  /** Null where the cell is empty or is no number. */
  values: (number | null)[];
  missing: number;
  /** Cells that are no numbers, the first few with their lines, counted from 1 as a spreadsheet does. */
  bad: { line: number; text: string }[];
  badCount: number;
}

export interface Columns {
  columns: NumberColumn[];
  /** Whether the first line names the columns. */
  header: boolean;
  decimal: DecimalSign;
  rows: number;
}

export interface ColumnsAsked {
  /** Null to find out. */
  header: boolean | null;
  decimal: DecimalSign | null;
}

/** Whether a column only counts its rows. */
const isCount = ({ values }: NumberColumn): boolean =>
  values.length > 1 && values.every((value, at) => at === 0 || value === values[at - 1]! + 1);

/** The index of the column that is most likely meant: the one with the most numbers that does not only count. Of several, the first. */
export function likelyColumn(columns: readonly NumberColumn[]): number {
  const worth = (column: NumberColumn): number =>
    (column.values.length - column.missing) * (isCount(column) ? 0.01 : 1);
  return columns.reduce((best, column, at) => (worth(column) > worth(columns[best]!) ? at : best), 0);
}

export type ReadColumns = { ok: true; value: Columns } | { ok: false; reason: string };

const PLAIN = /^[-+−]?(?:\d+(?:\.\d*)?|\.\d+)(?:e[-+]?\d+)?$/i;

/** @returns the number; null if the text is none */
export function numberOf(text: string, decimal: DecimalSign): number | null {
  const plain = text.trim().replace(/[ \u00a0\u202f']/g, '');
  const grouped =
    decimal === ','
      ? plain.replace(/\.(?=\d{3}(?:\D|$))/g, '').replace(',', '.')
      : plain.replace(/,(?=\d{3}(?:\D|$))/g, '');
  if (!PLAIN.test(grouped)) return null;
  const value = Number(grouped.replace('−', '-'));
  return Number.isFinite(value) && Math.abs(value) <= 1e9 ? value : null;
}

/** A comma is the decimal sign where more cells are numbers with it. */
function decimalOf(rows: readonly string[][]): DecimalSign {
  const cells = rows.slice(0, 200).flat();
  const numbersWith = (decimal: DecimalSign): number =>
    cells.filter((cell) => numberOf(cell, decimal) !== null).length;
  const commas = cells.filter((cell) => /^\s*[-+−]?\d+,\d+\s*$/.test(cell)).length;
  const points = cells.filter((cell) => /^\s*[-+−]?\d+\.\d+\s*$/.test(cell)).length;
  if (commas !== points) return commas > points ? ',' : '.';
  return numbersWith(',') > numbersWith('.') ? ',' : '.';
}

/** Where commas are decimal signs, semicolons or tabs are between the cells. */
function delimiterOf(text: string): string {
  const [line = ''] = text.slice(0, 10_000).split(/\r?\n/);
  return [';', '\t'].find((sign) => line.includes(sign)) ?? ',';
}

export function readColumns(
  text: string,
  asked: ColumnsAsked = { header: null, decimal: null },
): ReadColumns {
  if (text.length > MOST_CHARS)
    return {
      ok: false,
      reason: `The file is larger than ${MOST_CHARS >> 20} MB. Cut it into parts, or take every tenth row.`,
    };
  const plain = text.replace(/^\uFEFF/, '');
  // One more than can be kept, to know that there are more.
  const { data } = Papa.parse<string[]>(plain, {
    delimiter: delimiterOf(plain),
    skipEmptyLines: 'greedy',
    preview: MOST_VALUES + 2,
  });
  const [first = [], ...rest] = data;
  const decimal = asked.decimal ?? decimalOf(data);
  const header = asked.header ?? (rest.length > 0 && first.every((cell) => numberOf(cell, decimal) === null));
  const rows = header ? rest : data;
  if (rows.length > MOST_VALUES)
    return {
      ok: false,
      reason: `The file has more than ${MOST_VALUES.toLocaleString('en-GB')} rows, which is the most a table takes. Cut it, or take every tenth row.`,
    };
  const width = Math.min(MOST_COLUMNS, Math.max(0, ...data.slice(0, 100).map((row) => row.length)));
  const columns = Array.from({ length: width }, (_, at) =>
    columnOf(rows, at, header ? (first[at] ?? '').trim() : '', decimal, header ? 2 : 1),
  );
  if (!columns.some(({ values }) => values.some((value) => value !== null)))
    return {
      ok: false,
      reason: 'There is no column with numbers in this file. Save it as CSV, with a number in each row.',
    };
  return { ok: true, value: { columns, header, decimal, rows: rows.length } };
}

function columnOf(
  rows: readonly string[][],
  at: number,
  name: string,
  decimal: DecimalSign,
  firstLine: number,
): NumberColumn {
  const column: NumberColumn = {
    name: name === '' ? `Column ${at + 1}` : beginning(name, 60),
    values: [],
    missing: 0,
    bad: [],
    badCount: 0,
  };
  rows.forEach((row, n) => {
    const text = (row[at] ?? '').trim();
    const value = text === '' ? null : numberOf(text, decimal);
    column.values.push(value);
    if (value !== null) return;
    column.missing++;
    if (text === '') return;
    column.badCount++;
    if (column.bad.length < MOST_NAMED) column.bad.push({ line: n + firstLine, text: beginning(text, 40) });
  });
  return column;
}
