/** A small drawing of the last minute of a line: input upwards, output downwards, and a mark where the line was not open. */
import { useEffect, useState } from 'react';
import { useLive } from '../live/live';
import { TRACE_SECONDS, type Trace } from '../live/traces';

const HEIGHT = 28;
const MIDDLE = HEIGHT / 2;
const EVERY_MS = 1000;

/** Bars of a second each. A few messages are seen beside thousands, so their height is by the logarithm. */
function barsOf(counts: readonly number[], up: boolean): string {
  const most = Math.max(10, ...counts);
  return counts
    .map((count, at) => {
      if (count === 0) return '';
      const height = Math.max(1.5, (Math.log1p(count) / Math.log1p(most)) * (MIDDLE - 1));
      return `M${at + 0.5} ${MIDDLE}V${up ? MIDDLE - height : MIDDLE + height}`;
    })
    .join('');
}

const downOf = (down: Trace['down']): string =>
  down.map((is, at) => (is ? `M${at} ${MIDDLE}h1` : '')).join('');

function wordsOf({ in: heard, out: sent, down }: Trace): string {
  const sum = (list: readonly number[]): number => list.reduce((all, one) => all + one, 0);
  const away = down.filter(Boolean).length;
  return `Last minute: ${sum(heard)} in, ${sum(sent)} out${away > 0 ? `, not open in ${away} of 60 s` : ''}`;
}

export function LineTrace({ lineId }: { lineId: string }) {
  const { store } = useLive();
  const [trace, setTrace] = useState(() => store.trace(lineId));
  useEffect(() => {
    const timer = setInterval(() => setTrace(store.trace(lineId)), EVERY_MS);
    return () => clearInterval(timer);
  }, [store, lineId]);
  return (
    <svg
      role="img"
      aria-label={wordsOf(trace)}
      viewBox={`0 0 ${TRACE_SECONDS} ${HEIGHT}`}
      preserveAspectRatio="none"
      className="h-7 w-full max-w-45"
      data-trace
    >
      <title>{wordsOf(trace)}</title>
      <path d={`M0 ${MIDDLE}H${TRACE_SECONDS}`} stroke="var(--rule)" strokeWidth="0.6" />
      <path d={barsOf(trace.in, true)} stroke="var(--dusk)" strokeWidth="0.9" />
      <path d={barsOf(trace.out, false)} stroke="var(--tawny)" strokeWidth="0.9" />
      <path d={downOf(trace.down)} stroke="var(--brick)" strokeWidth="5" />
    </svg>
  );
}
