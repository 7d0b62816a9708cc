/** The log of a performance as a table, for a spreadsheet. */
import { LOG_WORDS, type LogEntry } from '../cues/log.js';
import { writeTable } from './table.js';

export const LOG_COLUMNS = ['time', 'what', 'cue', 'name', 'by', 'lines', 'failed'] as const;

/** `Lantern rig: 12 sent, 3 failed; Water screen: 1 sent` */
export const linesWords = ({ lines }: Pick<LogEntry, 'lines'>): string =>
  lines
    .map(({ line, sent, heldBack, failed }) =>
      [
        `${line}: ${sent} sent`,
        ...(heldBack > 0 ? [`${heldBack} withheld`] : []),
        ...(failed > 0 ? [`${failed} failed`] : []),
      ].join(', '),
    )
    .join('; ');

/** @returns the table, with a head; times as ISO 8601 in UTC, lines end as RFC 4180 has it */
export function writeLog(entries: readonly LogEntry[]): string {
  const data = entries.map((entry) => ({
    time: new Date(entry.at).toISOString(),
    what: LOG_WORDS[entry.what],
    cue: entry.cue,
    name: entry.name,
    by: entry.askedBy,
    lines: linesWords(entry),
    failed: String(entry.lines.reduce((sum, { failed }) => sum + failed, 0)),
  }));
  return writeTable(LOG_COLUMNS, data);
}
