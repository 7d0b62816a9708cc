/**
 * The running order as a table, as cue sheets are written in a spreadsheet: a row is a moment; after the columns about the moment comes one
 * for each line, by its name, and one for what is done to the show itself. core/typed/moment-cell says what stands in them.
 */
import { isCueNumber } from '../cues/number.js';
import { lineOfSend } from '../cues/words.js';
import type { Hear } from '../hears.js';
import { momentSchema, type Moment } from '../show/moment.js';
import type { Show } from '../show.js';
import { readCell, writeCell } from '../typed/moment-cell.js';
import { STYLE_NOW, STYLE_ONCE, type TableStyle } from '../typed/cell-ways.js';
import { readHear, writeHear } from '../typed/hear-words.js';
import { readSpan, spanWords } from '../typed/span.js';
import { shiftChannels } from '../typed/file-channels.js';
import {
  BadRow,
  readTable,
  readYes,
  writeTable,
  type BadLine,
  type SayPart,
  type TableRow,
} from './table.js';

/** The columns about the moment. */
const ABOUT = ['cue', 'name', 'notes', 'called', 'called on', 'timecode', 'parked', 'called by'] as const;
/**
 * The controls in tables of version 1: JSON with channels from 0. A table that has this column is read as it was meant then: a time without a
 * unit is in ms, a level without a unit is that of a slot.
 */
const CONTROLS_ONCE = 'controls';
/** What is done to the show itself. */
const OWN = 'this show';
/** The column for sends whose line is gone. */
const NO_LINE = 'no line';

export type NewMoment = Omit<Moment, 'id'>;
const newMomentSchema = momentSchema.omit({ id: true });

export interface ReadMoments {
  moments: NewMoment[];
  /** The columns that the table has, in small letters. */
  columns: ReadonlySet<string>;
  bad: BadLine[];
}

const MEMBER_OF: Record<(typeof ABOUT)[number], keyof NewMoment> = {
  cue: 'cue',
  name: 'name',
  notes: 'notes',
  called: 'follow',
  'called on': 'callOn',
  timecode: 'timecode',
  parked: 'parked',
  'called by': 'callers',
};

const followWords = ({ follow }: Moment): string =>
  follow === null ? 'by Go' : `${spanWords(follow)} after ${follow.after}`;

function readFollow(text: string, style: TableStyle): Moment['follow'] {
  if (/^(?:|go|by go|by hand)$/i.test(text)) return null;
  const match = /^(.+?)\s+after\s+(?:the\s+)?(start|end)$/i.exec(text);
  if (!match) throw new BadRow(`called: “${text}” is not understood. Write by Go, or 2 s after end.`);
  const span = readSpan(match[1]!, style.time, 3_600_000);
  if (!span.ok) throw new BadRow(`called: ${span.reason}`);
  return { after: match[2]!.toLowerCase() as 'start' | 'end', ...span.value };
}

const CALL_ON: Record<string, Moment['callOn']> = { '': 'now', 'at once': 'now', beat: 'beat', bar: 'bar' };

function readCallOn(text: string): Moment['callOn'] {
  const on = CALL_ON[text.trim().toLowerCase()];
  if (!on) throw new BadRow(`called on: “${text}” is not understood. Write at once, beat or bar.`);
  return on;
}

/** @returns the table, with a head; lines end as RFC 4180 has it */
export function writeMoments(show: Show): string {
  const isOn = (lineId: string | null) => (moment: Moment) =>
    moment.sends.filter((given) => lineOfSend(given) === lineId);
  const gone = (moment: Moment): Moment['sends'] =>
    moment.sends.filter((given) => {
      const lineId = lineOfSend(given);
      return lineId !== null && !show.lines.some(({ id }) => id === lineId);
    });
  const columns: { name: string; of: (moment: Moment) => Moment['sends'] }[] = [
    ...show.lines.map(({ id, name }) => ({ name, of: isOn(id) })),
    { name: OWN, of: isOn(null) },
    { name: NO_LINE, of: gone },
  ].filter(({ of }) => show.moments.some((moment) => of(moment).length > 0));
  const rows = show.moments.map((moment) => ({
    cue: moment.cue,
    name: moment.name,
    notes: moment.notes,
    called: followWords(moment),
    'called on': moment.callOn === 'now' ? 'at once' : moment.callOn,
    timecode: moment.timecode ?? '',
    parked: moment.parked ? 'yes' : 'no',
    'called by': moment.callers.map((hear) => writeCaller(hear, show)).join('\n'),
    ...Object.fromEntries(columns.map(({ name, of }) => [name, writeCell(of(moment), show)])),
  }));
  return writeTable([...ABOUT, ...columns.map(({ name }) => name)], rows);
}

/** Writes a control that calls a moment in words, or as JSON with channels from 1. */
const writeCaller = (hear: Hear, show: Show): string =>
  writeHear(hear, show) ?? JSON.stringify(shiftChannels(hear, 1));

function readCaller(text: string, show: Show): unknown {
  if (text.startsWith('{')) return shiftChannels(parsed(text, 'called by'), -1);
  const read = readHear(text, show);
  if (!read.ok) throw new BadRow(`called by: ${read.reason}`);
  return read.value;
}

function parsed(text: string, column: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    throw new BadRow(`${column}: this can’t be read as JSON. Leave it as it was exported, or empty.`);
  }
}

/** Reads the controls that call a moment, one a line. */
function readCallers(row: TableRow, show: Show): unknown {
  const once = row.cell(CONTROLS_ONCE);
  if (once !== '') return parsed(once, CONTROLS_ONCE);
  return row
    .cell('called by')
    .split(/\r?\n/)
    .map((one) => one.trim())
    .filter(Boolean)
    .map((one) => readCaller(one, show));
}

function readSends(
  row: TableRow,
  columns: readonly string[],
  show: Show,
  style: TableStyle,
): Moment['sends'] {
  return columns.flatMap((column) => {
    const line = show.lines.find(({ name }) => name.toLowerCase() === column.toLowerCase());
    const read = readCell(row.cell(column), line?.id ?? null, show, style);
    if (!read.ok) throw new BadRow(`${column}: ${read.reason}`);
    return read.value;
  });
}

/** Columns that are neither about the moment nor of a line. */
function strangers(columns: readonly string[], show: Show): string[] {
  const known = [...ABOUT, CONTROLS_ONCE, OWN, NO_LINE, ...show.lines.map(({ name }) => name.toLowerCase())];
  return columns.filter((column) => column !== '' && !known.includes(column.toLowerCase()));
}

/**
 * Reads a table. Lines that can't be taken are said, each with its number and reason; the others are there. A cue that the show has already is
 * no fault here: whoever puts the moments in decides.
 * @param said told how much was read
 */
export function readMoments(text: string, show: Show, said?: SayPart): ReadMoments {
  const table = readTable(text, ['cue'], ABOUT);
  if ('reason' in table) return { moments: [], columns: new Set(), bad: [table] };
  const strange = strangers(table.columns, show);
  if (strange.length > 0) {
    const lines = show.lines.map(({ name }) => name).join(', ');
    const reason = `There is no line “${strange.join('”, “')}”. Name the column as the line is named, or make the line first. The lines are ${lines}.`;
    return { moments: [], columns: new Set(), bad: [{ line: 1, reason }] };
  }
  const about: readonly string[] = [...ABOUT, CONTROLS_ONCE];
  const ofLines = table.columns.filter((column) => column !== '' && !about.includes(column.toLowerCase()));
  const columns = new Set(table.columns.map((column) => column.toLowerCase()));
  const style = columns.has(CONTROLS_ONCE) ? STYLE_ONCE : STYLE_NOW;
  if (columns.has(CONTROLS_ONCE)) columns.add('called by');
  const moments: NewMoment[] = [];
  const cues = new Set<string>();
  const bad = table.each((row) => {
    const cue = row.cell('cue');
    if (!isCueNumber(cue))
      throw new BadRow(`cue: “${cue}” is not a cue number. Write digits and points, like 4 or 4.5.`);
    if (cues.has(cue)) throw new BadRow(`cue: ${cue} is in the table twice.`);
    cues.add(cue);
    const checked = newMomentSchema.safeParse({
      cue,
      name: row.cell('name'),
      notes: row.cell('notes'),
      parked: readYes(row.cell('parked'), 'parked', false),
      callers: readCallers(row, show),
      follow: readFollow(row.cell('called'), style),
      callOn: readCallOn(row.cell('called on')),
      timecode: row.cell('timecode') || null,
      sends: readSends(row, ofLines, show, style),
    });
    if (!checked.success) {
      const [issue] = checked.error.issues;
      throw new BadRow(`${issue!.path.map(String).join(' ')}: ${issue!.message}`);
    }
    moments.push(checked.data);
  }, said);
  return { moments, columns, bad };
}

/** A moment as a row of a table has it; what no column of the table says stays as it was. */
export function takeOver(
  before: Moment,
  read: NewMoment,
  columns: ReadonlySet<string>,
  { lines }: Show,
): Moment {
  const after: Moment = { ...before };
  for (const column of ABOUT)
    if (columns.has(column)) Object.assign(after, { [MEMBER_OF[column]]: read[MEMBER_OF[column]] });
  const isSaid = (given: Moment['sends'][number]): boolean => {
    const lineId = lineOfSend(given);
    const name = lineId === null ? OWN : (lines.find(({ id }) => id === lineId)?.name ?? NO_LINE);
    return columns.has(name.toLowerCase());
  };
  after.sends = [...before.sends.filter((given) => !isSaid(given)), ...read.sends];
  return after;
}
