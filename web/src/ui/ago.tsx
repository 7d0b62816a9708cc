/** Shows how long ago something was, and keeps it up to date. */
import { useEffect, useState } from 'react';
import { serverNow } from '../live/server-clock';

/** @param ms age in milliseconds */
export function agoWords(ms: number): string {
  if (ms < 1000) return `${(Math.max(0, ms) / 1000).toFixed(1)} s`;
  if (ms < 60_000) return `${Math.floor(ms / 1000)} s`;
  if (ms < 3_600_000) return `${Math.floor(ms / 60_000)} min`;
  return `${Math.floor(ms / 3_600_000)} h`;
}

/** Returns the time of the server in milliseconds since 1970, and updates twice a second. */
export function useNow(everyMs = 500): number {
  const [now, setNow] = useState(() => serverNow());
  useEffect(() => {
    const timer = setInterval(() => setNow(serverNow()), everyMs);
    return () => clearInterval(timer);
  }, [everyMs]);
  return now;
}

export function Ago({ at }: { at: number }) {
  const now = useNow();
  return <>{agoWords(now - at)}</>;
}
