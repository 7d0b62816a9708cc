/** Returns the notes that sound on a line in one direction, and those that were just released. */
import { useEffect, useRef } from 'react';
import type { HeldSeen } from '@tawny-signal/core/live/messages';
import { useLive } from '../live/live';
import { useShow } from '../show/show';
import { AFTERGLOW_MS, type LitKey } from './keyboard-painter';
import { signalsIn } from './words';

export interface Heard {
  lineId: string;
  way: 'in' | 'out';
  /** 0–15; null for all. */
  channel: number | null;
}

/** @returns a function that returns the lit keys at a time */
export function useLitKeys({ lineId, way, channel }: Heard): (now: number) => LitKey[] {
  const { store } = useLive();
  const show = useShow();
  const short = useRef(new Map<number, LitKey>());

  useEffect(() => {
    const lit = short.current;
    lit.clear();
    return store.onTraffic((records) => {
      for (const record of records) {
        if (record.lineId !== lineId || record.direction !== way) continue;
        for (const signal of signalsIn(record, show)) {
          if (signal.kind !== 'noteOn' || (channel !== null && signal.channel !== channel)) continue;
          lit.set(signal.number, {
            number: signal.number,
            velocity: signal.value,
            down: false,
            at: record.at,
          });
        }
      }
    });
  }, [store, show, lineId, way, channel]);

  return (now) => {
    const keys = new Map<number, LitKey>();
    for (const [number, key] of short.current) {
      if (now - key.at > AFTERGLOW_MS) short.current.delete(number);
      else keys.set(number, key);
    }
    for (const note of heldOf(store.held(lineId)[way], channel))
      keys.set(note.number, { number: note.number, velocity: note.velocity, down: true, at: note.since });
    return [...keys.values()];
  };
}

export const heldOf = (held: readonly HeldSeen[], channel: number | null): HeldSeen[] =>
  held.filter((note) => channel === null || note.channel === channel);
