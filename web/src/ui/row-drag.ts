/** Moves rows of a list by dragging. The drop place is found from the positions of the rows. */
import { PointerSensor, useSensor, useSensors, type DragEndEvent, type DragMoveEvent } from '@dnd-kit/core';
import { useState, type ComponentProps } from 'react';
import type { DndContext } from '@dnd-kit/core';

interface RowDrag {
  /** The props of the context around the list. */
  context: ComponentProps<typeof DndContext>;
  /** The index of the row under the dragged one; null for none. */
  over: number | null;
}

/**
 * @param rows the elements of the rows, in their order; where not all are drawn, each with its place as `data-at`. @param moveTo puts the row at this place of those that there are
 */
export function useRowDrag(rows: () => HTMLElement[], moveTo: (id: string, place: number) => void): RowDrag {
  const [over, setOver] = useState<number | null>(null);
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }));

  function placeOf({ activatorEvent, delta }: DragMoveEvent | DragEndEvent): number | null {
    if (!(activatorEvent instanceof PointerEvent)) return null;
    const y = activatorEvent.clientY + delta.y;
    const drawn = rows();
    const found = drawn.findIndex((row) => y < row.getBoundingClientRect().bottom);
    const place = found < 0 ? drawn.length - 1 : found;
    return Number(drawn[place]?.dataset['at'] ?? place);
  }

  return {
    over,
    context: {
      sensors,
      onDragMove: (event) => setOver(placeOf(event)),
      onDragCancel: () => setOver(null),
      onDragEnd(event) {
        const place = placeOf(event);
        setOver(null);
        if (place !== null) moveTo(String(event.active.id), place);
      },
    },
  };
}
