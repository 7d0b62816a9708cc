/** Learn: the next control that is touched fills in what a mapping hears. */
import { useEffect, useState } from 'react';
import { learnFrom } from '@tawny-signal/core/mapping/learn';
import type { Hear } from '@tawny-signal/core/show/mapping';
import { useLive } from '../live/live';
import { useShow } from '../show/show';
import { signalsIn } from '../traffic/words';

export interface Learn {
  listening: boolean;
  start(): void;
  stop(): void;
}

/** @param learned is given what the touched control sends, once */
export function useLearn(learned: (hear: Hear) => void): Learn {
  const [listening, setListening] = useState(false);
  const { store } = useLive();
  const show = useShow();

  useEffect(() => {
    if (!listening) return;
    return store.onTraffic((records) => {
      for (const record of records) {
        if (record.direction !== 'in') continue;
        const hear = signalsIn(record, show)
          .map((signal) => learnFrom(signal, record.lineId))
          .find((candidate) => candidate !== null);
        if (!hear) continue;
        setListening(false);
        learned(hear);
        return;
      }
    });
  }, [listening, learned, show, store]);

  useEffect(() => {
    if (!listening) return;
    function onKey(event: KeyboardEvent): void {
      if (event.key !== 'Escape') return;
      event.stopPropagation();
      setListening(false);
    }
    window.addEventListener('keydown', onKey, true);
    return () => window.removeEventListener('keydown', onKey, true);
  }, [listening]);

  return { listening, start: () => setListening(true), stop: () => setListening(false) };
}
