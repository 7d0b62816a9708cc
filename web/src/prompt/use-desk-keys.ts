/**
 * The keys of the prompt desk. They work wherever the focus is, so that Enter is Go even after a button was clicked; a focused button is pressed with
 * Space. They do not work while somebody types, or in a dialog.
 */
import { useEffect } from 'react';
import type { DeskAct, DeskKeys } from '@tawny-signal/core/show/desk-keys';

const BUSY = 'input, textarea, [role="combobox"], [role="dialog"], [role="dialog"] *, [role="option"]';

/** Returns the action of a key. The Enter of the number pad counts as Enter, unless it has its own action. */
function actOf(keys: DeskKeys, code: string): DeskAct | undefined {
  const acts = Object.keys(keys) as DeskAct[];
  return (
    acts.find((one) => keys[one] === code) ??
    (code === 'NumpadEnter' ? acts.find((one) => keys[one] === 'Enter') : undefined)
  );
}

export function useDeskKeys(keys: DeskKeys, act: (what: DeskAct) => void): void {
  useEffect(() => {
    function onKey(event: KeyboardEvent): void {
      const { target } = event;
      const isBusy = target instanceof HTMLElement && target.matches(BUSY);
      if (isBusy || event.ctrlKey || event.metaKey || event.altKey || event.shiftKey) return;
      const what = actOf(keys, event.code);
      if (!what) return;
      event.preventDefault();
      if (!event.repeat) act(what);
    }
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [keys, act]);
}
