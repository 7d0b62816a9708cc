/** A field for a span: a time, or beats that follow the tempo. It says back what is understood while somebody types. */
import { isNone as takesNone, type Span } from '@tawny-signal/core/time/span';
import { isInBeats, readSpan, spanWords } from '@tawny-signal/core/typed/span';
import type { TimeUnit } from '@tawny-signal/core/typed/time';
import { useShow } from '../show/show';
import { orThrow } from './or-throw';
import { shownTime } from './time-field';
import { TypedField } from './typed-field';

interface SpanFieldProps {
  label: string;
  /** The saved span; null if there is none. */
  span: Span | null;
  /** What a number without a unit means. */
  unit: TimeUnit;
  /** The longest time in ms. */
  highMs: number;
  commit: (span: Span) => unknown;
  /** If there can be no span: how that is written, and what it saves. */
  none?: { words: string; commit: () => unknown };
  hint?: string | undefined;
}

const UNITS: Record<TimeUnit, string> = { s: 's or beats', ms: 'ms or beats' };

export function SpanField({ label, span, unit, highMs, commit, none, hint }: SpanFieldProps) {
  const { beatsToBar } = useShow().settings;
  const read = (text: string) => readSpan(text, unit, highMs, beatsToBar);
  const isNone = (text: string): boolean =>
    none !== undefined && ['', 'none', none.words].includes(text.trim().toLowerCase());
  const shown = (one: Span): string => (one.beats === null ? shownTime(one.ms, unit) : spanWords(one));
  return (
    <TypedField
      label={label}
      value={span === null || (takesNone(span) && none) ? (none?.words ?? '') : shown(span)}
      unit={UNITS[unit]}
      hint={hint ?? (span?.beats ? 'It follows the tempo.' : undefined)}
      understood={(text) => {
        if (isNone(text)) return none!.words;
        const found = read(text);
        if (!found.ok) return null;
        return isInBeats(text) ? `${shown(found.value)}, with the tempo` : shown(found.value);
      }}
      commit={(text) => (isNone(text) ? none!.commit() : commit(orThrow(read(text))))}
    />
  );
}
