/** Says to the others where this page is, and in which field somebody writes. */
import { useEffect } from 'react';
import { useLocation } from 'react-router';
import { LONGEST_LABEL, LONGEST_PATH } from '@tawny-signal/core/people/here';
import { cutText } from '@tawny-signal/core/show/text';
import { keepPlace } from '../shell/where-it-was';
import { useLive } from '../live/live';

type Labelled = HTMLInputElement | HTMLTextAreaElement;

const isField = (target: EventTarget | null): target is Labelled =>
  target instanceof HTMLElement && target.matches('main input, main textarea');

function labelOf(field: Labelled): string {
  const words = field.getAttribute('aria-label') ?? field.labels?.[0]?.textContent ?? '';
  return cutText(words.trim(), LONGEST_LABEL);
}

export function useSayHere(): void {
  const { connection } = useLive();
  const { pathname } = useLocation();
  useEffect(() => {
    keepPlace(pathname);
    connection.here({ path: pathname.slice(0, LONGEST_PATH) });
  }, [connection, pathname]);
  useEffect(() => {
    const hidden = (): void => connection.here({ hidden: document.hidden });
    const into = ({ target }: FocusEvent): void => {
      const field = isField(target) && !target.readOnly ? labelOf(target) : '';
      connection.here({ field: field === '' ? null : field });
    };
    const out = (): void => connection.here({ field: null });
    hidden();
    document.addEventListener('visibilitychange', hidden);
    document.addEventListener('focusin', into);
    document.addEventListener('focusout', out);
    return () => {
      document.removeEventListener('visibilitychange', hidden);
      document.removeEventListener('focusin', into);
      document.removeEventListener('focusout', out);
    };
  }, [connection]);
}
