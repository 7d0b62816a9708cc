/**
 * A control as it is written in a table: `Pier pads: note 36 ch 10`, `Score player: cc 21 ch 1-4`, `Water screen: /deck/x`. What has no words of
 * its own is written as JSON.
 */
import { HEAR_MESSAGES, hearAs, hearSchema, HEARS, type Hear, type HearMessage } from '../hears.js';
import type { Line } from '../show/line.js';
import type { MiddleC } from '../midi/words.js';
import { readChannelSet, writeChannels, type Typed } from './range.js';

/** What is typed for each message, the longest first, since `note held` begins with `note`. */
const WORDS: readonly [words: string, message: HearMessage][] = HEAR_MESSAGES.flatMap(
  (message): [string, HearMessage][] => {
    const { typed } = HEARS[message];
    return typed === undefined ? [] : [[typed, message]];
  },
).sort(([a], [b]) => b.length - a.length);
const HINT = 'Write a control like Pier pads: note 36 ch 10, or Pier pads: cc 21 ch 1.';

interface Named {
  lines: readonly Pick<Line, 'id' | 'name'>[];
  settings: { middleC: MiddleC };
}

const wrong = (reason: string): Typed<never> => ({ ok: false, reason });
const asText = (hear: Hear): string => JSON.stringify(hearSchema.parse(hear));

/** Writes a control without its line: `note 36 ch 10`, `cc 21 ch 1-4`; null for what has no words. */
export function controlWords(hear: Hear): string | null {
  const number = HEARS[hear.message].column?.write(hear) ?? '';
  const word = HEARS[hear.message].typed;
  if (word === undefined) return null;
  const channels = 'channels' in hear ? `ch ${writeChannels(hear.channels).replace('–', '-')}` : '';
  return [word, number, channels].filter(Boolean).join(' ');
}

/** Writes words where they are read as the same control; else JSON with channels as they are inside the program. */
export function writeHear(hear: Hear, show: Named): string | null {
  const line = show.lines.find(({ id }) => id === hear.lineId);
  const words = controlWords(hear);
  if (!line || words === null) return null;
  const text = `${line.name}: ${words}`;
  const read = readHear(text, show);
  return read.ok && asText(read.value) === asText(hear) ? text : null;
}

export function readHear(text: string, show: Named): Typed<Hear> {
  // The name of a line may contain a colon, so the longest name that fits is taken.
  const line = [...show.lines]
    .sort((a, b) => b.name.length - a.name.length)
    .find(({ name }) => text.toLowerCase().startsWith(`${name.toLowerCase()}:`));
  if (!line) return wrong(`“${text}” does not begin with the name of a line. ${HINT}`);
  const words = text.slice(line.name.length + 1).trim();
  const known = WORDS.find(([word]) =>
    word === '' ? words.startsWith('/') : new RegExp(`^${word}(?:\\s|$)`, 'i').test(words),
  );
  if (!known) return wrong(`“${words}” is not a control. ${HINT}`);
  const [word, message] = known;
  const hear: Hear = { ...hearAs(message), lineId: line.id };
  const [, number = '', channels] = /^(.*?)(?:\s*\bch\s+(.+))?$/i.exec(words.slice(word.length).trim()) ?? [];
  if ('channels' in hear && channels !== undefined) {
    const read = readChannelSet(channels);
    if (!read.ok) return read;
    hear.channels = read.value;
  }
  const { column } = HEARS[message];
  if (number === '') return { ok: true, value: hear };
  if (!column) return wrong(`“${words}” has a number, and ${word} has none. ${HINT}`);
  const read = column.read(number, show.settings.middleC);
  return read.ok ? { ok: true, value: { ...hear, ...read.value } as Hear } : read;
}
