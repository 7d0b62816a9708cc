/** The names of downloaded files. */
import { expect, test } from '@jest/globals';
import { fileNameOf } from './file-name.js';

test('a file is named after what is in it, and the day', () => {
  const night = new Date(2026, 10, 7, 23, 59);
  expect(fileNameOf('The Lantern Pier', 'show', night)).toBe('the-lantern-pier-2026-11-07.show.json');
  expect(fileNameOf('Storm glass', 'bank')).toBe('storm-glass.bank.json');
  expect(fileNameOf('  ../Räucher: Nebel?  ', 'layout')).toBe('raucher-nebel.layout.json');
  expect(fileNameOf('夜', 'show', night)).toBe('show-2026-11-07.show.json');
  expect(fileNameOf('x'.repeat(500), 'table').length).toBeLessThan(120);
});
