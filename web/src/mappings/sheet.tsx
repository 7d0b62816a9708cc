/** The ruled sheet of mappings. Only the rows in sight are drawn, so ten thousand scroll like ten. */
import {
  closestCenter,
  DndContext,
  PointerSensor,
  useSensor,
  useSensors,
  type DragEndEvent,
} from '@dnd-kit/core';
import { SortableContext, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useMemo, useRef } from 'react';
import { useNavigate } from 'react-router';
import type { Show } from '@tawny-signal/core/show';
import type { Mapping } from '@tawny-signal/core/show/mapping';
import { useMoveMapping } from '../show/show';
import { walkRows } from '../ui/walk-rows';
import { MappingRow, SHEET_COLUMNS } from './mapping-row';

export interface SheetProps {
  mappings: Mapping[];
  show: Show;
  openId: string | null;
  /** Rows can be moved only where all of them are shown. */
  sortable: boolean;
}

const ROW = 48;

export function Sheet({ mappings, show, openId, sortable }: SheetProps) {
  const scroller = useRef<HTMLDivElement>(null);
  const list = useRef<HTMLOListElement>(null);
  const move = useMoveMapping();
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

  const openAt = openId === null ? -1 : ids.indexOf(openId);
  useEffect(() => {
    if (openAt >= 0) virtual.scrollToIndex(openAt, { align: 'auto' });
    // Only when another row is opened, not whenever the list changes.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [openId]);

  /** Puts a row at another's place. */
  function moveTo(id: string, at: number): void {
    const others = ids.filter((other) => other !== id);
    const place = Math.max(0, Math.min(at, others.length));
    move.mutate({ id, after: place === 0 ? null : others[place - 1]! });
  }
  function onDragEnd({ active, over }: DragEndEvent): void {
    if (over && active.id !== over.id) moveTo(String(active.id), ids.indexOf(String(over.id)));
  }

  return (
    <>
      <div
        className={`${SHEET_COLUMNS} border-y border-l-3 border-rule border-l-transparent py-1.5 text-sm text-ink-3`}
        aria-hidden
      >
        <span className="pr-2.5 text-right" />
        <span className="pl-3">Hear</span>
        <span>Shape</span>
        <span>Send</span>
        <span className="pr-3 text-right">last</span>
      </div>
      <div ref={scroller} className="min-h-0 flex-1 overflow-y-auto pb-4">
        <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={onDragEnd}>
          <SortableContext items={ids} strategy={verticalListSortingStrategy} disabled={!sortable}>
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
                    className="absolute top-0 left-0 w-full"
                    style={{ transform: `translateY(${item.start}px)` }}
                  >
                    <MappingRow
                      mapping={mapping}
                      number={item.index + 1}
                      show={show}
                      open={mapping.id === openId}
                      toggle={() => void go(mapping.id === openId ? '/mappings' : `/mappings/${mapping.id}`)}
                      move={sortable ? (step) => moveTo(mapping.id, item.index + step) : null}
                    />
                  </li>
                );
              })}
            </ol>
          </SortableContext>
        </DndContext>
      </div>
    </>
  );
}
