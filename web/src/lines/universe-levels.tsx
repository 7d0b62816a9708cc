/** The 512 slots of a DMX line as bars, as they were sent last, with the names of the groups; in words below. */
import { useMemo } from 'react';
import type { Group } from '@tawny-signal/core/show/look';
import type { Line } from '@tawny-signal/core/show/line';
import { levelsFrom, writeLevels } from '@tawny-signal/core/typed/levels';
import { useLiveValue } from '../live/live';
import { useShow } from '../show/show';

const SLOTS = 512;
const ACROSS = 128;
const ROWS = SLOTS / ACROSS;
const ROW_HEIGHT = 44;
const BAR_HEIGHT = 30;
const EVERY_MS = 250;

export function UniverseLevels({ line }: { line: Line }) {
  const { groups } = useShow();
  const levels = useLiveValue('levels', (store) => store.levels(line.id), EVERY_MS);
  const up = useMemo(() => (levels ? levelsFrom(levels) : []), [levels]);
  return (
    <section aria-label="Levels" className="pt-3">
      <h2 className="flex justify-between pb-1 text-sm text-ink-2">
        Levels sent <span className="font-mono text-xs">slots 1–512</span>
      </h2>
      <div aria-hidden className="space-y-1">
        {Array.from({ length: ROWS }, (_, row) => (
          <SlotRow key={row} first={row * ACROSS + 1} levels={levels} groups={groups} />
        ))}
      </div>
      <p className="max-h-20 overflow-y-auto pt-1 font-mono text-xs break-words text-ink-2" data-levels-up>
        {up.length === 0 ? 'Every slot is off.' : writeLevels(up)}
      </p>
    </section>
  );
}

interface SlotRowProps {
  /** The first slot of the row. */
  first: number;
  levels: Uint8Array | null;
  groups: readonly Group[];
}

/** The parts of groups that are in a row, as places from 0 to `ACROSS`. */
function marksOf(groups: readonly Group[], first: number): { name: string; from: number; to: number }[] {
  return groups.flatMap(({ name, slots }) =>
    slots.flatMap(([from, to]) => {
      const [low, high] = [Math.max(from, first), Math.min(to, first + ACROSS - 1)];
      return low <= high ? [{ name, from: low - first, to: high - first + 1 }] : [];
    }),
  );
}

function SlotRow({ first, levels, groups }: SlotRowProps) {
  const bars = Array.from({ length: ACROSS }, (_, at) => {
    const level = levels?.[first - 1 + at] ?? 0;
    return level === 0 ? '' : `M${at + 0.5} ${BAR_HEIGHT}V${BAR_HEIGHT - (level / 255) * BAR_HEIGHT}`;
  }).join('');
  return (
    <div className="relative bg-paper" style={{ height: ROW_HEIGHT }}>
      <svg
        viewBox={`0 0 ${ACROSS} ${BAR_HEIGHT}`}
        preserveAspectRatio="none"
        className="absolute inset-x-0 top-0 w-full"
        style={{ height: BAR_HEIGHT }}
      >
        <path d={bars} stroke="var(--tawny)" strokeWidth="0.8" />
        <path d={`M0 ${BAR_HEIGHT}H${ACROSS}`} stroke="var(--rule)" strokeWidth="0.5" />
      </svg>
      <span className="absolute top-0 right-1 font-mono text-xs text-ink-2">
        {first}–{first + ACROSS - 1}
      </span>
      {marksOf(groups, first).map(({ name, from, to }) => (
        <span
          key={`${name} ${from}`}
          className="absolute bottom-0 overflow-visible border-t-2 border-tawny-2 text-xs leading-3 whitespace-nowrap text-ink-2"
          style={{ left: `${(from / ACROSS) * 100}%`, width: `${((to - from) / ACROSS) * 100}%` }}
        >
          {name}
        </span>
      ))}
    </div>
  );
}
