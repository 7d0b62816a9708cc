/** Finds messages for a list on the screen, at the pace of the screen. */
import { useEffect, useMemo, useReducer, useRef } from 'react';
import { useLive } from '../live/live';
import type { Passing, TrafficView } from '../live/traffic-log';
import { createFinder, type Finder } from './finder';

const EVERY_MS = 100;
/** The number of records that are searched before the screen is updated. */
const SLICE = 2000;

export interface Found {
  finder: Finder;
  /** The view that was searched. */
  view: TrafficView;
  /** True while older messages are still being searched. */
  searching: boolean;
}

/** @param wants null for all. @param still true to leave out new messages */
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
