/** The handle of a row, with its keys: Alt and the arrow keys move the row, Escape closes it. */
import type { DraggableSyntheticListeners } from '@dnd-kit/core';
import { GripVertical } from 'lucide-react';
import type { KeyboardEvent } from 'react';

export function RowGrip({ listeners }: { listeners: DraggableSyntheticListeners }) {
  return (
    <span
      {...listeners}
      aria-hidden
      title="Drag to move (Alt+↑ ↓)"
      className="absolute top-0 left-0 flex h-full w-5 cursor-grab items-center justify-center text-ink-3 opacity-0 group-hover:opacity-100 print:hidden"
    >
      <GripVertical size={14} />
    </span>
  );
}

/** @param close null if the row is closed. @param move null if rows cannot be moved */
export function rowKeys(
  event: KeyboardEvent<HTMLElement>,
  close: (() => void) | null,
  move: ((step: number) => void) | null,
): void {
  if (event.key === 'Escape' && close) {
    close();
    event.currentTarget.querySelector<HTMLElement>('[data-row]')?.focus();
  }
  const step = event.key === 'ArrowUp' ? -1 : event.key === 'ArrowDown' ? 1 : 0;
  if (!event.altKey || step === 0 || !move) return;
  event.preventDefault();
  move(step);
}
