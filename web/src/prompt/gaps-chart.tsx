/** A chart of the gaps between moments, beside those of another performance. */
import { Bar, BarChart, CartesianGrid, Legend, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import type { ComparedGap } from '@tawny-signal/core/cues/log';

const INK = 'var(--ink-2)';
const NAMES = { now: 'this one', other: 'the other' } as const;

export function GapsChart({ gaps }: { gaps: ComparedGap[] }) {
  const rows = gaps.map(({ from, ms, otherMs }) => ({
    name: from,
    now: Number((ms / 1000).toFixed(1)),
    other: otherMs === null ? null : Number((otherMs / 1000).toFixed(1)),
  }));
  return (
    <div className="h-52">
      <ResponsiveContainer width="100%" height="100%">
        <BarChart data={rows} margin={{ top: 8, right: 8, bottom: 0, left: 0 }} barGap={1}>
          <CartesianGrid stroke="var(--rule)" vertical={false} />
          <XAxis dataKey="name" stroke={INK} tick={{ fill: INK, fontSize: 12 }} interval="preserveStartEnd" />
          <YAxis stroke={INK} tick={{ fill: INK, fontSize: 12 }} unit=" s" width={56} />
          <Tooltip
            cursor={{ fill: 'var(--bark-2)' }}
            contentStyle={{
              background: 'var(--raised)',
              border: '1px solid var(--rule)',
              color: 'var(--ink)',
            }}
            formatter={(value, key) => [`${String(value)} s`, NAMES[key as keyof typeof NAMES]]}
          />
          <Legend
            formatter={(key: string) => (
              <span className="text-ink-2">{NAMES[key as keyof typeof NAMES]}</span>
            )}
          />
          <Bar dataKey="now" fill="var(--tawny)" isAnimationActive={false} />
          <Bar dataKey="other" fill="var(--ink-3)" isAnimationActive={false} />
        </BarChart>
      </ResponsiveContainer>
    </div>
  );
}
