/** The sheet of the running order: a row a moment, a column a line. Of many rows only those in sight are drawn. */
import { DndContext } from '@dnd-kit/core';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useCallback, useEffect, useMemo, useRef, useState, type RefObject, type CSSProperties } from 'react';
import { flushSync } from 'react-dom';
import { useNavigate } from 'react-router';
import { callWords, momentSendDetail, momentSendTitle } from '@tawny-signal/core/cues/words';
import type { Moment } from '@tawny-signal/core/show/moment';
import type { Show } from '@tawny-signal/core/show';
import { useMoveMoment } from '../show/order-edits';
import { useWhyNot } from '../ui/read-only';
import { useRowDrag } from '../ui/row-drag';
import { walkRows } from '../ui/walk-rows';
import { columnsOf } from './columns';
import { MomentRow } from './moment-row';
import { useOrder } from './use-order';

/** Up to this many rows, all of them are rendered, so that the search of the browser finds them. */
const ALL_DRAWN = 100;
const ROW = 57;

interface SheetProps {
  show: Show;
  find: string;
  momentId: string | undefined;
  /** Adds a row after another; the first one if there is none. */
  insert: (after: string | null) => void;
}

function matches(moment: Moment, show: Show, text: string): boolean {
  const all = [
    moment.cue,
    moment.name,
    moment.notes,
    callWords(moment, show.layouts),
    ...moment.sends.flatMap((one) => [momentSendTitle(one, show), momentSendDetail(one)]),
  ];
  return all.join(' ').toLowerCase().includes(text);
}

/** Moves rows by a number of places, or to a place. */
function useMoving(ids: readonly string[]): (id: string, place: number) => void {
  const { mutate: move } = useMoveMoment();
  return useCallback(
    (id, place) => {
      const others = ids.filter((other) => other !== id);
      const at = Math.max(0, Math.min(place, others.length));
      if (ids[at] !== id) move({ id, after: at === 0 ? null : others[at - 1]! });
    },
    [ids, move],
  );
}

/** Returns true while the page is printed, which needs all rows. */
function usePrinting(): boolean {
  const [printing, setPrinting] = useState(false);
  useEffect(() => {
    const begin = (): void => flushSync(() => setPrinting(true));
    const end = (): void => setPrinting(false);
    window.addEventListener('beforeprint', begin);
    window.addEventListener('afterprint', end);
    return () => {
      window.removeEventListener('beforeprint', begin);
      window.removeEventListener('afterprint', end);
    };
  }, []);
  return printing;
}

/** Returns the indexes of the rows to render, with the heights above and below them. */
function useRowsInSight(
  ids: readonly string[],
  openAt: number,
  list: RefObject<HTMLOListElement | null>,
): {
  places: number[];
  above: number;
  below: number;
  measure: ((row: HTMLElement | null) => void) | undefined;
} {
  const printing = usePrinting();
  const virtual = useVirtualizer({
    count: ids.length,
    getScrollElement: () => list.current,
    estimateSize: () => ROW,
    getItemKey: (at) => ids[at]!,
    overscan: 8,
  });
  useEffect(() => {
    if (openAt >= 0 && ids.length > ALL_DRAWN) virtual.scrollToIndex(openAt, { align: 'auto' });
    // Only when another row is opened, not on each change of the list.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [openAt]);
  if (printing || ids.length <= ALL_DRAWN)
    return { places: [...ids.keys()], above: 0, below: 0, measure: undefined };
  const items = virtual.getVirtualItems();
  return {
    places: items.map(({ index }) => index),
    above: items[0]?.start ?? 0,
    below: virtual.getTotalSize() - (items.at(-1)?.end ?? 0),
    measure: virtual.measureElement,
  };
}

export function Sheet({ show, find, momentId, insert }: SheetProps) {
  const go = useNavigate();
  const order = useOrder();
  const list = useRef<HTMLOListElement>(null);
  const columns = useMemo(() => columnsOf(show), [show]);
  const grid = gridOf(columns.length);
  const text = find.trim().toLowerCase();
  const shown = useMemo(
    () => (text === '' ? show.moments : show.moments.filter((moment) => matches(moment, show, text))),
    [show, text],
  );
  const shownIds = useMemo(() => shown.map(({ id }) => id), [shown]);
  const ids = useMemo(() => show.moments.map(({ id }) => id), [show.moments]);
  const moveTo = useMoving(ids);
  const mayMove = useWhyNot('edit') === undefined;
  const moveBy = useCallback((id: string, step: number) => moveTo(id, ids.indexOf(id) + step), [ids, moveTo]);
  const toggle = useCallback(
    (id: string) => void go(id === momentId ? '/order' : `/order/${id}`),
    [go, momentId],
  );
  const insertAt = useCallback(
    (id: string, where: 'above' | 'below') =>
      insert(where === 'below' ? id : (ids[ids.indexOf(id) - 1] ?? null)),
    [ids, insert],
  );
  const rows = (): HTMLElement[] => [...(list.current?.querySelectorAll<HTMLElement>('[data-moment]') ?? [])];
  const drag = useRowDrag(rows, moveTo);
  const openAt = momentId === undefined ? -1 : shownIds.indexOf(momentId);
  const { places, above, below, measure } = useRowsInSight(shownIds, openAt, list);
  return (
    <>
      {/* Where the columns have no room, the head and the rows are moved sideways together. */}
      <div className="min-h-0 flex-1 overflow-x-auto">
        <div
          className="flex h-full flex-col lg:min-w-(--least)"
          style={{ '--least': leastOf(columns.length) } as CSSProperties}
        >
          <div
            aria-hidden
            className="row-grid border-y border-l-3 border-rule border-l-transparent py-1.5 text-sm text-ink-3 max-lg:hidden"
            style={{ '--columns': grid } as CSSProperties}
          >
            <span className="pr-2.5 text-right">cue</span>
            <span className="pl-3">moment</span>
            {columns.map(({ name }) => (
              <span key={name} className="truncate border-l border-rule/60 px-2.5">
                {name}
              </span>
            ))}
          </div>
          <DndContext {...drag.context}>
            <ol
              ref={list}
              aria-label="Moments"
              className="min-h-0 flex-1 overflow-y-auto"
              onKeyDown={(event) => walkRows(event, list.current)}
            >
              {above > 0 && <li aria-hidden style={{ height: above }} />}
              {places.map((at) => {
                const moment = shown[at]!;
                return (
                  <MomentRow
                    key={moment.id}
                    at={at}
                    measure={measure}
                    moment={moment}
                    show={show}
                    columns={columns}
                    grid={grid}
                    open={moment.id === momentId}
                    toggle={toggle}
                    standsBy={order.standingBy === moment.id}
                    running={order.running.find(({ id }) => id === moment.id) ?? null}
                    follows={order.following.find(({ id }) => id === moment.id)?.at ?? null}
                    heldAt={order.heldAt}
                    isOver={drag.over === at}
                    moveBy={text === '' && mayMove ? moveBy : null}
                    insert={insertAt}
                  />
                );
              })}
              {below > 0 && <li aria-hidden style={{ height: below }} />}
            </ol>
          </DndContext>
        </div>
      </div>
      {shown.length === 0 && (
        <p className="px-4 py-6 text-ink-2">No moment has “{find}” in it. Esc shows all again.</p>
      )}
    </>
  );
}

/** The least room for the columns of the grid. */
const leastOf = (columns: number): string => `${64 + 190 + 96 * columns + 3}px`;
const gridOf = (columns: number): string => `64px minmax(190px, 1.4fr) repeat(${columns}, minmax(96px, 1fr))`;
