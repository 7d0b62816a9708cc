/** The log of the show: gaps from call to call, beside those of another performance. */
import { describe, expect, test } from '@jest/globals';
import Papa from 'papaparse';
import { writeLog } from '../files/log-csv.js';
import { compareGaps, gapsOf, type LogEntry } from './log.js';

const entry = (at: number, momentId: string, more: Partial<LogEntry> = {}): LogEntry => ({
  id: `${at}`,
  at,
  what: 'called',
  momentId,
  cue: momentId.slice(1),
  name: `Moment ${momentId}`,
  askedBy: 'by hand',
  lines: [],
  ...more,
});

describe('gaps', () => {
  test('are from each call to the next; what was tried, stopped or run by another is none', () => {
    const entries = [
      entry(1000, 'm1'),
      entry(1500, 'm9', { what: 'tried' }),
      entry(4000, 'm2'),
      entry(4200, 'm3', { what: 'ran' }),
      entry(9500, 'm3'),
    ];
    expect(gapsOf(entries)).toEqual([
      { momentId: 'm1', from: '1 · Moment m1', to: '2 · Moment m2', ms: 3000 },
      { momentId: 'm2', from: '2 · Moment m2', to: '3 · Moment m3', ms: 5500 },
    ]);
    expect(gapsOf(entries.toReversed())).toEqual(gapsOf(entries));
    expect(gapsOf([])).toEqual([]);
  });

  test('stand beside the same one of another performance, the first time with the first', () => {
    const tonight = [entry(0, 'm1'), entry(10, 'm2'), entry(30, 'm1'), entry(60, 'm2'), entry(100, 'm3')];
    const before = [entry(0, 'm1'), entry(11, 'm2'), entry(33, 'm1'), entry(66, 'm2')];
    expect(compareGaps(tonight, before).map(({ ms, otherMs }) => [ms, otherMs])).toEqual([
      [10, 11],
      [20, 22],
      [30, 33],
      [40, null],
    ]);
  });
});

// RFC 4180 and ISO 8601; read here by papaparse, as a spreadsheet would.
test('the table says when, what, by whom, and what each line was sent', () => {
  const table = writeLog([
    entry(Date.UTC(2026, 10, 25, 19, 30), 'm4', {
      name: 'Storm, "glass"',
      askedBy: 'by Note 51 pressed',
      lines: [
        { line: 'Lantern rig', sent: 12, heldBack: 0, failed: 3 },
        { line: 'Water screen', sent: 0, heldBack: 1, failed: 0 },
      ],
    }),
  ]);
  const { data } = Papa.parse<Record<string, string>>(table, { header: true, skipEmptyLines: true });
  expect(data).toEqual([
    {
      time: '2026-11-25T19:30:00.000Z',
      what: 'called',
      cue: '4',
      name: 'Storm, "glass"',
      by: 'by Note 51 pressed',
      lines: 'Lantern rig: 12 sent, 3 failed; Water screen: 0 sent, 1 withheld',
      failed: '3',
    },
  ]);
});
