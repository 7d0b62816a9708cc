/** Learns a control that calls a moment: the next one that is touched, at any force. */
import { useEffect, useRef, useState } from 'react';
import { gather, type Touch } from '@tawny-signal/core/learn/gather';
import type { Hear } from '@tawny-signal/core/hears';
import { useLive } from '../live/live';
import { useShow } from '../show/show';
import { movingNow } from '../traffic/moving';
import { signalsIn } from '../traffic/words';

export interface CallerLearn {
  on: boolean;
  start(): void;
  stop(): void;
}

export function useCallerLearn(take: (hear: Hear) => Promise<unknown>): CallerLearn {
  const { store } = useLive();
  const show = useShow();
  const [on, setOn] = useState(false);
  const taking = useRef(take);
  useEffect(() => {
    taking.current = take;
  });
  useEffect(() => {
    if (!on) return;
    const touches: Touch[] = [];
    const moving = movingNow(store.traffic(), show, performance.timeOrigin + performance.now());
    return store.onTraffic((records) => {
      for (const record of records) {
        if (record.direction !== 'in') continue;
        for (const signal of signalsIn(record, show))
          if (!moving.has(record.lineId, signal)) touches.push({ lineId: record.lineId, signal });
      }
      const [control] = gather(touches, show.settings.middleC);
      const hear = control?.options[0]?.hear;
      if (!hear) return;
      setOn(false);
      void taking.current(hear).catch(() => undefined);
    });
  }, [on, store, show]);
  return { on, start: () => setOn(true), stop: () => setOn(false) };
}
