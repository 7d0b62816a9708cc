/** Slots and their levels as people type them: `1-12 at 50 %, 101 at full, 40-43 at 128`. */
import type { LevelsSend } from '../show/moment.js';
import { readSlots, writeSpan, type Typed } from './range.js';

type Levels = LevelsSend['levels'];

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

export function readLevels(text: string): Typed<Levels> {
  const levels: Levels = [];
  for (const part of text.split(',').map((one) => one.trim())) {
    if (part === '') continue;
    const [, slotText, levelText] =
      /^(.+?)\s*(?:\bat\b|@|=)\s*(.+)$/i.exec(part) ?? /^(.+?)\s+(full|off|out)$/i.exec(part) ?? [];
    if (slotText === undefined) return { ok: false, reason: `“${part}”: ${HINT}` };
    const slots = readSlots(slotText);
    if (!slots.ok) return slots;
    const level = readLevel(levelText!);
    if (level === null)
      return { ok: false, reason: `“${levelText!}” is no level: write 0 to 255, 50 %, full or off.` };
    levels.push({ slots: slots.value === 'any' ? [1, 512] : slots.value, level });
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

export const writeLevels = (levels: Levels): string =>
  levels
    .map(({ slots, level }) => `${writeSpan(slots)} ${level === 0 ? 'off' : `at ${writeLevel(level)}`}`)
    .join(', ');
