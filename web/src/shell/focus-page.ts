/** Brings the focus into the page: to the row that is open, else to the page itself, where the down arrow goes to the first row. */

export const MAIN_ID = 'page';
/** A page that is loaded when it is first opened is there by then. */
const LOADED_MS = 1500;

const openRow = (): HTMLElement | null =>
  document.querySelector<HTMLElement>('main [data-row][aria-expanded="true"]');
export const firstRow = (): HTMLElement | null => document.querySelector<HTMLElement>('main [data-row]');

export function focusPage(): void {
  const end = performance.now() + LOADED_MS;
  function look(): void {
    const row = openRow();
    if (row) return row.focus();
    if (performance.now() < end && location.pathname.split('/').length > 2) requestAnimationFrame(look);
    else document.getElementById(MAIN_ID)?.focus();
  }
  requestAnimationFrame(look);
}
