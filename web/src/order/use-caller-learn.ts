/** Learns a control that calls a moment: the next one that is touched, at any force. */
import { useState } from 'react';
import { gather } from '@tawny-signal/core/learn/gather';
import type { Hear } from '@tawny-signal/core/hears';
import { useShow } from '../show/show';
import { useBeginTouches, useTouches, type TouchSession } from '../traffic/touches';

export interface CallerLearn {
  on: boolean;
  start(): void;
  stop(): void;
}

export function useCallerLearn(take: (hear: Hear) => Promise<unknown>): CallerLearn {
  const { settings } = useShow();
  const begin = useBeginTouches();
  const [session, setSession] = useState<TouchSession | null>(null);
  useTouches(session, (touches) => {
    const [control] = gather(touches, settings.middleC);
    const hear = control?.options[0]?.hear;
    if (!hear) return;
    setSession(null);
    void take(hear).catch(() => undefined);
  });
  return { on: session !== null, start: () => setSession(begin()), stop: () => setSession(null) };
}
