/** What the last message did to the show itself, asked of the engine once nothing has come in for a moment. */
import { useEffect, useState } from 'react';
import { doneBy, mayAct } from '@tawny-signal/core/mapping/done';
import type { Show } from '@tawny-signal/core/show';
import { useLive } from '../live/live';
import type { Passing } from '../live/traffic-log';
import { useWhy } from '../show/show';

/** A control that moves sends hundreds of messages: the last one is asked about. */
const QUIET_MS = 150;

const NOTHING: readonly string[] = [];

/** In words: `called 4`, `tapped: 97.3`; empty for nothing, and while it is not known yet. */
export function useDone(show: Show, { seq, lineId }: Passing): readonly string[] {
  const { store } = useLive();
  const [quietAt, setQuietAt] = useState(0);
  const [said, setSaid] = useState<{ seq: number; words: readonly string[] }>({ seq: 0, words: NOTHING });
  const acts = mayAct(show, lineId);
  useEffect(() => {
    if (!acts) return undefined;
    const timer = setTimeout(() => setQuietAt(seq), QUIET_MS);
    return () => clearTimeout(timer);
  }, [acts, seq]);
  const steps = useWhy(seq, acts && quietAt === seq);
  // What is said stays as it was said, though the tempo moves on.
  if (steps && said.seq !== seq) {
    const isOn = (bankId: string | null): boolean => show.banks.some(({ id, on }) => id === bankId && on);
    setSaid({ seq, words: doneBy(show, steps, { isOn, bpm: store.transport()?.bpm ?? null }) });
  }
  return said.seq === seq ? said.words : NOTHING;
}
