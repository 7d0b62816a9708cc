/** Listens for controls that a person touches. What already moves by itself is ignored. */
import { useCallback, useEffect, useRef } from 'react';
import type { Touch } from '@tawny-signal/core/learn/gather';
import { useLive } from '../live/live';
import { useShow } from '../show/show';
import { movingNow, type Moving } from './moving';
import { signalsIn } from './words';
import { serverNow } from '../live/server-clock';

/** The most touches that are kept; older ones are dropped. */
const MOST = 2000;

/** What was touched since somebody began to listen. */
export interface TouchSession {
  /** Everything that was touched, in order. */
  readonly touches: Touch[];
  /** What moved by itself at the start, in words; empty for nothing. */
  readonly passedOver: string;
  readonly moving: Moving;
}

/** Returns a function that begins a session. */
export function useBeginTouches(): () => TouchSession {
  const { store } = useLive();
  const show = useShow();
  return useCallback(() => {
    const moving = movingNow(store.traffic(), show, serverNow());
    return { touches: [], passedOver: moving.words, moving };
  }, [store, show]);
}

/** Listens while there is a session. @param touched called after each new batch of touches, with all of the session */
export function useTouches(session: TouchSession | null, touched: (touches: readonly Touch[]) => void): void {
  const { store } = useLive();
  const show = useShow();
  // The show changes with what is learned. Listening goes on.
  const latest = useRef({ show, touched });
  useEffect(() => {
    latest.current = { show, touched };
  });
  useEffect(() => {
    if (!session) return;
    const { touches, moving } = session;
    return store.onTraffic((records) => {
      const before = touches.length;
      for (const record of records) {
        if (record.direction !== 'in') continue;
        for (const signal of signalsIn(record, latest.current.show))
          if (!moving.has(record.lineId, signal)) touches.push({ lineId: record.lineId, signal });
      }
      if (touches.length === before) return;
      if (touches.length > MOST) touches.splice(0, touches.length - MOST);
      latest.current.touched(touches);
    });
  }, [session, store]);
}
