/**
 * The keys of the prompt desk. They are the desk's wherever the focus is, so that Enter is Go after a button was pressed with the mouse; a
 * button that has the focus is pressed with Space. Only where somebody types, or in something that was opened, they are not.
 */
import { useEffect } from 'react';
import type { DeskAct, DeskKeys } from '@tawny-signal/core/show/desk-keys';

const BUSY = 'input, textarea, [role="combobox"], [role="dialog"], [role="dialog"] *, [role="option"]';

/** What a key does. The Enter of the number pad is Enter, unless it is chosen for something itself. */
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
