/** Keys that work everywhere, except while somebody types into a field. */
import { useEffect } from 'react';
import { firstRow, MAIN_ID } from './focus-page';
import { usePanic, useUndo } from '../show/show';

const isTyping = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement &&
  (target.tagName === 'INPUT' || target.tagName === 'TEXTAREA' || target.isContentEditable);

/** @param find opens the search box */
export function useShortcuts(find: () => void): void {
  const undo = useUndo();
  const panic = usePanic();
  useEffect(() => {
    function onKey(event: KeyboardEvent): void {
      const command = event.ctrlKey || event.metaKey;
      const key = event.key.toLowerCase();
      if (event.shiftKey && event.key === 'Escape') panic.mutate();
      else if (command && key === 'k') find();
      else if (event.key === 'F6') (firstRow() ?? document.getElementById(MAIN_ID))?.focus();
      else if (command && key === 'z' && !isTyping(event.target))
        undo.mutate(event.shiftKey ? 'redo' : 'undo');
      else if (key === '/' && !command && !isTyping(event.target)) {
        const field = document.querySelector<HTMLInputElement>('[data-find]');
        if (field) field.focus();
        else find();
      } else return;
      event.preventDefault();
    }
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [find, undo, panic]);
}
