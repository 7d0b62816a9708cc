/** Tables as spreadsheets write them (RFC 4180), read a row at a time; a row that can't be taken is said with its line. */
import Papa from 'papaparse';

/** A line of the file that cannot be read. */
export interface BadLine {
  /** Counted from 1, the head included, as a spreadsheet counts its rows. */
  line: number;
  reason: string;
}

/** The error of one row. It is reported with the number of its line. */
export class BadRow extends Error {}

export interface TableRow {
  line: number;
  /** A cell by the name of its column, in small letters; empty where there is none. */
  cell(column: string): string;
}

export interface Table {
  /** As they are written. */
  columns: string[];
  /** Calls `take` with every row that is not empty, and collects what it throws as `BadRow`. @param said told now and then how much was read, 0–1 */
  each(take: (row: TableRow) => void, said?: SayPart): BadLine[];
}

/** Is told how much of a file was read, 0–1. */
export type SayPart = (part: number) => void;

/** It is said once in so many rows. */
const ROWS_A_PART = 50;

/** The most rows and columns of a table: ten times those of a large show. */
export const MOST_ROWS = 10_000;
const MOST_COLUMNS = 500;

/** What spreadsheets put between cells, by the language of the machine. */
const DELIMITERS = [',', ';', '\t', '|'];
const keysOf = (head: readonly string[]): string[] =>
  head.map((word) => unguarded(word.trim()).toLowerCase());

/** What stands between the names of the columns: the rows may have any of these in their texts. */
const delimiterOf = (text: string, wanted: readonly string[]): string =>
  DELIMITERS.find((delimiter) => {
    const [head = []] = Papa.parse<string[]>(text, { delimiter, preview: 1 }).data;
    const keys = keysOf(head);
    return wanted.every((column) => keys.includes(column));
  }) ?? ',';

/** @param wanted columns without which nothing can be read. @returns a reason in words where they are not there */
export function readTable(text: string, wanted: readonly string[], all: readonly string[]): Table | BadLine {
  const plain = text.replace(/^\uFEFF/, '');
  const { data, errors } = Papa.parse<string[]>(plain, {
    delimiter: delimiterOf(plain, wanted),
    skipEmptyLines: false,
    // The head, and one more row than may be.
    preview: MOST_ROWS + 2,
  });
  const [head = [], ...rows] = data;
  if (rows.length > MOST_ROWS && rows.at(-1)!.some((cell) => cell.trim() !== ''))
    return {
      line: MOST_ROWS + 2,
      reason: `A table has at most ${MOST_ROWS} rows. Divide it, and import one part after the other.`,
    };
  if (head.length > MOST_COLUMNS) return { line: 1, reason: `A table has at most ${MOST_COLUMNS} columns.` };
  const columns = head.map((word) => unguarded(word.trim()));
  const keys = keysOf(head);
  const lacking = wanted.filter((column) => !keys.includes(column));
  if (lacking.length > 0) {
    const must = `${lacking.join(' and ')} must be among them`;
    return {
      line: 1,
      reason: `The first line names the columns, and ${must}. All of them: ${all.join(', ')}.`,
    };
  }
  const indexes = new Map(keys.map((key, at) => [key, at] as const).toReversed());
  const broken = new Map(
    errors.filter(({ type }) => type === 'Quotes').map((one) => [one.row ?? 0, one.message]),
  );
  return {
    columns,
    each(take, said) {
      const bad: BadLine[] = [];
      rows.forEach((cells, at) => {
        if (at % ROWS_A_PART === 0) said?.(at / rows.length);
        if (cells.every((cell) => cell.trim() === '')) return;
        const line = at + 2;
        try {
          const quotes = broken.get(at + 1);
          if (quotes !== undefined) throw new BadRow(`The quotation marks don’t match: ${quotes}.`);
          take({
            line,
            cell: (column) => unguarded((cells[indexes.get(column.toLowerCase()) ?? -1] ?? '').trim()),
          });
        } catch (error) {
          if (!(error instanceof BadRow)) throw error;
          bad.push({ line, reason: error.message });
        }
      });
      return bad;
    },
  };
}

/** What a spreadsheet would run as a formula begins with one of these, maybe after apostrophes that guard it. */
const FORMULA = /^'*[=+\-@\t\r]/;
const guarded = (cell: string): string => (FORMULA.test(cell) ? `'${cell}` : cell);
const unguarded = (cell: string): string =>
  cell.startsWith(`'`) && FORMULA.test(cell) ? cell.slice(1) : cell;

/** A cell that a spreadsheet would run gets an apostrophe before it, which spreadsheets take for “this is text”. It is read back without. */
export function writeTable(fields: readonly string[], data: readonly Record<string, string>[]): string {
  const rows = data.map((row) => fields.map((field) => guarded(row[field] ?? '')));
  return `${Papa.unparse({ fields: fields.map(guarded), data: rows }, { newline: '\r\n' })}\r\n`;
}

const YES = ['', 'yes', 'y', 'true', 'on', '1'];
const NO = ['no', 'n', 'false', 'off', '0'];

/** @param empty what an empty cell means */
export function readYes(text: string, column: string, empty: boolean): boolean {
  const word = text.toLowerCase();
  if (word === '') return empty;
  if (!YES.includes(word) && !NO.includes(word)) throw new BadRow(`${column}: “${text}” is not yes or no.`);
  return YES.includes(word);
}
