/** The sheet of mappings. Only visible rows are rendered, so ten thousand scroll like ten. */
import {
  DndContext,
  PointerSensor,
  useSensor,
  useSensors,
  type DragEndEvent,
  type DragMoveEvent,
} from '@dnd-kit/core';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import type { Show } from '@tawny-signal/core/show';
import type { Mapping } from '@tawny-signal/core/show/mapping';
import { useMoveMapping } from '../show/show';
import { walkRows } from '../ui/walk-rows';
import { useWhyNot } from '../ui/read-only';
import { MappingRow, SHEET_COLUMNS } from './mapping-row';

export interface SheetProps {
  mappings: Mapping[];
  show: Show;
  openId: string | null;
  /** Rows that were just made: they are brought into sight and marked. */
  fresh: readonly string[];
  /** True if all rows are shown, so that they can be moved. */
  sortable: boolean;
}

const ROW = 48;

export function Sheet({ mappings, show, openId, fresh, sortable }: SheetProps) {
  const scroller = useRef<HTMLDivElement>(null);
  const list = useRef<HTMLOListElement>(null);
  const { mutate: move } = useMoveMapping();
  const go = useNavigate();
  const ids = useMemo(() => mappings.map((mapping) => mapping.id), [mappings]);
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }));
  const virtual = useVirtualizer({
    count: mappings.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    getItemKey: (at) => ids[at]!,
    overscan: 8,
  });

  // Filtered rows keep the numbers that they have in the whole sheet.
  const numbers = useMemo(() => new Map(show.mappings.map(({ id }, at) => [id, at + 1])), [show.mappings]);
  const isFresh = useMemo(() => new Set(fresh), [fresh]);
  const firstFresh = fresh.length === 0 ? -1 : ids.indexOf(fresh[0]!);
  useEffect(() => {
    if (firstFresh >= 0) virtual.scrollToIndex(firstFresh, { align: 'start' });
    // Only when rows were made, not on each change of the list.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [firstFresh, fresh]);

  const openAt = openId === null ? -1 : ids.indexOf(openId);
  useEffect(() => {
    if (openAt >= 0) virtual.scrollToIndex(openAt, { align: 'auto' });
    // Only when another row is opened, not on each change of the list.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [openId]);

  /** Moves a row to the place of another. */
  const moveTo = useCallback(
    (id: string, at: number) => {
      const others = ids.filter((other) => other !== id);
      const place = Math.max(0, Math.min(at, others.length));
      move({ id, after: place === 0 ? null : others[place - 1]! });
    },
    [ids, move],
  );
  const mayMove = useWhyNot('edit') === undefined;
  const moveBy = useCallback((id: string, step: number) => moveTo(id, ids.indexOf(id) + step), [ids, moveTo]);
  const toggle = useCallback(
    (id: string) => void go(id === openId ? '/mappings' : `/mappings/${id}`),
    [go, openId],
  );
  /** The place that a dragged row is over; null for none. */
  const [over, setOver] = useState<number | null>(null);
  function placeOf({ active, delta }: DragMoveEvent | DragEndEvent): number {
    const item = virtual.getVirtualItems().find(({ key }) => key === active.id);
    if (!item) return ids.indexOf(String(active.id));
    return virtual.getVirtualItemForOffset(item.start + delta.y + item.size / 2)?.index ?? item.index;
  }
  function onDragEnd(event: DragEndEvent): void {
    const place = placeOf(event);
    setOver(null);
    if (ids[place] !== event.active.id) moveTo(String(event.active.id), place);
  }

  return (
    <>
      <div
        style={SHEET_COLUMNS}
        className="row-grid items-center border-y border-l-3 border-rule border-l-transparent py-1.5 text-sm text-ink-3 max-lg:hidden"
        aria-hidden
      >
        <span className="pr-2.5 text-right" />
        <span className="pl-3">Hear</span>
        <span>Shape</span>
        <span>Send</span>
        <span className="pr-3 text-right">last</span>
      </div>
      <div ref={scroller} className="min-h-0 flex-1 overflow-y-auto pb-4">
        {/* No row is a place to drop on: registering them would have every row drawn anew whenever one comes into sight. */}
        <DndContext
          sensors={sensors}
          onDragMove={(event) => setOver(placeOf(event))}
          onDragEnd={onDragEnd}
          onDragCancel={() => setOver(null)}
        >
          <ol
            ref={list}
            aria-label="Mappings"
            className="relative"
            style={{ height: virtual.getTotalSize() }}
            onKeyDown={(event) => walkRows(event, list.current)}
          >
            {virtual.getVirtualItems().map((item) => {
              const mapping = mappings[item.index]!;
              return (
                <li
                  key={item.key}
                  ref={virtual.measureElement}
                  data-index={item.index}
                  className={`absolute top-0 left-0 w-full ${item.index === over ? 'outline-1 -outline-offset-1 outline-tawny' : ''}`}
                  style={{ transform: `translateY(${item.start}px)` }}
                >
                  <MappingRow
                    mapping={mapping}
                    number={numbers.get(mapping.id) ?? item.index + 1}
                    fresh={isFresh.has(mapping.id)}
                    show={show}
                    open={mapping.id === openId}
                    toggle={toggle}
                    moveBy={sortable && mayMove ? moveBy : null}
                  />
                </li>
              );
            })}
          </ol>
        </DndContext>
      </div>
    </>
  );
}
