/** What Go will do, before it does it: each line's rows, with levels from where to where. */
import { memo, useCallback, useMemo } from 'react';
import { previewCall, stays, type LevelNow, type PreviewRow } from '@tawny-signal/core/cues/preview';
import { count } from '@tawny-signal/core/plural';
import type { Show } from '@tawny-signal/core/show';
import type { Moment } from '@tawny-signal/core/show/moment';
import { writeLevel } from '@tawny-signal/core/typed/levels';
import { useLineView } from '../lines/line-view';
import { useLive, useLiveValue } from '../live/live';

/** How often the levels are read again. */
const LEVELS_MS = 250;
const NOW_COLUMNS =
  'grid grid-cols-[minmax(5rem,7.5rem)_minmax(0,1fr)_auto] sm:grid-cols-[6.5rem_minmax(0,1fr)_8.5rem_6rem_6rem]';

/** Reads the levels of the lines as they are now. Returns a new function after they changed, so that callers can compare by identity. */
export function useLevelNow(): LevelNow {
  const { store } = useLive();
  const changes = useLiveValue('levels', (live) => live.levelsAt(), LEVELS_MS);
  return useCallback(
    (lineId, slot) => {
      void changes;
      // A line that was sent nothing since the engine started is dark.
      return store.levels(lineId)?.[slot - 1] ?? 0;
    },
    [store, changes],
  );
}

interface WillDoProps {
  show: Show;
  moment: Moment;
  /** The most rows that are shown; the others are counted. */
  most?: number;
}

/** Its page draws with the clock; this draws only when the show, the moment or a level has changed. */
export const WillDo = memo(function WillDo({ show, moment, most = Infinity }: WillDoProps) {
  const levelNow = useLevelNow();
  const rows = useMemo(() => previewCall(show, moment.id, levelNow), [show, moment.id, levelNow]);
  return (
    <section aria-label="Go will do" className="pt-4">
      <div className="flex justify-between pb-1 text-sm text-ink-2">
        <h2>Go will do</h2>
        {rows.some(({ levels }) => levels) && <span className="hidden sm:inline">now → then</span>}
      </div>
      {rows.length === 0 && <p className="border-t border-rule py-1.5 text-ink-2">It sends nothing.</p>}
      <PreviewRows show={show} rows={rows} most={most} />
    </section>
  );
});

/** @param most the most rows that are shown; the others are counted */
export function PreviewRows({ show, rows, most }: { show: Show; rows: PreviewRow[]; most: number }) {
  const lines = useMemo(() => new Map(show.lines.map((line) => [line.id, line])), [show.lines]);
  const shown = rows.slice(0, most);
  return (
    <ul className="font-mono text-sm">
      {shown.map((row, at) => (
        <Row
          key={`${row.lineId} ${row.what} ${at}`}
          row={row}
          line={lines.get(row.lineId ?? '')}
          repeats={at > 0 && shown[at - 1]!.lineId === row.lineId}
        />
      ))}
      {rows.length > shown.length && (
        <li className="border-t border-rule py-1.5 text-ink-2">
          {count(rows.length - shown.length, 'more', 'more')}
        </li>
      )}
    </ul>
  );
}

interface RowProps {
  row: PreviewRow;
  line: Show['lines'][number] | undefined;
  /** True if the row above is of the same line. */
  repeats: boolean;
}

function Row({ row, line, repeats }: RowProps) {
  const { levels } = row;
  return (
    <li data-will-do className={`${NOW_COLUMNS} min-h-8 items-center gap-x-3 border-t border-rule`}>
      <span className="truncate font-sans font-semibold">
        {repeats ? <span className="sr-only">{line?.name}</span> : (line?.name ?? 'This show')}
      </span>
      <span className="min-w-0 break-words">
        {row.what}
        {line && <Trouble line={line} />}
      </span>
      <span className="text-right whitespace-nowrap text-ink-2 sm:text-left">
        {levels && `${fromWords(levels.from)} → ${writeLevel(levels.to)}`}
      </span>
      <span className="hidden sm:block">{levels && <Bar levels={levels} />}</span>
      <span className="hidden text-right font-sans text-xs text-ink-2 sm:block">
        {stays(row) ? 'stays' : row.when}
      </span>
    </li>
  );
}

function fromWords(from: [number, number] | null): string {
  if (!from) return '?';
  const [low, high] = from;
  const percent = (level: number): string => `${Math.round((level / 255) * 100)}`;
  return low === high ? writeLevel(low) : `${percent(low)}–${percent(high)} %`;
}

/** The level that it has as a bar, and the level that it will have as a mark. */
function Bar({ levels: { from, to } }: { levels: NonNullable<PreviewRow['levels']> }) {
  const part = (level: number): string => `${(level / 255) * 100}%`;
  return (
    <span aria-hidden className="relative block h-3 bg-bark-2">
      <span
        className="absolute inset-y-0 left-0 bg-tawny/45"
        style={{ width: part(Math.max(to, from?.[1] ?? 0)) }}
      />
      <span className="absolute inset-y-0 left-0 bg-ink-3" style={{ width: part(from?.[1] ?? 0) }} />
      <span className="absolute inset-y-0 w-0.5 -translate-x-0.5 bg-tawny" style={{ left: part(to) }} />
    </span>
  );
}

function Trouble({ line }: { line: Show['lines'][number] }) {
  const view = useLineView(line);
  if (!view.trouble) return null;
  return (
    <span className={`pl-2 font-sans ${line.muted ? 'text-straw' : 'text-brick'}`}>{view.shortTrouble}</span>
  );
}
