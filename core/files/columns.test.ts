/** Columns of numbers, as spreadsheets write them. */
import { describe, expect, test } from '@jest/globals';
import Papa from 'papaparse';
import { MOST_VALUES } from '../motion/makes/table.js';
import { likelyColumn, numberOf, readColumns } from './columns.js';

const read = (text: string, asked?: Parameters<typeof readColumns>[1]) => {
  const columns = readColumns(text, asked);
  if (!columns.ok) throw new Error(columns.reason);
  return columns.value;
};

describe('columns of numbers', () => {
  test('are named by the first line, and what is missing or no number is said with its line', () => {
    const { columns, header, rows } = read('Hour,Quay °C\n0,4.5\n1,\n2,n/a\n3,-2\n');
    expect([header, rows]).toEqual([true, 4]);
    expect(columns.map(({ name }) => name)).toEqual(['Hour', 'Quay °C']);
    expect(columns[1]).toEqual({
      name: 'Quay °C',
      values: [4.5, null, null, -2],
      missing: 2,
      bad: [{ line: 4, text: 'n/a' }],
      badCount: 1,
    });
  });

  test('can have a decimal comma, and no head', () => {
    const { columns, header, decimal } = read('4,5;10\n-3,25;11\n1.204,5;12\n');
    expect([header, decimal]).toEqual([false, ',']);
    expect(columns[0]!.values).toEqual([4.5, -3.25, 1204.5]);
    expect(columns[0]!.name).toBe('Column 1');
  });

  test('the likely one has the most numbers, and does not only count the rows', () => {
    expect(likelyColumn(read('Day,Note,Quay\n1,a,4.5\n2,b,\n3,c,6\n').columns)).toBe(2);
    expect(likelyColumn(read('Depth\n1\n2\n3\n').columns)).toBe(0);
  });

  test('are read as they are said to be', () => {
    expect(read('1\n2\n', { header: true, decimal: null }).columns[0]).toMatchObject({
      name: '1',
      values: [2],
    });
    expect(read('1,234\n5,678\n', { header: false, decimal: '.' }).columns).toHaveLength(2);
  });

  test('as a spreadsheet package writes them, in any form', () => {
    const values = [0.5, -12, 1e-3, 123456.75];
    expect(read(Papa.unparse(values.map((value) => ({ value })))).columns[0]!.values).toEqual(values);
  });

  test.each([
    [
      'a,b\nx,y\n',
      'There is no column with numbers in this file. Save it as CSV, with a number in each row.',
    ],
    ['', 'There is no column with numbers in this file. Save it as CSV, with a number in each row.'],
    [
      '1\n'.repeat(MOST_VALUES + 1),
      'The file has more than 20,000 rows, which is the most a table takes. Cut it, or take every tenth row.',
    ],
    // Two million rows are not even split into lines.
    ['12.5\n'.repeat(2_000_000), 'The file is larger than 8 MB. Cut it into parts, or take every tenth row.'],
  ])('a file that is none of them is refused in words', (text, reason) => {
    expect(readColumns(text)).toEqual({ ok: false, reason });
  });

  test('the most rows are taken', () => {
    expect(read(`Level\n${'1\n'.repeat(MOST_VALUES)}`).rows).toBe(MOST_VALUES);
  });

  test.each([
    ['1 204,5', ',', 1204.5],
    ['1,204.5', '.', 1204.5],
    ['−3', '.', -3],
    ['1e3', '.', 1000],
    ['3px', '.', null],
    ['1e999', '.', null],
    ['', '.', null],
  ] as const)('%j with %j', (text, decimal, value) => {
    expect(numberOf(text, decimal)).toBe(value);
  });
});
