/** The last seconds of what motions made, for their scopes. It moves on without rendering anything. */
import { createContext, useContext, useEffect, useMemo } from 'react';
import type { MotionsSeen, VoiceView } from '@tawny-signal/core/motion/seen';
import { useLive } from '../live/live';

export interface Sample {
  /** Milliseconds since 1970. */
  at: number;
  voices: readonly VoiceView[];
}

export interface MotionHistory {
  /** The samples of a motion, the oldest first. */
  of(id: string): readonly Sample[];
}

/** How long samples are kept, in ms. */
export const KEPT_MS = 12_000;
const NONE: readonly Sample[] = [];

export function createHistory(): MotionHistory & { take(seen: MotionsSeen): void } {
  const samples = new Map<string, Sample[]>();
  return {
    of: (id) => samples.get(id) ?? NONE,
    take({ at, running }) {
      for (const id of new Set([...samples.keys(), ...Object.keys(running)])) {
        const list = samples.get(id) ?? [];
        samples.set(id, list);
        list.push({ at, voices: running[id] ?? [] });
        while (list.length > 0 && list[0]!.at < at - KEPT_MS) list.shift();
      }
    },
  };
}

export const HistoryContext = createContext<MotionHistory>({ of: () => NONE });
export const useHistory = (): MotionHistory => useContext(HistoryContext);

/** Asks for what motions make while a page shows it. */
export function useMotionHistory(): MotionHistory {
  const { store, connection } = useLive();
  const history = useMemo(createHistory, []);
  useEffect(() => {
    const stop = connection.watchMotions();
    const unsubscribe = store.subscribe('motions', () => history.take(store.motions()));
    return () => {
      unsubscribe();
      stop();
    };
  }, [store, connection, history]);
  return history;
}
