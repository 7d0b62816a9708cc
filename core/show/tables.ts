/**
 * The tables of a show, each named once. A new kind of row is a file with its schema in core/show/, a line in row-schemas.ts and a line here; the
 * empty show, edits, files, the tables of the database, the calls of the API and the queries of the browser follow. Schemas are not here, so
 * that the browser can load this without them.
 */
import type { z } from 'zod';
import type { ROW_SCHEMAS } from './row-schemas.js';

export type TableName = keyof typeof ROW_SCHEMAS;
/** A row of each table. */
export type RowOf = { [T in TableName]: z.output<(typeof ROW_SCHEMAS)[T]> };

export interface TableInfo {
  /** What one row is called, in the middle of a sentence. */
  called: string;
  /** Path of its calls under /api. */
  path: string;
  /** Its table in the database. */
  sql: string;
  /** True if only the running order reads it, so that a change of it leaves mappings as they are. */
  ofTheOrder: boolean;
}

const info = (called: string, path: string, more: Partial<TableInfo> = {}): TableInfo => ({
  called,
  path,
  sql: path,
  ofTheOrder: false,
  ...more,
});

export const TABLES: Readonly<Record<TableName, TableInfo>> = {
  lines: info('line', 'lines'),
  banks: info('bank', 'banks'),
  mappings: info('mapping', 'mappings'),
  routes: info('route', 'routes'),
  layouts: info('layout', 'layouts'),
  moments: info('moment', 'moments', { ofTheOrder: true }),
  groups: info('group', 'groups', { ofTheOrder: true }),
  looks: info('look', 'looks', { ofTheOrder: true }),
  midiFiles: info('MIDI file', 'midi-files', { sql: 'midi_files', ofTheOrder: true }),
  timeSources: info('time source', 'time-sources', { sql: 'time_sources' }),
  timeOutputs: info('time output', 'time-outputs', { sql: 'time_outputs' }),
  tempoMarks: info('tempo mark', 'tempo-marks', { sql: 'tempo_marks' }),
  motions: info('motion', 'motions'),
};
export const TABLE_NAMES = Object.keys(TABLES) as readonly TableName[];

/** Creates an object with a value for each table. */
export const forTables = <M extends Record<TableName, unknown>>(
  make: (table: TableName) => M[TableName],
): M => Object.fromEntries(TABLE_NAMES.map((table) => [table, make(table)])) as M;
