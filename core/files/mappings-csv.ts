/**
 * Mappings as a table for a spreadsheet: what most of them are stands in columns, and what columns can't hold stands in the last one, as
 * JSON with channels from 1. What is changed in a column is read; what is left out gets its default.
 */
import { hearAs, HEARS, type Hear, type HearMessage } from '../hears.js';
import { neverLetGo, neverLetGoWords } from '../mapping/lets-go.js';
import { shapeFor } from '../mapping/defaults.js';
import { sendAs, SENDS, type Send, type SendKind } from '../sends.js';
import type { MiddleC } from '../midi/words.js';
import { mappingFields, type Mapping } from '../show/mapping.js';
import { CURVES, type Shape } from '../show/shape.js';
import type { Show } from '../show.js';
import {
  readChannelSet,
  readChannels,
  readNumbers,
  readScale,
  writeChannels,
  writeScale,
  writeSpan,
  type Typed,
} from '../typed/range.js';
import { shiftChannels } from '../typed/file-channels.js';
import { BadRow, readTable, readYes, writeTable, type BadLine, type SayPart } from './table.js';

export const COLUMNS = [
  'name',
  'on',
  'bank',
  'hear line',
  'hear',
  'channel',
  'number',
  'value',
  'heard',
  'becomes',
  'curve',
  'send line',
  'send',
  'to channel',
  'to number',
  'also',
] as const;
/** The last column of tables of version 1, whose channels count from 0. */
const ALSO_ONCE = 'more';
type Column = (typeof COLUMNS)[number];
type Row = Record<Column, string>;

export interface ReadMappings {
  mappings: Omit<Mapping, 'id'>[];
  bad: BadLine[];
}

function must<T>(read: Typed<T>, column: Column): T {
  if (!read.ok) throw new BadRow(`${column}: ${read.reason}`);
  return read.value;
}

const plainSpan = (span: [number, number] | 'any'): string => writeSpan(span).replace('–', '-');
const plainScale = (scale: [number, number]): string =>
  writeScale(scale).replace('–', ' to ').replaceAll('−', '-');

const heardNumber = (hear: Hear): string => HEARS[hear.message].column?.write(hear) ?? '';
const sentNumber = (send: Send): string => SENDS[send.kind].column?.write(send) ?? '';

/** Returns the members of one object that differ from another; null if none do. */
function difference(of: object, from: object): object | null {
  const base = from as Record<string, unknown>;
  const other = Object.entries(of).filter(
    ([key, value]) => JSON.stringify(value) !== JSON.stringify(base[key]),
  );
  return other.length > 0 ? Object.fromEntries(other) : null;
}

function columnsOf(mapping: Mapping, show: Show): Row {
  const lineName = (id: string | null): string => show.lines.find((line) => line.id === id)?.name ?? '';
  const { hear, shape, sends } = mapping;
  const [send] = sends;
  return {
    name: mapping.name,
    on: mapping.on ? 'yes' : 'no',
    bank: show.banks.find((bank) => bank.id === mapping.bankId)?.name ?? '',
    'hear line': lineName(hear.lineId),
    hear: hear.message,
    channel: 'channels' in hear ? writeChannels(hear.channels).replace('–', '-') : '',
    number: heardNumber(hear),
    value: 'values' in hear ? plainSpan(hear.values) : '',
    heard: plainScale(shape.in),
    becomes: plainScale(shape.out),
    curve: shape.curve,
    'send line': send ? lineName(send.lineId) : '',
    send: send?.kind ?? '',
    'to channel': send && 'channel' in send ? String(send.channel + 1) : '',
    'to number': send ? sentNumber(send) : '',
    also: '',
  };
}

/** @returns the table, with a head; lines end as RFC 4180 has it */
export function writeMappings(show: Show): string {
  const rows = show.mappings.map((mapping) => {
    const row = columnsOf(mapping, show);
    const plain = mappingOf(row, show, 4);
    const [send, ...others] = mapping.sends;
    const more = {
      hear: difference(mapping.hear, plain.hear),
      when: difference(mapping.when, plain.when),
      shape: difference(mapping.shape, plain.shape),
      send: send ? difference(send, plain.sends[0]!) : null,
      sends: others.length > 0 ? others : null,
      answer: mapping.answer,
    };
    const kept = Object.entries(more).filter(([, value]) => value !== null);
    return {
      ...row,
      also: kept.length > 0 ? JSON.stringify(shiftChannels(Object.fromEntries(kept), 1)) : '',
    };
  });
  return writeTable(COLUMNS, rows);
}

function hearOf(row: Row, lineId: string | null, middleC: MiddleC): Hear {
  const message = row.hear as HearMessage;
  if (!Object.hasOwn(HEARS, message))
    throw new BadRow(`hear: “${row.hear}” is not one of ${Object.keys(HEARS).join(', ')}.`);
  const hear: Hear = { ...hearAs(message), lineId };
  const { number } = row;
  if ('channels' in hear && row.channel !== '') hear.channels = must(readChannelSet(row.channel), 'channel');
  if ('values' in hear && row.value !== '')
    hear.values = must(readNumbers(row.value, 'A value', HEARS[message].value?.high ?? 127), 'value');
  const { column } = HEARS[message];
  return number === '' || !column
    ? hear
    : ({ ...hear, ...must(column.read(number, middleC), 'number') } as Hear);
}

/** @returns null where nothing is sent yet */
function sendOf(row: Row, lineId: string | null, middleC: MiddleC): Send | null {
  if (row.send === '') return null;
  const kind = row.send as SendKind;
  if (!Object.hasOwn(SENDS, kind))
    throw new BadRow(`send: “${row.send}” is not one of ${Object.keys(SENDS).join(', ')}.`);
  const send: Send = { ...sendAs(kind, lineId), lineId };
  if ('channel' in send && row['to channel'] !== '') {
    const channels = must(readChannels(row['to channel']), 'to channel');
    if (channels === 'any' || channels[0] !== channels[1])
      throw new BadRow('to channel: write one channel, 1 to 16.');
    [send.channel] = channels;
  }
  const to = row['to number'];
  const { column } = SENDS[kind];
  return to === '' || !column ? send : ({ ...send, ...must(column.read(to, middleC), 'to number') } as Send);
}

function lineOf(show: Show, called: string, column: Column): string | null {
  if (called === '') return null;
  const line = show.lines.find((one) => one.name.toLowerCase() === called.toLowerCase());
  if (!line) throw new BadRow(`${column}: unknown line “${called}”. Add it first, or leave this empty.`);
  return line.id;
}

function bankOf(show: Show, called: string): string | null {
  if (called === '') return null;
  const bank = show.banks.find((one) => one.name.toLowerCase() === called.toLowerCase());
  if (!bank) throw new BadRow(`bank: unknown bank “${called}”. Add it first, or leave this empty.`);
  return bank.id;
}

/** Reads what is in the columns. */
function mappingOf(row: Row, show: Show, middleC: MiddleC): Omit<Mapping, 'id'> {
  const hear = hearOf(row, lineOf(show, row['hear line'], 'hear line'), middleC);
  const send = sendOf(row, lineOf(show, row['send line'], 'send line'), middleC);
  const shape: Shape = shapeFor(hear.message, send?.kind);
  if (row.heard !== '') shape.in = must(readScale(row.heard), 'heard');
  if (row.becomes !== '') shape.out = must(readScale(row.becomes), 'becomes');
  if (row.curve !== '') {
    if (!(CURVES as readonly string[]).includes(row.curve))
      throw new BadRow(`curve: “${row.curve}” is not one of ${CURVES.join(', ')}.`);
    shape.curve = row.curve as Shape['curve'];
  }
  const when = mappingFields.shape.when.parse(undefined);
  const bankId = bankOf(show, row.bank);
  return {
    name: row.name,
    on: readYes(row.on, 'on', true),
    bankId,
    hear,
    when,
    shape,
    sends: send ? [send] : [],
    answer: null,
  };
}

/** Reads what no column holds. @param column its name, from which follows how channels count in it */
function readAlso(text: string, column: string): Record<string, unknown> {
  try {
    const also = JSON.parse(text) as unknown;
    return (column === ALSO_ONCE ? also : shiftChannels(also, -1)) as Record<string, unknown>;
  } catch {
    throw new BadRow(`${column}: this can’t be read as JSON. Leave it as it was exported, or empty.`);
  }
}

/** Adds what no column holds. */
function withAlso(mapping: Omit<Mapping, 'id'>, more: Record<string, unknown>): unknown {
  const others = Array.isArray(more['sends']) ? (more['sends'] as unknown[]) : [];
  return {
    ...mapping,
    hear: { ...mapping.hear, ...(more['hear'] as object) },
    when: { ...mapping.when, ...(more['when'] as object) },
    shape: { ...mapping.shape, ...(more['shape'] as object) },
    sends: [...mapping.sends.map((send) => ({ ...send, ...(more['send'] as object) })), ...others],
    answer: more['answer'] ?? null,
  };
}

const rowSchema = mappingFields.omit({ id: true });

function readRow(row: Row, once: string, show: Show): Omit<Mapping, 'id'> {
  const mapping = mappingOf(row, show, show.settings.middleC);
  const also = once === '' ? readAlso(row.also || '{}', 'also') : readAlso(once, ALSO_ONCE);
  const parsed = rowSchema.safeParse(withAlso(mapping, also));
  if (parsed.success) {
    const { hear, sends } = parsed.data;
    if (neverLetGo(hear, sends) >= 0) throw new BadRow(neverLetGoWords(hear));
    return parsed.data;
  }
  const [issue] = parsed.error.issues;
  throw new BadRow(`${issue!.path.map(String).join(' ')}: ${issue!.message}`);
}

/** Reads a table. Returns the rows that can be read, and the number and reason of each line that cannot. @param said told how much was read */
export function readMappings(text: string, show: Show, said?: SayPart): ReadMappings {
  const table = readTable(text, ['hear', 'send'], COLUMNS);
  if ('reason' in table) return { mappings: [], bad: [table] };
  const mappings: Omit<Mapping, 'id'>[] = [];
  const bad = table.each(({ cell }) => {
    const row = Object.fromEntries(COLUMNS.map((column) => [column, cell(column)])) as Row;
    mappings.push(readRow(row, cell(ALSO_ONCE), show));
  }, said);
  return { mappings, bad };
}
