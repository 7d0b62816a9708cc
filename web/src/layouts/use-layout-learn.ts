/** Learns the controls of a layout: each that is touched on its line is added once, in the order of touching. */
import { useCallback, useEffect, useRef, useState } from 'react';
import { controlFromTouch } from '@tawny-signal/core/layout/layout';
import { gather, type Touch } from '@tawny-signal/core/learn/gather';
import { MOST_CONTROLS, type Layout, type LayoutControl } from '@tawny-signal/core/show/layout';
import { useLive } from '../live/live';
import { useShow } from '../show/show';
import { movingNow } from '../traffic/moving';
import { signalsIn } from '../traffic/words';

const MOST_TOUCHES = 2000;

export interface LayoutLearn {
  on: boolean;
  start(): void;
  stop(): void;
}

export function useLayoutLearn(
  layout: Layout,
  change: (values: Partial<Layout>) => Promise<unknown>,
): LayoutLearn {
  const { store } = useLive();
  const show = useShow();
  const [on, setOn] = useState(false);
  const controls = useRef<LayoutControl[]>(layout.controls);
  const saving = useRef(false);
  const save = useRef(change);
  useEffect(() => {
    save.current = change;
    // What was learned meanwhile is not forgotten by what is just being saved.
    if (!saving.current) controls.current = layout.controls;
  });

  const keep = useCallback(async () => {
    if (saving.current) return;
    saving.current = true;
    try {
      for (let kept: LayoutControl[] | null = null; kept !== controls.current;) {
        kept = controls.current;
        await save.current({ controls: kept });
      }
    } catch {
      setOn(false); // said aloud already
    }
    saving.current = false;
  }, []);

  useEffect(() => {
    if (!on) return;
    const touches: Touch[] = [];
    const moving = movingNow(store.traffic(), show, performance.timeOrigin + performance.now());
    return store.onTraffic((records) => {
      for (const record of records) {
        if (record.direction !== 'in' || record.lineId !== layout.lineId) continue;
        for (const signal of signalsIn(record, show))
          if (!moving.has(record.lineId, signal)) touches.push({ lineId: record.lineId, signal });
      }
      if (touches.length > MOST_TOUCHES) touches.splice(0, touches.length - MOST_TOUCHES);
      const before = controls.current;
      for (const touched of gather(touches, show.settings.middleC)) {
        if (controls.current.length >= MOST_CONTROLS) break;
        const made = controlFromTouch(controls.current, touched, crypto.randomUUID().slice(0, 13));
        if (made) controls.current = [...controls.current, made];
      }
      if (controls.current !== before) void keep();
    });
    // The show changes with each control that is kept; what was touched before must not be lost by that.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [on, store, layout.lineId, keep]);

  useEffect(() => {
    if (!on) return;
    const onKey = (event: KeyboardEvent): void => {
      if (event.key === 'Escape') setOn(false);
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [on]);

  return { on, start: () => setOn(true), stop: () => setOn(false) };
}
