/** Moves the focus between the rows of a list with the arrow keys. Each row has one button with `data-row`. */
import type { KeyboardEvent } from 'react';

export function walkRows(event: KeyboardEvent, list: HTMLElement | null): void {
  if (event.altKey || event.ctrlKey || event.metaKey || !list) return;
  const step = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
  if (step === 0 || !(event.target instanceof HTMLElement) || !event.target.matches('[data-row]')) return;
  const rows = [...list.querySelectorAll<HTMLElement>('[data-row]')];
  const next = rows[rows.indexOf(event.target) + step];
  if (!next) return;
  event.preventDefault();
  next.focus();
  next.scrollIntoView({ block: 'nearest' });
}
