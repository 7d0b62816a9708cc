/** Tables (RFC 4180). That an apostrophe keeps a spreadsheet from running a cell is common practice (OWASP, “CSV Injection”, from memory). */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import Papa from 'papaparse';
import { readTable, writeTable } from './table.js';

function readBack(text: string): string[] {
  const table = readTable(text, ['name'], ['name']);
  if ('reason' in table) throw new Error(table.reason);
  const read: string[] = [];
  table.each(({ cell }) => read.push(cell('name')));
  return read;
}

describe('a cell', () => {
  test.each(['=HYPERLINK("http://pier.example")', '+1', '-12 dB', '@lamp', `'=already guarded`, `'plain`])(
    '%s is no formula in a spreadsheet, and is read back the same',
    (cell) => {
      const text = writeTable(['name'], [{ name: cell }]);
      const [, [written]] = Papa.parse<string[]>(text).data as [string[], string[]];
      expect(written).not.toMatch(/^[=+\-@]/);
      expect(readBack(text)).toEqual([cell]);
    },
  );

  test.each(['|||', ';;;', '\t\t', 'a|b|c', ';', '"|"'])(
    'that is %j does not say what stands between cells',
    (cell) => {
      expect(readBack(writeTable(['name'], [{ name: cell.trim() || '-' }]))).toEqual([cell.trim() || '-']);
    },
  );

  test.each([',', ';', '\t', '|'])('is read where %j stands between them, whatever is in it', (delimiter) => {
    const text = ['notes', 'name'].join(delimiter) + `\r\n"a,b;c|d\te"${delimiter}"|||,,,"\r\n`;
    expect(readBack(text)).toEqual(['|||,,,']);
  });

  test('of any text is read back the same, but for blanks at its ends', () => {
    const cell = fc.oneof(fc.string(), fc.stringMatching(/^'*[=+\-@][a-z,"';\n]*$/));
    fc.assert(
      fc.property(cell, (name) => {
        fc.pre(name.trim() !== '');
        const text = writeTable(['name'], [{ name: name.trim() }]);
        const [, [written]] = Papa.parse<string[]>(text).data as [string[], string[]];
        expect(written).not.toMatch(/^[=+\-@]/);
        expect(readBack(text)).toEqual([name.trim()]);
      }),
    );
  });
});
