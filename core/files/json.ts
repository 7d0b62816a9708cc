/**
 * The open files: a whole show, one bank with its mappings and motions, one layout. JSON in the shape of the schemas that docs/file-format/ publishes;
 * `format` says which it is, `version` how it is read.
 */
import { beginning, NAME_LENGTH } from '../show/text.js';
import { z } from 'zod';
import { bankSchema, type Bank } from '../show/bank.js';
import { FILE_VERSION, fileVersion, id, name } from '../show/fields.js';
import { layoutSchema, type Layout } from '../show/layout.js';
import { mappingSchema, type Mapping } from '../show/mapping.js';
import { motionSchema, type Motion } from '../show/motion.js';
import { migrateRow } from '../show/migrate.js';
import { showSchema, type Show } from '../show.js';
import { TABLE_NAMES, type TableName } from '../show/tables.js';
import { nestsDeeper, TOO_DEEP } from './nesting.js';
import { ROW_SCHEMAS } from '../show/row-schemas.js';
import type { Typed } from '../typed/range.js';
import { relinked } from '../uses/rows.js';
import { shiftChannels } from '../typed/file-channels.js';

export const bankFileSchema = z.object({
  format: z.literal('tawny-signal-bank'),
  version: fileVersion,
  bank: bankSchema,
  /** The lines that the mappings name, so that lines with the same names take their places elsewhere. */
  lines: z.array(z.object({ id, name })),
  mappings: z.array(mappingSchema),
  /** The motions that run while the bank is on, or that its mappings move. */
  motions: z.array(motionSchema).default([]),
});
export type BankFile = z.infer<typeof bankFileSchema>;

export const layoutFileSchema = z.object({
  format: z.literal('tawny-signal-layout'),
  version: fileVersion,
  layout: layoutSchema.omit({ id: true, lineId: true }),
});
export type LayoutFile = z.infer<typeof layoutFileSchema>;

/** What the published schemas describe, by the `format` that a file begins with. */
export const FILE_SCHEMAS = {
  'tawny-signal-show': showSchema,
  'tawny-signal-bank': bankFileSchema,
  'tawny-signal-layout': layoutFileSchema,
} as const;
type Format = keyof typeof FILE_SCHEMAS;

const CALLED: Record<Format, string> = {
  'tawny-signal-show': 'a show',
  'tawny-signal-bank': 'a bank',
  'tawny-signal-layout': 'a layout',
};

const isRecord = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** Converts a file of any version to what the schemas read: rows as they are today, channels from 0. */
function asNow(file: Record<string, unknown>): Record<string, unknown> {
  const counted =
    file['version'] === 1
      ? { ...file, version: FILE_VERSION }
      : (shiftChannels(file, -1) as Record<string, unknown>);
  for (const table of TABLE_NAMES) {
    const rows = counted[table];
    if (Array.isArray(rows)) counted[table] = rows.map((row) => migrateRow(table, row));
  }
  return counted;
}

const NO_VERSION = `This file does not say its version, and so not how its channels count. Write "version": ${FILE_VERSION} where they count from 1, or "version": 1 where they count from 0.`;

/** `mappings, row 3, shape, steps: Steps are 2 or more` */
function placeWords(path: readonly PropertyKey[]): string {
  return path.map((step) => (typeof step === 'number' ? `row ${step + 1}` : String(step))).join(', ');
}

function read<T>(text: string, format: Format, schema: z.ZodType<T>): Typed<T> {
  if (nestsDeeper(text)) return { ok: false, reason: TOO_DEEP };
  let file: unknown;
  try {
    file = JSON.parse(text.replace(/^\uFEFF/, ''));
  } catch (error) {
    return {
      ok: false,
      reason: `This file is not JSON: ${error instanceof Error ? error.message : 'it can’t be read'}.`,
    };
  }
  if (!isRecord(file) || file['format'] !== format) {
    const other = isRecord(file) ? CALLED[file['format'] as Format] : undefined;
    const is = other ? `This file is ${other}` : 'This is not a Tawny Signal file: its format is missing';
    return { ok: false, reason: `${is}; ${CALLED[format]} is needed here (format ${format}).` };
  }
  const { version } = file;
  if (typeof version !== 'number' || !Number.isInteger(version) || version < 1)
    return { ok: false, reason: NO_VERSION };
  const parsed = schema.safeParse(asNow(file));
  if (parsed.success) return { ok: true, value: parsed.data };
  const [first, ...more] = parsed.error.issues;
  const rest = more.length > 0 ? ` And ${more.length} more.` : '';
  return { ok: false, reason: `${placeWords(first!.path) || 'The file'}: ${first!.message}${rest}` };
}

/** The rows that may name a row that is not there. Others, like the groups of a look, are refused without it. */
const MAY_STRAY = ['mappings', 'routes', 'layouts', 'moments', 'motions'] as const;
const NAMED = ['lines', 'banks', 'looks', 'midiFiles', 'moments', 'motions'] as const;

/** Sets ids of missing rows to null, so that a file that was written by hand still opens. */
function withoutStrays(show: Show): Show {
  const known = new Map<TableName, Set<string>>(
    NAMED.map((table) => [table, new Set(show[table].map(({ id: one }) => one))]),
  );
  const idOf = (table: TableName, one: string): string | null =>
    (known.get(table)?.has(one) ?? true) ? one : null;
  const rows = MAY_STRAY.map((table) => [table, show[table].map((row) => relinked<object>(row, idOf))]);
  return { ...show, ...Object.fromEntries(rows) };
}

function repeated(rows: readonly { id: string }[]): string | undefined {
  const seen = new Set<string>();
  return rows.find(({ id }) => seen.has(id) || !seen.add(id))?.id;
}

export function readShowFile(text: string): Typed<Show> {
  const file = read(text, 'tawny-signal-show', showSchema);
  if (!file.ok) return file;
  const twice = (Object.keys(ROW_SCHEMAS) as (keyof typeof ROW_SCHEMAS)[])
    .map((table) => repeated(file.value[table]))
    .find((found) => found !== undefined);
  if (twice !== undefined)
    return { ok: false, reason: `The id ${twice} is used twice in one list. Each row needs its own id.` };
  return { ok: true, value: withoutStrays(file.value) };
}

/** Writes a file, with channels from 1. */
export const writeJson = (file: object): string => `${JSON.stringify(shiftChannels(file, 1), null, 2)}\n`;

/** Calls `found` with each row that a row names. */
function eachNamed(row: object, found: (table: TableName, id: string) => void): void {
  relinked(row, (table, one) => {
    found(table, one);
    return one;
  });
}

/**
 * The motions of a bank: those that run while it is on, those that its mappings move, and what these need in turn. A motion of another bank is left
 * out: it would have no bank to run with.
 */
function motionsOfBank({ motions }: Show, bank: Bank, mappings: readonly Mapping[]): Motion[] {
  const taken = new Set<Motion>();
  const takeNamedBy = (row: object): void =>
    eachNamed(row, (table, one) => {
      const motion = table === 'motions' && motions.find((other) => other.id === one);
      if (motion && (motion.bankId === null || motion.bankId === bank.id)) take(motion);
    });
  function take(motion: Motion): void {
    if (taken.has(motion)) return;
    taken.add(motion);
    takeNamedBy(motion);
  }
  motions.filter(({ bankId }) => bankId === bank.id).forEach(take);
  mappings.forEach(takeNamedBy);
  return motions.filter((motion) => taken.has(motion));
}

/** A bank, its mappings and motions, and the names of the lines that they use. */
export function bankFile(show: Show, bank: Bank): BankFile {
  const mappings = show.mappings.filter((mapping) => mapping.bankId === bank.id);
  const motions = motionsOfBank(show, bank, mappings);
  const used = new Set<string>();
  for (const row of [...mappings, ...motions])
    eachNamed(row, (table, one) => void (table === 'lines' && used.add(one)));
  const lines = show.lines
    .filter((line) => used.has(line.id))
    .map(({ id: lineId, name: called }) => ({ id: lineId, name: called }));
  return { format: 'tawny-signal-bank', version: FILE_VERSION, bank, lines, mappings, motions };
}

export interface TakenBank {
  bank: Bank;
  mappings: Mapping[];
  motions: Motion[];
  /** Names of lines that the rows of the file use and this show does not have. */
  missing: string[];
}

/** Turns a bank of a file into rows of this show. Lines are matched by name. @param newId creates ids */
export function takeBankFile(show: Show, file: BankFile, newId: () => string): TakenBank {
  const here = new Map(show.lines.map((line) => [line.name.toLowerCase(), line.id]));
  const lineOf = new Map(file.lines.map((line) => [line.id, here.get(line.name.toLowerCase()) ?? null]));
  const bank: Bank = { ...file.bank, id: newId(), name: freeName(show.banks, file.bank.name) };
  const motionOf = new Map(file.motions.map((motion) => [motion.id, newId()]));
  const idOf = (table: TableName, one: string): string | null => {
    if (table === 'lines') return lineOf.get(one) ?? null;
    if (table === 'motions') return motionOf.get(one) ?? null;
    if (table === 'banks') return one === file.bank.id ? bank.id : null;
    return show[table].some((row) => row.id === one) ? one : null;
  };
  const motions: Motion[] = [];
  for (const motion of file.motions)
    motions.push({
      ...relinked(motion, idOf),
      id: motionOf.get(motion.id)!,
      name: freeName([...show.motions, ...motions], motion.name),
    });
  return {
    bank,
    mappings: file.mappings.map((mapping) => ({ ...relinked(mapping, idOf), id: newId(), bankId: bank.id })),
    motions,
    missing: file.lines.filter((one) => !lineOf.get(one.id)).map((one) => one.name),
  };
}

/** Returns a name that no row has yet, with a number after it if necessary. */
export function freeName(rows: readonly { name: string }[], wished: string): string {
  const used = new Set(rows.map((row) => row.name.toLowerCase()));
  if (!used.has(wished.toLowerCase())) return wished;
  for (let number = 2; ; number++) {
    const called = `${beginning(wished, NAME_LENGTH - ` ${number}`.length)} ${number}`;
    if (!used.has(called.toLowerCase())) return called;
  }
}

export const readBankFile = (text: string): Typed<BankFile> =>
  read(text, 'tawny-signal-bank', bankFileSchema);

export function layoutFile({ name: called, controls }: Layout): LayoutFile {
  return { format: 'tawny-signal-layout', version: FILE_VERSION, layout: { name: called, controls } };
}
export const readLayoutFile = (text: string): Typed<LayoutFile> =>
  read(text, 'tawny-signal-layout', layoutFileSchema);
