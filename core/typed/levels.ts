/** Slots, groups and their levels as people type them: `1-12 at 50 %, Deck at full, 40-43 at 128`. */
import type { Group, Levels } from '../show/look.js';
import { readSlots, writeSpan, type Span, type Typed } from './range.js';

const FULL = 255;
const HINT = 'Write slots and levels, like 1-12 at 50 %, 101 at full, 40 at 128.';

/** `50 %`, `full`, `off`, `128`. @returns null for what is none */
function readLevel(text: string): number | null {
  const word = text.trim().toLowerCase();
  if (word === 'full') return FULL;
  if (word === 'off' || word === 'out') return 0;
  const match = /^(\d{1,3}(?:\.\d+)?)\s*(%?)$/.exec(word);
  if (!match) return null;
  const value = Number(match[1]);
  const level = match[2] ? Math.round((value / 100) * FULL) : value;
  return Number.isInteger(level) && level <= FULL ? level : null;
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

export function readLevels(text: string, groups: readonly Group[] = []): Typed<Levels> {
  const levels: Levels = [];
  for (const part of text.split(',').map((one) => one.trim())) {
    if (part === '') continue;
    const [, whatText, levelText] =
      /^(.+?)\s*(?:\bat\b|@|=)\s*(.+)$/i.exec(part) ?? /^(.+?)\s+(full|off|out)$/i.exec(part) ?? [];
    if (whatText === undefined) return { ok: false, reason: `“${part}”: ${HINT}` };
    const what = readWhat(whatText, groups);
    if (!what.ok) return what;
    const level = readLevel(levelText!);
    if (level === null)
      return { ok: false, reason: `“${levelText!}” is no level: write 0 to 255, 50 %, full or off.` };
    levels.push({ ...what.value, level });
  }
  return levels.length > 0 ? { ok: true, value: levels } : { ok: false, reason: HINT };
}

/** A level as a part of full where it is a whole percentage, as those that were typed in percent are. */
export function writeLevel(level: number): string {
  if (level === FULL) return 'full';
  if (level === 0) return 'off';
  const percent = Math.round((level / FULL) * 100);
  return Math.round((percent / 100) * FULL) === level ? `${percent} %` : String(level);
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
