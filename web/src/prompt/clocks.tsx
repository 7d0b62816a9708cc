/** The clock, and the times that a stage manager needs. */
import { useTempo } from '../live/tempo';
import type { Performance } from '@tawny-signal/core/cues/log';

const two = (value: number): string => String(Math.floor(value)).padStart(2, '0');

/** `1:02:03`, or `02:03` below an hour. */
export function lengthWords(ms: number): string {
  const seconds = Math.max(0, ms) / 1000;
  const rest = `${two((seconds / 60) % 60)}:${two(seconds % 60)}`;
  return seconds >= 3600 ? `${Math.floor(seconds / 3600)}:${rest}` : rest;
}

/** `20:04:09`, of this browser's own time zone. */
export function clockTime(ms: number): string {
  const time = new Date(ms);
  return `${two(time.getHours())}:${two(time.getMinutes())}:${two(time.getSeconds())}`;
}

interface ClocksProps {
  /** Milliseconds since 1970, all of them. */
  now: number;
  since: number | null;
  performance: Performance | null;
}

export function Clocks({ now, since, performance }: ClocksProps) {
  const tempo = useTempo();
  return (
    <dl className="grid grid-cols-2 gap-x-4 gap-y-2">
      <Clock words="clock" value={clockTime(now)} />
      <Clock words="since the start" value={performance ? lengthWords(now - performance.begunAt) : '–'} />
      <Clock words="since the last call" value={since === null ? '–' : lengthWords(now - since)} />
      <Clock words="beats / min" value={tempo.toFixed(1)} />
    </dl>
  );
}

function Clock({ words, value }: { words: string; value: string }) {
  return (
    <div>
      <dt className="text-xs text-ink-3">{words}</dt>
      <dd className="font-mono text-2xl">{value}</dd>
    </div>
  );
}
