import { useEffect, useRef, type RefObject } from 'react';

/** For a row: when it opens it is scrolled to, as far as it must be. */
export function useInView<T extends HTMLElement>(open: boolean): RefObject<T | null> {
  const row = useRef<T>(null);
  useEffect(() => {
    if (open) row.current?.scrollIntoView({ block: 'nearest' });
  }, [open]);
  return row;
}
