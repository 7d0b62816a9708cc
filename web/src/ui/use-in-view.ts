import { useEffect, useRef, type RefObject } from 'react';

/** Scrolls a row into view when it opens, as far as necessary. */
export function useInView<T extends HTMLElement>(open: boolean): RefObject<T | null> {
  const row = useRef<T>(null);
  useEffect(() => {
    if (open) row.current?.scrollIntoView({ block: 'nearest' });
  }, [open]);
  return row;
}
