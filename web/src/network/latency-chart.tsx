/** A small chart of how late a machine was in the last minutes. */
import { Area, AreaChart, ResponsiveContainer, YAxis } from 'recharts';

export function LatencyChart({ latencies }: { latencies: readonly { at: number; ms: number }[] }) {
  if (latencies.length < 2) return null;
  const highest = Math.max(...latencies.map(({ ms }) => ms));
  const minutes = Math.max(1, Math.round((latencies.at(-1)!.at - latencies[0]!.at) / 60_000));
  return (
    <figure
      role="img"
      aria-label={`Latency of the last ${minutes} min, up to ${highest.toFixed(1)} ms`}
      className="flex h-9 items-stretch gap-1"
    >
      <ResponsiveContainer width="100%" height="100%">
        <AreaChart data={[...latencies]} margin={{ top: 2, right: 0, bottom: 0, left: 0 }}>
          <YAxis hide domain={[0, highest || 1]} />
          <Area
            dataKey="ms"
            type="step"
            stroke="var(--dusk)"
            fill="var(--dusk)"
            fillOpacity={0.15}
            isAnimationActive={false}
          />
        </AreaChart>
      </ResponsiveContainer>
      <figcaption className="shrink-0 font-mono text-xs text-ink-2">{highest.toFixed(1)} ms</figcaption>
    </figure>
  );
}
