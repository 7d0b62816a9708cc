/**
 * What a moment does on one line, as it stands in a cell of a table: `1-12 at 50 % fade 4 s`, `note 28 ch 6 at 90 for 2 s after 0.5 s`,
 * `/fog/density 0.7 fade 8 s`, `cc 7 ch 1 = 64`, `look Warm`, `key F4`, `run 4.5`. One thing a line, or with ; between. What has no words of
 * its own is written as JSON.
 */
import { parseKey } from '../keys/codes.js';
import { BENDS_NAMES } from '../show/fields.js';
import { makeMomentSend, momentSendSchema, type MomentSend } from '../show/moment.js';
import { makeSend, SENDS, type Send } from '../sends.js';
import type { Show } from '../show.js';
import { readLevels, writeLevels } from './levels.js';
import { readMs, readNote, type Typed } from './range.js';

/** What cells name. */
export type CellShow = Pick<
  Show,
  'settings' | 'moments' | 'groups' | 'looks' | 'midiFiles' | 'banks' | 'lines'
>;

class BadCell extends Error {}

function must<T>(read: Typed<T>): T {
  if (!read.ok) throw new BadCell(read.reason);
  return read.value;
}

/** How long, when and how, which stand at the end of anything. */
interface Ending {
  fadeMs: number;
  curve: (typeof BENDS_NAMES)[number];
  delayMs: number;
}

const TIME = String.raw`(\d+(?:[.,]\d+)?\s*(?:ms|s)?)`;
const FADE = new RegExp(String.raw`\s+fade\s+${TIME}$`, 'i');
const AFTER = new RegExp(String.raw`\s+after\s+${TIME}$`, 'i');
const CURVE = new RegExp(String.raw`\s+(${BENDS_NAMES.join('|')})$`, 'i');

function takeEnding(text: string): { what: string; ending: Ending } {
  const ending: Ending = { fadeMs: 0, curve: 'straight', delayMs: 0 };
  let what = text.trim();
  for (;;) {
    const fade = FADE.exec(what);
    const after = fade ? null : AFTER.exec(what);
    const curve = fade || after ? null : CURVE.exec(what);
    const match = fade ?? after ?? curve;
    if (!match) return { what, ending };
    if (fade) ending.fadeMs = must(readMs(fade[1]!, 3_600_000));
    else if (after) ending.delayMs = must(readMs(after[1]!, 600_000));
    else ending.curve = match[1]!.toLowerCase() as Ending['curve'];
    what = what.slice(0, match.index);
  }
}

const seconds = (ms: number): string => `${Number((ms / 1000).toFixed(3))} s`;

function writeEnding({ fadeMs, curve, delayMs }: Ending): string {
  return [
    fadeMs > 0 ? ` fade ${seconds(fadeMs)}` : '',
    curve === 'straight' ? '' : ` ${curve}`,
    delayMs > 0 ? ` after ${seconds(delayMs)}` : '',
  ].join('');
}

interface Context {
  show: CellShow;
  lineId: string | null;
  ending: Ending;
}

/** One way of writing: what it looks like, and what it makes. */
interface Way {
  looks: RegExp;
  make(match: RegExpExecArray, context: Context): MomentSend;
}

const sending = ({ ending }: Context, send: Send, value: number): MomentSend =>
  makeMomentSend({
    kind: 'send',
    send: { ...send, delayMs: ending.delayMs },
    value,
    fadeMs: ending.fadeMs,
    curve: ending.curve,
  });

const channelOf = (text: string): number => {
  const channel = Number(text);
  if (channel < 1 || channel > 16) throw new BadCell('A channel is a number from 1 to 16.');
  return channel - 1;
};

function named<T extends { id: string; name: string }>(rows: readonly T[], name: string, what: string): T {
  const found = rows.find((row) => row.name.toLowerCase() === name.trim().toLowerCase());
  if (!found) throw new BadCell(`There is no ${what} “${name.trim()}”. Make it first.`);
  return found;
}

function momentNamed({ moments }: CellShow, cue: string): string {
  const found = moments.find((moment) => moment.cue === cue);
  if (!found) throw new BadCell(`There is no cue ${cue} in the show. Bring that one in first.`);
  return found.id;
}

const NUMBER = String.raw`([-−]?\d+(?:\.\d+)?)`;
const CH = String.raw`ch\s*(\d+)`;
const valueOf = (text: string): number => Number(text.replace('−', '-'));

const WAYS: Way[] = [
  {
    looks: /^look\s+(.+)$/i,
    make: ([, name], { show, lineId, ending }) =>
      makeMomentSend({ kind: 'look', lineId, ...ending, lookId: named(show.looks, name!, 'look').id }),
  },
  {
    looks: new RegExp(
      String.raw`^file\s+(.+?)(?:\s+(?:(\d+) times|(until stopped)))?(?:\s+tracks?\s+([\d ,]+))?(?:\s+at\s+${NUMBER} bpm)?$`,
      'i',
    ),
    make: ([, name, times, endless, tracks, bpm], { show, lineId, ending }) =>
      makeMomentSend({
        kind: 'file',
        lineId,
        delayMs: ending.delayMs,
        fileId: named(show.midiFiles, name!, 'MIDI file').id,
        times: endless ? 0 : Number(times ?? 1),
        tracks: tracks ? tracks.split(',').map((one) => Number(one) - 1) : 'all',
        bpm: bpm === undefined ? null : Number(bpm),
      }),
  },
  {
    looks: new RegExp(
      String.raw`^note\s+(\S+?(?:\s*\(\S+\))?)\s+${CH}\s+(?:at\s+(\d+)|(off))(?:\s+for\s+${TIME})?$`,
      'i',
    ),
    make(match, context) {
      const [, note, channel, force, off, length] = match;
      const send = makeSend({
        kind: 'note',
        lineId: context.lineId,
        channel: channelOf(channel!),
        number: must(readNote(note!, context.show.settings.middleC)),
        lengthMs: length === undefined ? null : must(readMs(length, 600_000)),
      });
      return sending(context, send, off ? 0 : Number(force));
    },
  },
  {
    looks: new RegExp(String.raw`^cc\s*(\d+)\s+${CH}\s*=\s*${NUMBER}$`, 'i'),
    make: ([, number, channel, value], context) =>
      sending(
        context,
        makeSend({
          kind: 'control',
          lineId: context.lineId,
          channel: channelOf(channel!),
          number: Number(number),
        }),
        valueOf(value!),
      ),
  },
  {
    looks: new RegExp(String.raw`^(program|bend)\s+(\d+)\s+${CH}$`, 'i'),
    make: ([, kind, value, channel], context) =>
      sending(
        context,
        makeSend({
          kind: kind!.toLowerCase() as 'program' | 'bend',
          lineId: context.lineId,
          channel: channelOf(channel!),
        }),
        Number(value),
      ),
  },
  {
    looks: new RegExp(String.raw`^(/\S+)(?:\s+${NUMBER})?$`),
    make: ([, address, value], context) =>
      sending(
        context,
        makeSend({
          kind: 'osc',
          lineId: context.lineId,
          address: address!,
          args: value === undefined ? [] : [{ type: 'f', value: 'shaped' }],
        }),
        value === undefined ? 1 : valueOf(value),
      ),
  },
  {
    looks: /^key\s+(.+)$/i,
    make([, text], context) {
      const code = parseKey(text!);
      if (!code) throw new BadCell(`“${text!}” is no key. Write its code, like KeyG or F4.`);
      return sending(context, makeSend({ kind: 'key', lineId: context.lineId, code }), 1);
    },
  },
  {
    looks:
      /^show control\s+(go|stop|resume|all off)(?:\s+cue\s+([\d.]+))?(?:\s+list\s+([\d.]+))?(?:\s+format\s+(\d+))?(?:\s+device\s+(\d+|all))?$/i,
    make: ([, command, cue = '', list = '', format = '1', device = 'all'], context) =>
      sending(
        context,
        makeSend({
          kind: 'showControl',
          lineId: context.lineId,
          command: command!.toLowerCase() === 'all off' ? 'allOff' : (command!.toLowerCase() as 'go'),
          cue,
          list,
          format: Number(format),
          device: device.toLowerCase() === 'all' ? 127 : Number(device),
        }),
        1,
      ),
  },
  {
    looks: /^bank\s+(.+)\s+(on|off|toggle|only)$/i,
    make: ([, name, act], context) =>
      sending(
        context,
        makeSend({
          kind: 'bank',
          lineId: null,
          bankId: named(context.show.banks, name!, 'bank').id,
          act: act!.toLowerCase() as 'on',
        }),
        1,
      ),
  },
  {
    looks: /^(call|run|stop)\s+(?:cue\s+)?([\d.]+)$/i,
    make: ([, act, cue], context) =>
      sending(
        context,
        makeSend({
          kind: 'call',
          lineId: null,
          momentId: momentNamed(context.show, cue!),
          act: act!.toLowerCase() as 'call',
        }),
        1,
      ),
  },
  {
    looks: /^(stop all|panic|tap)$/i,
    make: ([, word], context) => {
      const kind = word!.toLowerCase();
      if (kind === 'stop all')
        return sending(context, makeSend({ kind: 'call', lineId: null, momentId: null, act: 'stop' }), 1);
      return sending(context, makeSend({ kind: kind as 'panic', lineId: null }), 1);
    },
  },
];

const HINT =
  'Write like 1-12 at 50 % fade 4 s, /fog/density 0.7, note 28 ch 6 at 90 for 2 s, cc 7 ch 1 = 64, look Warm, key F4 or run 4.5.';

function readJson(text: string): MomentSend {
  let given: unknown;
  try {
    given = JSON.parse(text);
  } catch {
    throw new BadCell('This begins like JSON and is none. Leave it as it was exported.');
  }
  const parsed = momentSendSchema.safeParse(given);
  if (!parsed.success) throw new BadCell(parsed.error.issues[0]!.message);
  return parsed.data;
}

/** The names of levels come last: what is nothing else is read as levels where there is a word that makes it some. */
function readOne(text: string, lineId: string | null, show: CellShow): MomentSend {
  if (text.startsWith('{')) return readJson(text);
  const { what, ending } = takeEnding(text);
  const context: Context = { show, lineId, ending };
  for (const way of WAYS) {
    const match = way.looks.exec(what);
    if (match) return checked(way.make(match, context));
  }
  if (/\b(?:at|full|off|out)\b|[@=]/i.test(what))
    return makeMomentSend({ kind: 'levels', lineId, ...ending, levels: must(readLevels(what, show.groups)) });
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

export function readCell(text: string, lineId: string | null, show: CellShow): Typed<MomentSend[]> {
  try {
    return { ok: true, value: partsOf(text).map((one) => readOne(one, lineId, show)) };
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
      return `file ${name}${times}${tracks}${bpm}${writeEnding({ fadeMs: 0, curve: 'straight', delayMs: given.delayMs })}`;
    }
    case 'send': {
      const words = SENDS[given.send.kind].typed?.(given.send, given.value, show) ?? null;
      return words === null ? null : `${words}${writeEnding({ ...given, delayMs: given.send.delayMs })}`;
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
  return JSON.stringify(given);
}

/** @returns what `readCell` reads as the same */
export const writeCell = (sends: readonly MomentSend[], show: CellShow): string =>
  sends.map((given) => writeOne(given, show)).join('\n');
