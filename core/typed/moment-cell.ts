/**
 * What a moment does on one line, as it stands in a cell of a table: `1-12 at 50 % fade 4 s`, `note 28 ch 6 at 90 for 2 s after 0.5 s`,
 * `/fog/density 0.7 fade 8 s`, `cc 7 ch 1 = 64`, `look Warm`, `key F4`, `run 4.5`. One thing a line, or with ; between. What has no words of
 * its own is written as JSON.
 */
import { makeMomentSend, momentSendSchema, type MomentSend } from '../show/moment.js';
import { SENDS } from '../sends.js';
import { BadCell, must } from './bad-cell.js';
import { takeEnding, writeEnding } from './cell-ending.js';
import { STYLE_NOW, WAYS, type TableStyle, type CellShow, type Context } from './cell-ways.js';
import { shiftChannels } from './file-channels.js';
import { readLevels, writeLevels } from './levels.js';
import type { Typed } from './range.js';

const HINT =
  'Write like 1-12 at 50 % fade 4 s, /fog/density 0.7, note 28 ch 6 at 90 for 2 s, cc 7 ch 1 = 64, look Warm, key F4 or run 4.5.';

function readJson(text: string, { firstChannel }: TableStyle): MomentSend {
  let given: unknown;
  try {
    given = JSON.parse(text);
  } catch {
    throw new BadCell('This can’t be read as JSON. Leave it as it was exported.');
  }
  const parsed = momentSendSchema.safeParse(firstChannel === 1 ? shiftChannels(given, -1) : given);
  if (!parsed.success) throw new BadCell(parsed.error.issues[0]!.message);
  return parsed.data;
}

/** The names of levels come last: what is nothing else is read as levels where there is a word that makes it some. */
function readOne(text: string, lineId: string | null, show: CellShow, style: TableStyle): MomentSend {
  if (text.startsWith('{')) return readJson(text, style);
  const { what, ending } = takeEnding(text, style.time);
  const context: Context = { style, show, lineId, ending };
  for (const way of WAYS) {
    const match = way.looks.exec(what);
    if (match) return checked(way.make(match, context));
  }
  if (/\b(?:at|full|half|off|out)\b|[@=]/i.test(what))
    return makeMomentSend({
      kind: 'levels',
      lineId,
      ...ending,
      levels: must(readLevels(what, show.groups, style.level)),
    });
  throw new BadCell(`“${text}”: ${HINT}`);
}

/** Values that the words allow and the schema doesn't. */
function checked(made: MomentSend): MomentSend {
  const parsed = momentSendSchema.safeParse(made);
  if (!parsed.success) throw new BadCell(parsed.error.issues[0]!.message);
  return parsed.data;
}

/** Things one under another, or with ; between. */
const partsOf = (text: string): string[] =>
  text
    .split(/\r?\n/)
    .flatMap((line) => (line.trim().startsWith('{') ? [line] : line.split(';')))
    .map((one) => one.trim())
    .filter(Boolean);

/** @param style how numbers are meant */
export function readCell(
  text: string,
  lineId: string | null,
  show: CellShow,
  style: TableStyle = STYLE_NOW,
): Typed<MomentSend[]> {
  try {
    return { ok: true, value: partsOf(text).map((one) => readOne(one, lineId, show, style)) };
  } catch (error) {
    if (error instanceof BadCell) return { ok: false, reason: error.message };
    // A schema's own message.
    const issue = (error as { issues?: { message: string }[] }).issues?.[0];
    if (issue) return { ok: false, reason: issue.message };
    throw error;
  }
}

const plain = (text: string): string => text.replaceAll('–', '-').replaceAll('−', '-');

function wordsOf(given: MomentSend, show: CellShow): string | null {
  switch (given.kind) {
    case 'levels':
      return `${plain(writeLevels(given.levels, show.groups))}${writeEnding(given)}`;
    case 'look':
      return `look ${show.looks.find(({ id }) => id === given.lookId)?.name}${writeEnding(given)}`;
    case 'file': {
      const times = given.times === 0 ? ' until stopped' : given.times === 1 ? '' : ` ${given.times} times`;
      const tracks =
        given.tracks === 'all' ? '' : ` tracks ${given.tracks.map((track) => track + 1).join(', ')}`;
      const bpm = given.bpm === null ? '' : ` at ${given.bpm} bpm`;
      const name = show.midiFiles.find(({ id }) => id === given.fileId)?.name;
      return `file ${name}${times}${tracks}${bpm}${writeEnding({ ...given, fadeMs: 0, fadeBeats: null, curve: 'straight' })}`;
    }
    case 'send': {
      const words = SENDS[given.send.kind].typed?.(given.send, given.value, show) ?? null;
      return words === null
        ? null
        : `${words}${writeEnding({ ...given, delayMs: given.send.delayMs, delayBeats: given.send.delayBeats })}`;
    }
  }
}

/** The same for the same things: the schema decides the order of the members. */
const asText = (given: MomentSend): string => JSON.stringify(momentSendSchema.parse(given));

/** Words, where they are read as the same; else JSON. */
function writeOne(given: MomentSend, show: CellShow): string {
  const words = wordsOf(given, show);
  const lineId = given.kind === 'send' ? given.send.lineId : given.lineId;
  if (words !== null && !/[;\n]/.test(words)) {
    const read = readCell(words, lineId, show);
    if (read.ok && read.value.length === 1 && asText(read.value[0]!) === asText(given)) return words;
  }
  return JSON.stringify(shiftChannels(given, 1));
}

/** @returns what `readCell` reads as the same */
export const writeCell = (sends: readonly MomentSend[], show: CellShow): string =>
  sends.map((given) => writeOne(given, show)).join('\n');
