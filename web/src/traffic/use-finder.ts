/** What is wanted of the traffic, for a list on the screen: looked for at the screen's pace. */
import { useEffect, useMemo, useReducer, useRef } from 'react';
import { useLive } from '../live/live';
import type { Passing, TrafficView } from '../live/traffic-log';
import { createFinder, type Finder } from './finder';

const EVERY_MS = 100;
/** Records that are looked through before the screen gets its turn. */
const SLICE = 2000;

export interface Found {
  finder: Finder;
  /** The traffic that it was found in. */
  view: TrafficView;
  /** Older messages are still being looked through. */
  searching: boolean;
}

/** @param wants null for all. @param still what came since is not shown */
export function useFinder(wants: ((record: Passing) => boolean) | null, still: boolean): Found {
  const { store } = useLive();
  const [, draw] = useReducer((times: number) => times + 1, 0);
  const view = useRef(store.traffic());
  const searching = useRef(false);
  const finder = useMemo(() => {
    const made = createFinder(wants);
    made.follow(view.current);
    searching.current = wants !== null;
    return made;
  }, [wants]);

  useEffect(() => {
    let turn: ReturnType<typeof setTimeout> | null = null;
    function back(): void {
      searching.current = finder.back(SLICE);
      draw();
      turn = searching.current ? setTimeout(back) : null;
    }
    back();
    return () => {
      if (turn !== null) clearTimeout(turn);
    };
  }, [finder]);

  useEffect(() => {
    if (still) return;
    function follow(): void {
      if (view.current === store.traffic()) return;
      view.current = store.traffic();
      finder.follow(view.current);
      draw();
    }
    follow();
    const pace = setInterval(follow, EVERY_MS);
    return () => clearInterval(pace);
  }, [finder, still, store]);

  return { finder, view: view.current, searching: searching.current };
}
