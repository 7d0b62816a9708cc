/** Whether the window is at least so wide, for parts that are built differently on small screens. Where only sizes differ, classes do it. */
import { useCallback, useSyncExternalStore } from 'react';

function useMedia(query: string): boolean {
  const follow = useCallback(
    (changed: () => void) => {
      const list = matchMedia(query);
      list.addEventListener('change', changed);
      return () => list.removeEventListener('change', changed);
    },
    [query],
  );
  return useSyncExternalStore(follow, () => matchMedia(query).matches);
}

/** The lines stand at the left, and the places in the top bar; the breakpoint `lg` of the classes. */
export const useIsWide = (): boolean => useMedia('(min-width: 64rem)');
/** Everything of the top bar has room in it; the breakpoint `xl`. */
export const useIsVeryWide = (): boolean => useMedia('(min-width: 80rem)');
/** Held in one hand: the breakpoint `sm` of the classes is not reached. */
export const useIsPhone = (): boolean => !useMedia('(min-width: 40rem)');
