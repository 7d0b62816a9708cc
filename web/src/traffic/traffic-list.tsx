/** The list of messages, the newest on top, with marks between causes and effects. */
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef, type KeyboardEvent } from 'react';
import type { Show } from '@tawny-signal/core/show';
import type { Passing } from '../live/traffic-log';
import type { Found } from './use-finder';
import { useIsWide } from '../ui/use-media';
import { clockWords, hexOf, lineName, rootOf, senderName, wordsOf } from './words';

const COLUMNS =
  'grid grid-cols-[6.5rem_4.5rem_minmax(0,1fr)] items-baseline gap-x-3 px-3 lg:grid-cols-[116px_84px_150px_minmax(0,1fr)]';
const ROW = 30;
const RAW_ROW = 48;
const SECOND_LINE = 20;

/** The most rows while messages arrive, because each row costs time. When frozen, all rows are available. */
const LIVE_ROWS = 500;

export interface TrafficListProps {
  found: Found;
  show: Show;
  raw: boolean;
  /** True while the list is frozen. */
  still: boolean;
  /** The number of the selected record. */
  chosen: number | null;
  choose: (n: number | null) => void;
  /** Called when the list is scrolled away from the newest, or back. */
  away: (away: boolean) => void;
}

export function TrafficList({ found, show, raw, still, chosen, choose, away }: TrafficListProps) {
  const { finder, view } = found;
  const scroller = useRef<HTMLDivElement>(null);
  // On a narrow screen the message stands below its time, direction and line.
  const height = (raw ? RAW_ROW : ROW) + (useIsWide() ? 0 : SECOND_LINE);
  const virtual = useVirtualizer({
    count: still ? finder.count : Math.min(finder.count, LIVE_ROWS),
    getScrollElement: () => scroller.current,
    estimateSize: () => height,
    getItemKey: (place) => finder.at(place),
    overscan: 10,
  });
  useEffect(() => virtual.measure(), [height, virtual]);
  const root = chosen === null || chosen < view.first ? null : rootOf(view.at(chosen));

  function onKey(event: KeyboardEvent): void {
    if (event.key === 'Escape' && chosen !== null) return choose(null);
    const step = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
    if (step === 0 || finder.count === 0) return;
    event.preventDefault();
    let place = 0;
    while (chosen !== null && place < finder.count && finder.at(place) > chosen) place++;
    const next = chosen === null ? 0 : Math.max(0, Math.min(finder.count - 1, place + step));
    choose(finder.at(next));
    virtual.scrollToIndex(next);
  }

  return (
    <>
      <div className={`${COLUMNS} border-y border-rule py-1.5 text-sm text-ink-3`} aria-hidden>
        <span>Time</span>
        <span>Direction</span>
        <span>Line</span>
        <span className="max-lg:hidden">Message</span>
      </div>
      <div
        ref={scroller}
        className="min-h-0 flex-1 overflow-y-auto"
        tabIndex={0}
        role="log"
        aria-live="off"
        aria-label="Messages"
        onKeyDown={onKey}
        onScroll={(event) => away(event.currentTarget.scrollTop > ROW)}
      >
        <ol className="relative" style={{ height: virtual.getTotalSize() }}>
          {virtual.getVirtualItems().map((item) => {
            const n = finder.at(item.index);
            if (n < view.first) return null;
            const record = view.at(n);
            const at = (place: number): Passing | null =>
              place >= 0 && place < finder.count && finder.at(place) >= view.first
                ? view.at(finder.at(place))
                : null;
            const joins = (other: Passing | null): boolean =>
              other !== null && rootOf(other) === rootOf(record);
            return (
              <li
                key={item.key}
                data-way={record.direction}
                aria-current={n === chosen}
                className={`absolute top-0 left-0 w-full border-b border-rule hover:bg-bark ${n === chosen ? 'bg-bark-2' : rootOf(record) === root ? 'bg-bark' : ''}`}
                style={{ transform: `translateY(${item.start}px)`, height: item.size }}
                onClick={() => choose(n === chosen ? null : n)}
              >
                <Tie above={joins(at(item.index - 1))} below={joins(at(item.index + 1))} />
                <TrafficRow record={record} show={show} raw={raw} />
              </li>
            );
          })}
        </ol>
      </div>
    </>
  );
}

/** The mark in the margin between a message and its effects. */
function Tie({ above, below }: { above: boolean; below: boolean }) {
  if (!above && !below) return null;
  return (
    <span
      aria-hidden
      data-tied
      className="absolute left-1 w-1 border-l border-ink-3"
      style={{ top: above ? 0 : '50%', bottom: below ? 0 : '50%' }}
    />
  );
}

const WAYS: Record<Passing['direction'], { words: string; colour: string }> = {
  in: { words: '→ in', colour: 'text-dusk' },
  out: { words: 'out →', colour: 'text-tawny' },
  heldBack: { words: 'withheld', colour: 'text-straw' },
  bad: { words: '! in', colour: 'text-brick' },
};

function TrafficRow({ record, show, raw }: { record: Passing; show: Show; raw: boolean }) {
  const way = WAYS[record.direction];
  const sender = senderName(show, record.senderId);
  return (
    <div className={`${COLUMNS} pt-1 text-sm`}>
      <span className="font-mono text-ink-3">{clockWords(record.at)}</span>
      <span className={way.colour}>{way.words}</span>
      <span className="truncate">{lineName(show, record.lineId)}</span>
      <span className="truncate font-mono max-lg:col-span-3">
        {wordsOf(record, show)}
        {sender && <span className="font-sans text-ink-3"> · by {sender}</span>}
        {record.direction === 'in' && record.reason && (
          <span className="font-sans text-straw"> · {record.reason}</span>
        )}
        {record.direction !== 'in' && record.cause === 0 && !record.reason && !sender && (
          <span className="font-sans text-ink-3"> · by hand</span>
        )}
      </span>
      {raw && (
        <span className="truncate font-mono text-xs text-ink-2 max-lg:col-span-3 lg:col-start-4">
          {hexOf(record)}
        </span>
      )}
    </div>
  );
}
