/** A field for a time. It shows the unit of a bare number, and says back what is understood while somebody types. */
import { readTime, writeTime, type TimeUnit } from '@tawny-signal/core/typed/time';
import { orThrow } from './or-throw';
import { TypedField } from './typed-field';

interface TimeFieldProps {
  label: string;
  /** The saved time in ms; null if there is none. */
  ms: number | null;
  /** What a number without a unit means. */
  unit: TimeUnit;
  /** The longest time in ms. */
  highMs: number;
  commit: (ms: number) => unknown;
  /** If there can be no time: how that is written, and what it saves. */
  none?: { words: string; commit: () => unknown };
  hint?: string | undefined;
}

const UNITS: Record<TimeUnit, string> = { s: 'seconds', ms: 'ms' };

/** Nothing is 0 in the unit of the field. */
export const shownTime = (ms: number, unit: TimeUnit): string => (ms === 0 ? `0 ${unit}` : writeTime(ms));

export function TimeField({ label, ms, unit, highMs, commit, none, hint }: TimeFieldProps) {
  const isNone = (text: string): boolean =>
    none !== undefined && ['', 'none', none.words].includes(text.trim().toLowerCase());
  return (
    <TypedField
      label={label}
      value={ms === null || (ms === 0 && none) ? (none?.words ?? '') : shownTime(ms, unit)}
      unit={UNITS[unit]}
      hint={hint}
      understood={(text) => {
        if (isNone(text)) return none!.words;
        const read = readTime(text, unit, highMs);
        return read.ok ? shownTime(read.value, unit) : null;
      }}
      commit={(text) => (isNone(text) ? none!.commit() : commit(orThrow(readTime(text, unit, highMs))))}
    />
  );
}
