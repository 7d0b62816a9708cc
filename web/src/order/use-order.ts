/** Returns the current running order with its moments. */
import { useEffect, useState } from 'react';
import { NO_ORDER, type OrderSeen } from '@tawny-signal/core/live/messages';
import type { Moment } from '@tawny-signal/core/show/moment';
import { useLiveValue } from '../live/live';
import { useShow } from '../show/show';
import { serverNow } from '../live/server-clock';

export interface OrderNow extends OrderSeen {
  moments: Moment[];
  /** `unknown`: the state has not arrived yet. `old`: the last known state; the server or the engine is away. */
  known: 'now' | 'old' | 'unknown';
  /** Null if nothing stands by. */
  next: Moment | null;
}

/** The text while it is unknown what stands by. */
export const ORDER_WORDS = {
  unknown: 'Waiting for the engine to say what stands by.',
  old: 'The connection is lost: this is the last known state. Go works again when it is back.',
};

export function useOrder(): OrderNow {
  const { moments } = useShow();
  const order = useLiveValue('order', (store) => store.order());
  const connected = useLiveValue('connection', (store) => store.connected());
  const engine = useLiveValue('desk', (store) => store.desk()?.engine ?? false);
  const known = order === null ? 'unknown' : connected && engine ? 'now' : 'old';
  const { standingBy } = order ?? NO_ORDER;
  const next = moments.find(({ id }) => id === standingBy) ?? null;
  return { ...(order ?? NO_ORDER), moments, known, next };
}

const EVERY_MS = 100;

/** Returns the time in milliseconds since 1970, and updates ten times a second while `wanted` is true. */
export function useNow(wanted: boolean): number {
  const [now, setNow] = useState(() => serverNow());
  useEffect(() => {
    if (!wanted) return;
    const timer = setInterval(() => setNow(serverNow()), EVERY_MS);
    return () => clearInterval(timer);
  }, [wanted]);
  return now;
}

/** Returns the progress of a running moment, 0–1, and the seconds that are left; null if it only sounds until it is stopped. */
export function progressOf(
  { since, endsAt, soundsOn }: OrderSeen['running'][number],
  now: number,
): { part: number; left: number } | null {
  if (soundsOn && now >= endsAt) return null;
  const part = endsAt > since ? Math.min(1, Math.max(0, (now - since) / (endsAt - since))) : 1;
  return { part, left: Math.max(0, endsAt - now) / 1000 };
}
