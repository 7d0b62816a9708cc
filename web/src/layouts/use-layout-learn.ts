/** Learns the controls of a layout: each that is touched on its line is added once, in the order of touching. */
import { useCallback, useEffect, useRef, useState } from 'react';
import { controlFromTouch } from '@tawny-signal/core/layout/layout';
import { gather } from '@tawny-signal/core/learn/gather';
import { MOST_CONTROLS, type Layout, type LayoutControl } from '@tawny-signal/core/show/layout';
import { useShow } from '../show/show';
import { useBeginTouches, useTouches, type TouchSession } from '../traffic/touches';

export interface LayoutLearn {
  on: boolean;
  start(): void;
  stop(): void;
}

export function useLayoutLearn(
  layout: Layout,
  change: (values: Partial<Layout>) => Promise<unknown>,
): LayoutLearn {
  const { settings } = useShow();
  const begin = useBeginTouches();
  const [session, setSession] = useState<TouchSession | null>(null);
  const on = session !== null;
  const controls = useRef<LayoutControl[]>(layout.controls);
  const saving = useRef(false);
  const save = useRef(change);
  useEffect(() => {
    save.current = change;
    // Controls that were learned while another one is being saved must not be lost.
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
      setSession(null); // said aloud already
    }
    saving.current = false;
  }, []);

  useTouches(session, (touches) => {
    const before = controls.current;
    const onLine = touches.filter(({ lineId }) => lineId === layout.lineId);
    for (const touched of gather(onLine, settings.middleC)) {
      if (controls.current.length >= MOST_CONTROLS) break;
      const made = controlFromTouch(controls.current, touched, crypto.randomUUID().slice(0, 13));
      if (made) controls.current = [...controls.current, made];
    }
    if (controls.current !== before) void keep();
  });

  useEffect(() => {
    if (!on) return;
    const onKey = (event: KeyboardEvent): void => {
      if (event.key === 'Escape') setSession(null);
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [on]);

  return { on, start: () => setSession(begin()), stop: () => setSession(null) };
}
