/** Numbers, ranges and "any" as people type them. Every reader gives a value or a reason in words. */
import { noteName, parseNote, type MiddleC } from '../midi/words.js';

export type Typed<T> = { ok: true; value: T } | { ok: false; reason: string };
/** Both ends included. */
export type Span = [number, number];
export type SpanOrAny = Span | 'any';

const good = <T>(value: T): Typed<T> => ({ ok: true, value });
const wrong = (reason: string): Typed<never> => ({ ok: false, reason });
const isAny = (text: string): boolean => ['', 'any', 'all', '*'].includes(text.trim().toLowerCase());

/** Splits `a-b`, `a – b` or `a to b`; a minus at the front of a number or note octave stays with it. */
function halves(text: string): [string, string] | null {
  const match = /^\s*(\S+?)\s*(?:–|-|\bto\b|\.\.)\s*(-?[^\s-]+)\s*$/.exec(text);
  return match ? [match[1]!, match[2]!] : null;
}

function readSpan(text: string, readOne: (part: string) => number | null, hint: string): Typed<SpanOrAny> {
  if (isAny(text)) return good('any');
  const one = readOne(text.trim());
  if (one !== null) return good([one, one]);
  const parts = halves(text);
  if (!parts) return wrong(hint);
  const low = readOne(parts[0]);
  const high = readOne(parts[1]);
  if (low === null || high === null) return wrong(hint);
  if (low > high) return wrong(`The range ${text.trim()} runs backwards: write the lower end first.`);
  return good([low, high]);
}

const whole =
  (low: number, high: number) =>
  (part: string): number | null =>
    /^\d{1,5}$/.test(part) && Number(part) >= low && Number(part) <= high ? Number(part) : null;

/** Any, a range with both ends, or several. */
export type Channels = SpanOrAny | { of: number[] };

const CHANNELS = 'A channel is a number from 1 to 16, a range like 1-8, several like 1, 3, or any.';

/** `any`, `10`, `1-8`: channels as shown, 1–16, kept as sent, 0–15. */
export function readChannels(text: string): Typed<SpanOrAny> {
  const read = readSpan(text, whole(1, 16), 'A channel is a number from 1 to 16, a range like 1-8, or any.');
  if (!read.ok || read.value === 'any') return read;
  return good([read.value[0] - 1, read.value[1] - 1]);
}

/** The same, or several with commas between: `1, 3, 10-12`. */
export function readChannelSet(text: string): Typed<Channels> {
  if (!text.includes(',')) {
    const read = readSpan(text, whole(1, 16), CHANNELS);
    if (!read.ok || read.value === 'any') return read;
    return good([read.value[0] - 1, read.value[1] - 1]);
  }
  const of = new Set<number>();
  for (const part of text.split(',')) {
    const read = readSpan(part, whole(1, 16), CHANNELS);
    if (!read.ok) return read;
    if (read.value === 'any') return wrong(CHANNELS);
    for (let channel = read.value[0]; channel <= read.value[1]; channel++) of.add(channel - 1);
  }
  const [first] = of;
  return of.size === 1 ? good([first!, first!]) : good({ of: [...of].sort((a, b) => a - b) });
}

export function writeChannels(channels: Channels): string {
  if (channels === 'any') return 'any';
  if ('of' in channels) return channels.of.map((channel) => channel + 1).join(', ');
  return writeSpan([channels[0] + 1, channels[1] + 1]);
}

/** `any`, `36`, `C#3`, `55-67`, `C3-C4`. */
export function readNotes(text: string, middleC: MiddleC): Typed<SpanOrAny> {
  const hint = 'A note is a number from 0 to 127, a name like C#3, a range like 36-51, or any.';
  return readSpan(text, (part) => parseNote(part, middleC), hint);
}

export function writeNotes(notes: SpanOrAny, middleC: MiddleC): string {
  if (notes === 'any') return 'any';
  const name = (number: number): string => `${number} (${noteName(number, middleC)})`;
  return notes[0] === notes[1] ? name(notes[0]) : `${notes[0]}–${notes[1]}`;
}

/** `any`, `21`, `20-27`. @param what how the message calls it, as in "A controller is a number …". */
export function readNumbers(text: string, what: string, high = 127): Typed<SpanOrAny> {
  return readSpan(text, whole(0, high), `${what} is a number from 0 to ${high}, a range like 20-27, or any.`);
}

export function writeSpan(span: SpanOrAny): string {
  if (span === 'any') return 'any';
  return span[0] === span[1] ? String(span[0]) : `${span[0]}–${span[1]}`;
}

/** Two plain numbers with their ends in either order, as in `0-127`, `1-0` or `-1 to 1`. */
export function readScale(text: string): Typed<Span> {
  const number = '[-−]?\\d+(?:\\.\\d+)?';
  const match = new RegExp(`^\\s*(${number})\\s*(?:–|-|→|to|\\.\\.)\\s*(${number})\\s*$`).exec(text);
  if (!match) return wrong('Write two numbers, like 0-127 or 1 to 0.');
  const [from, to] = [match[1]!, match[2]!].map((part) => Number(part.replace('−', '-')));
  return good([from!, to!]);
}

export function writeScale(span: Span): string {
  const [from, to] = span.map((end) => String(Number(end.toFixed(4))).replace('-', '−'));
  return `${from}–${to}`;
}

/** A port of UDP or TCP. */
export function readPort(text: string): Typed<number> {
  const port = whole(1, 65_535)(text.trim());
  return port === null ? wrong('A port is a number from 1 to 65535.') : good(port);
}

/** `any`, `5`, `1-12`: slots of a universe. */
export const readSlots = (text: string): Typed<SpanOrAny> =>
  readSpan(text, whole(1, 512), 'A slot is a number from 1 to 512, a range like 1-12, or any.');

/** One whole number within the limits. @param what how the message begins, as in "A universe" */
export function readWhole(text: string, what: string, low: number, high: number): Typed<number> {
  const trimmed = text.trim().replace(/^−/, '-');
  const value = Number(trimmed);
  return /^-?\d{1,6}$/.test(trimmed) && value >= low && value <= high
    ? good(value)
    : wrong(`${what} is a number from ${low} to ${high}.`);
}

/** One note: `36`, `C2`. */
export function readNote(text: string, middleC: MiddleC): Typed<number> {
  const note = parseNote(text.replace(/\s*\(.*\)$/, ''), middleC);
  return note === null ? wrong('A note is a number from 0 to 127, or a name like C#3.') : good(note);
}

/** Numbers with commas between: `0, 64, 127`. */
export function readList(text: string): Typed<number[]> {
  const words = text.split(/[,;\s]+/).filter(Boolean);
  const numbers = words.map((word) => Number(word.replace('−', '-')));
  return words.length > 0 && numbers.every(Number.isFinite)
    ? good(numbers)
    : wrong('Write numbers with commas between, like 0, 64, 127.');
}

/** Points of a curve, heard and sent value, with commas between: `0 0, 64 0.2, 127 1`. */
export function readPoints(text: string): Typed<[number, number][]> {
  const points = text
    .split(/[,;]/)
    .filter((part) => part.trim() !== '')
    .map((part) =>
      part
        .trim()
        .split(/[\s→:]+/)
        .map((word) => Number(word.replace('−', '-'))),
    );
  if (points.length < 2 || !points.every((point) => point.length === 2 && point.every(Number.isFinite)))
    return wrong('Write at least two points, what is heard and what it becomes, like 0 0, 64 0.2, 127 1.');
  const rising = points.every(([x], at) => at === 0 || x! > points[at - 1]![0]!);
  return rising
    ? good(points as [number, number][])
    : wrong('The values that are heard must rise, like 0 0, 64 0.2, 127 1.');
}

export const writePoints = (points: readonly [number, number][]): string =>
  points.map(([x, y]) => `${x} ${y}`).join(', ');

/** Texts and what they count as, with commas between: `low 0, high 1`. */
export function readTexts(text: string): Typed<[string, number][]> {
  const rows: [string, number][] = [];
  for (const part of text.split(',')) {
    if (part.trim() === '') continue;
    const match = /^\s*(\S.*?)\s*[\s=→:]\s*([-−]?\d+(?:\.\d+)?)\s*$/.exec(part);
    if (!match) return wrong(`“${part.trim()}”: write a text and a number, like low 0, high 1.`);
    rows.push([match[1]!, Number(match[2]!.replace('−', '-'))]);
  }
  return good(rows);
}

export const writeTexts = (rows: readonly [string, number][]): string =>
  rows.map(([text, value]) => `${text} ${value}`).join(', ');

/** A number that may be below 0 or have a fraction. @param what how the message begins, as in "An offset" */
export function readNumber(text: string, what: string): Typed<number> {
  const value = Number(text.trim().replace('−', '-').replace(',', '.'));
  return text.trim() !== '' && Number.isFinite(value)
    ? good(value)
    : wrong(`${what} is a number, like 3 or -0.5.`);
}
