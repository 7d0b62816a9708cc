/** Slots, groups and their levels as people type them: `1-12 at 50 %, Deck at full, 40-43 at 128`. */
import type { Group, Levels } from '../show/look.js';
import { readSlots, writeSpan, type Span, type Typed } from './range.js';

const FULL = 255;
const HINT = 'Write slots and levels, like 1-12 at 50 %, 101 at full, 40 at 128/255.';

/** What a level without a unit is: a percentage today, a level of a slot (0 to 255) in tables of earlier versions. */
export type BareLevel = 'percent' | 'slot';

const WORDS: Readonly<Record<string, number>> = { full: FULL, half: 128, off: 0, out: 0 };

/** `50 %`, `50`, `128/255`, `full`, `half`, `off`. @returns 0 to 255 */
function readLevel(text: string, bare: BareLevel): Typed<number> {
  const wrong = (reason: string): Typed<number> => ({ ok: false, reason });
  const trimmed = text.trim();
  const word = WORDS[trimmed.toLowerCase()];
  if (word !== undefined) return { ok: true, value: word };
  const [, digits, unit] = /^(\d{1,3}(?:[.,]\d+)?)\s*(%|\/\s*255)?$/.exec(trimmed) ?? [];
  if (digits === undefined)
    return wrong(`“${trimmed}” is no level: write a percentage like 50, full, half, off, or 128/255.`);
  const value = Number(digits.replace(',', '.'));
  const inSlots = unit === undefined ? bare === 'slot' : unit !== '%';
  if (inSlots)
    return Number.isInteger(value) && value <= FULL
      ? { ok: true, value }
      : wrong(`“${trimmed}” is no level: of 255, write a whole number from 0 to 255.`);
  if (value <= 100) return { ok: true, value: Math.round((value / 100) * FULL) };
  const instead = unit === undefined && Number.isInteger(value) && value <= FULL;
  return wrong(
    `“${trimmed}” is more than 100 %.${instead ? ` If you mean the level of a slot, write ${value}/255.` : ''}`,
  );
}

const isSlots = (text: string): boolean => /^\d/.test(text) || /^(?:any|all|\*)$/i.test(text);

/** What has a level: slots, or a group by its name. */
function readWhat(text: string, groups: readonly Group[]): Typed<{ slots: Span } | { groupId: string }> {
  const group = groups.find(({ name }) => name.toLowerCase() === text.trim().toLowerCase());
  if (group) return { ok: true, value: { groupId: group.id } };
  if (!isSlots(text)) {
    const known = groups.length > 0 ? ` The groups are ${groups.map(({ name }) => name).join(', ')}.` : '';
    return { ok: false, reason: `There is no group “${text}”.${known} ${HINT}` };
  }
  const slots = readSlots(text);
  if (!slots.ok) return slots;
  return { ok: true, value: { slots: slots.value === 'any' ? [1, 512] : slots.value } };
}

/** @param bare what a level without a unit is */
export function readLevels(
  text: string,
  groups: readonly Group[] = [],
  bare: BareLevel = 'percent',
): Typed<Levels> {
  const levels: Levels = [];
  for (const part of text.split(',').map((one) => one.trim())) {
    if (part === '') continue;
    const [, whatText, levelText] =
      /^(.+?)\s*(?:\bat\b|@|=)\s*(.+)$/i.exec(part) ?? /^(.+?)\s+(full|half|off|out)$/i.exec(part) ?? [];
    if (whatText === undefined) return { ok: false, reason: `“${part}”: ${HINT}` };
    const what = readWhat(whatText, groups);
    if (!what.ok) return what;
    const level = readLevel(levelText!, bare);
    if (!level.ok) return level;
    levels.push({ ...what.value, level: level.value });
  }
  return levels.length > 0 ? { ok: true, value: levels } : { ok: false, reason: HINT };
}

/** Writes a level in percent where it is a whole percentage, as those that were typed in percent are; else of 255. */
export function writeLevel(level: number): string {
  if (level === FULL) return 'full';
  if (level === 0) return 'off';
  const percent = Math.round((level / FULL) * 100);
  return Math.round((percent / 100) * FULL) === level ? `${percent} %` : `${level}/255`;
}

/** What is said of a group that is not there any more. */
const GONE = 'a group that is gone';

export const writeLevels = (levels: Levels, groups: readonly Group[] = []): string =>
  levels
    .map((one) => {
      const what =
        'slots' in one ? writeSpan(one.slots) : (groups.find(({ id }) => id === one.groupId)?.name ?? GONE);
      return `${what} ${one.level === 0 ? 'off' : `at ${writeLevel(one.level)}`}`;
    })
    .join(', ');

/** What slots have, slot 1 first, as levels: neighbours with the same level together, those that are off left out. */
export function levelsFrom(slots: ArrayLike<number>): Levels {
  const levels: Levels = [];
  for (let at = 0; at < slots.length;) {
    const level = slots[at]!;
    let end = at + 1;
    while (end < slots.length && slots[end] === level) end++;
    if (level > 0) levels.push({ slots: [at + 1, end], level });
    at = end;
  }
  return levels;
}

/** The slots of a group: `1-12, 20`. */
export function readSlotList(text: string): Typed<Span[]> {
  const slots: Span[] = [];
  for (const part of text.split(',').map((one) => one.trim())) {
    if (part === '') continue;
    const read = readSlots(part);
    if (!read.ok) return read;
    slots.push(read.value === 'any' ? [1, 512] : read.value);
  }
  return slots.length > 0
    ? { ok: true, value: slots }
    : { ok: false, reason: 'Write the slots of the group, like 1-12, 20.' };
}

export const writeSlotList = (slots: readonly Span[]): string => slots.map(writeSpan).join(', ');
