/** Cuts, copies and pastes moments with the keys of the system, as text. */
import { useEffect } from 'react';
import type { Moment } from '@tawny-signal/core/show/moment';
import { momentName } from '@tawny-signal/core/show/moment-name';
import { usePasteMoments } from '../show/order-edits';
import { useRemoveRow } from '../show/show';
import { notify } from '../ui/notice';

const FORMAT = 'tawny-signal-moments';

interface Copied {
  format: typeof FORMAT;
  moments: Omit<Moment, 'id'>[];
}

function readCopied(text: string): Copied | null {
  try {
    const copied = JSON.parse(text) as Partial<Copied>;
    return copied.format === FORMAT && Array.isArray(copied.moments) ? (copied as Copied) : null;
  } catch {
    return null;
  }
}

const isTyping = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement && target.matches('input, textarea, [contenteditable="true"]');

/** Returns the row that has the focus, or is open. */
function chosenRow(openId: string | undefined): string | undefined {
  return document.activeElement?.closest<HTMLElement>('[data-moment]')?.dataset['moment'] ?? openId;
}

/** @param pasted called with the last row that was pasted */
export function useMomentClipboard(
  moments: readonly Moment[],
  openId: string | undefined,
  pasted: (id: string) => void,
): void {
  const { mutate: paste } = usePasteMoments();
  const { mutate: remove } = useRemoveRow('moments');
  useEffect(() => {
    function take(event: ClipboardEvent, cut: boolean): void {
      if (isTyping(event.target) || !getSelection()?.isCollapsed) return;
      const moment = moments.find(({ id }) => id === chosenRow(openId));
      if (!moment) return;
      const { id, ...rest } = moment;
      // A control calls one moment only: a copy loses its callers, a moment that was cut keeps them.
      const copied: Copied = { format: FORMAT, moments: [cut ? rest : { ...rest, callers: [] }] };
      event.clipboardData?.setData('text/plain', JSON.stringify(copied));
      event.preventDefault();
      if (cut) remove(id);
      notify(`${cut ? 'Cut' : 'Copied'} ${momentName(moment)}. Ctrl+V pastes it after the selected row.`);
    }
    const onCopy = (event: ClipboardEvent): void => take(event, false);
    const onCut = (event: ClipboardEvent): void => take(event, true);
    function onPaste(event: ClipboardEvent): void {
      if (isTyping(event.target)) return;
      const copied = readCopied(event.clipboardData?.getData('text/plain') ?? '');
      if (!copied) {
        notify('There is no moment to paste. Copy one first, with Ctrl+C on its row.');
        return;
      }
      event.preventDefault();
      const after = chosenRow(openId);
      paste(
        { ...(after === undefined ? {} : { after }), moments: copied.moments },
        { onSuccess: (made) => pasted(made.at(-1)!.id) },
      );
    }
    document.addEventListener('copy', onCopy);
    document.addEventListener('cut', onCut);
    document.addEventListener('paste', onPaste);
    return () => {
      document.removeEventListener('copy', onCopy);
      document.removeEventListener('cut', onCut);
      document.removeEventListener('paste', onPaste);
    };
  }, [moments, openId, paste, remove, pasted]);
}
