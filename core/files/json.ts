/**
 * The open files: a whole show, one bank with its mappings, one layout. JSON in the shape of the schemas that docs/file-format/ publishes;
 * `format` says which it is, `version` how it is read.
 */
import { z } from 'zod';
import { bankSchema, type Bank } from '../show/bank.js';
import { FILE_VERSION, fileVersion, id, name } from '../show/fields.js';
import { layoutSchema, type Layout } from '../show/layout.js';
import { mappingSchema, type Mapping } from '../show/mapping.js';
import { migrateRow } from '../show/migrate.js';
import { showSchema, type Show } from '../show.js';
import { TABLE_NAMES } from '../show/tables.js';
import { ROW_SCHEMAS } from '../show/row-schemas.js';
import type { Typed } from '../typed/range.js';
import { shiftChannels } from '../typed/file-channels.js';

export const bankFileSchema = z.object({
  format: z.literal('tawny-signal-bank'),
  version: fileVersion,
  bank: bankSchema,
  /** The lines that the mappings name, so that lines with the same names take their places elsewhere. */
  lines: z.array(z.object({ id, name })),
  mappings: z.array(mappingSchema),
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

/** `mappings, row 3, shape, steps: Steps are 2 or more` */
function placeWords(path: readonly PropertyKey[]): string {
  return path.map((step) => (typeof step === 'number' ? `row ${step + 1}` : String(step))).join(', ');
}

function read<T>(text: string, format: Format, schema: z.ZodType<T>): Typed<T> {
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
  const parsed = schema.safeParse(asNow(file));
  if (parsed.success) return { ok: true, value: parsed.data };
  const [first, ...more] = parsed.error.issues;
  const rest = more.length > 0 ? ` And ${more.length} more.` : '';
  return { ok: false, reason: `${placeWords(first!.path) || 'The file'}: ${first!.message}${rest}` };
}

/** Sets ids of missing rows to null, so that a file that was written by hand still opens. */
function withoutStrays(show: Show): Show {
  const lines = new Set(show.lines.map((line) => line.id));
  const banks = new Set(show.banks.map((bank) => bank.id));
  const line = (lineId: string | null): string | null =>
    lineId !== null && lines.has(lineId) ? lineId : null;
  const bank = (bankId: string | null): string | null =>
    bankId !== null && banks.has(bankId) ? bankId : null;
  return {
    ...show,
    mappings: show.mappings.map((mapping) => relinked(mapping, line, bank)),
    routes: show.routes.map((route) => ({ ...route, fromId: line(route.fromId), toId: line(route.toId) })),
    layouts: show.layouts.map((layout) => ({ ...layout, lineId: line(layout.lineId) })),
    moments: show.moments.map((moment) => ({
      ...moment,
      callers: moment.callers.map((hear) => ({ ...hear, lineId: line(hear.lineId) })),
      sends: moment.sends.map((given) =>
        given.kind === 'send'
          ? { ...given, send: { ...given.send, lineId: line(given.send.lineId) } }
          : { ...given, lineId: line(given.lineId) },
      ),
    })),
  };
}

/** Replaces the lines and banks that a mapping names. */
function relinked(
  mapping: Mapping,
  line: (id: string | null) => string | null,
  bank: (id: string | null) => string | null,
): Mapping {
  return {
    ...mapping,
    bankId: bank(mapping.bankId),
    hear: { ...mapping.hear, lineId: line(mapping.hear.lineId) },
    when: { ...mapping.when, bankId: bank(mapping.when.bankId) },
    sends: mapping.sends.map((send) => ({
      ...send,
      lineId: line(send.lineId),
      ...(send.kind === 'bank' && { bankId: bank(send.bankId) }),
    })),
    answer: mapping.answer && {
      ...mapping.answer,
      lineId: line(mapping.answer.lineId),
      bankId: bank(mapping.answer.bankId),
    },
  };
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

/** A bank, its mappings, and the names of the lines that they use. */
export function bankFile(show: Show, bank: Bank): BankFile {
  const mappings = show.mappings.filter((mapping) => mapping.bankId === bank.id);
  const used = new Set(
    mappings.flatMap(({ hear, sends, answer }) => [
      hear.lineId,
      answer?.lineId ?? null,
      ...sends.map((send) => send.lineId),
    ]),
  );
  const lines = show.lines
    .filter((line) => used.has(line.id))
    .map(({ id: lineId, name: called }) => ({ id: lineId, name: called }));
  return { format: 'tawny-signal-bank', version: FILE_VERSION, bank, lines, mappings };
}

export interface TakenBank {
  bank: Bank;
  mappings: Mapping[];
  /** Names of lines that the mappings of the file use and this show does not have. */
  missing: string[];
}

/** Turns a bank of a file into rows of this show. Lines are matched by name. @param newId creates ids */
export function takeBankFile(show: Show, file: BankFile, newId: () => string): TakenBank {
  const here = new Map(show.lines.map((line) => [line.name.toLowerCase(), line.id]));
  const lineOf = new Map(file.lines.map((line) => [line.id, here.get(line.name.toLowerCase()) ?? null]));
  const bank: Bank = { ...file.bank, id: newId(), name: freeName(show.banks, file.bank.name) };
  const line = (lineId: string | null): string | null =>
    lineId === null ? null : (lineOf.get(lineId) ?? null);
  const bankOf = (bankId: string | null): string | null => (bankId === file.bank.id ? bank.id : null);
  return {
    bank,
    mappings: file.mappings.map((mapping) => ({
      ...relinked(mapping, line, bankOf),
      id: newId(),
      bankId: bank.id,
    })),
    missing: file.lines.filter((one) => !lineOf.get(one.id)).map((one) => one.name),
  };
}

/** Returns a name that no row has yet, with a number after it if necessary. */
export function freeName(rows: readonly { name: string }[], wished: string): string {
  const used = new Set(rows.map((row) => row.name.toLowerCase()));
  if (!used.has(wished.toLowerCase())) return wished;
  for (let number = 2; ; number++) {
    const called = `${wished.slice(0, 55)} ${number}`;
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
