/** The 512 slots of a DMX line as bars, as they were sent last and as they were heard, with the names of the groups; in words below, with who set them. */
import { useMemo } from 'react';
import { Link } from 'react-router';
import type { Group } from '@tawny-signal/core/show/look';
import type { Line } from '@tawny-signal/core/show/line';
import { gatherSetBy } from '@tawny-signal/core/live/set-by';
import { mappingName } from '@tawny-signal/core/mapping/words';
import type { Show } from '@tawny-signal/core/show';
import { momentName } from '@tawny-signal/core/show/moment-name';
import { levelsFrom, writeLevels, writeSlotList } from '@tawny-signal/core/typed/levels';
import { useLiveValue } from '../live/live';
import { useShow } from '../show/show';
import { lineName } from '../traffic/words';

const SLOTS = 512;
const ACROSS = 128;
const ROWS = SLOTS / ACROSS;
const ROW_HEIGHT = 44;
const BAR_HEIGHT = 30;
const EVERY_MS = 250;

/** @param sends false for a line that only hears */
export function UniverseLevels({ line, sends }: { line: Line; sends: boolean }) {
  const { groups } = useShow();
  const levels = useLiveValue('levels', (store) => store.levels(line.id), EVERY_MS);
  const known = useLiveValue('levels', (store) => store.slots(line.id), EVERY_MS);
  return (
    <>
      {sends && <Universe title="Levels sent" levels={levels} groups={groups} colour="var(--tawny)" />}
      {sends && known && <WhoSetThem setBy={known.setBy} />}
      {known?.heard && (
        <Universe title="Levels received" levels={known.heard} groups={[]} colour="var(--dusk)" />
      )}
    </>
  );
}

interface UniverseProps {
  title: string;
  levels: Uint8Array | null;
  groups: readonly Group[];
  colour: string;
}

function Universe({ title, levels, groups, colour }: UniverseProps) {
  const up = useMemo(() => (levels ? levelsFrom(levels) : []), [levels]);
  return (
    <section aria-label={title} className="pt-3">
      <h2 className="flex justify-between pb-1 text-sm text-ink-2">
        {title} <span className="font-mono text-xs">slots 1–512</span>
      </h2>
      <div aria-hidden className="space-y-1">
        {Array.from({ length: ROWS }, (_, row) => (
          <SlotRow key={row} first={row * ACROSS + 1} levels={levels} groups={groups} colour={colour} />
        ))}
      </div>
      <p className="max-h-20 overflow-y-auto pt-1 font-mono text-xs break-words text-ink-2" data-levels-up>
        {up.length === 0 ? 'Every slot is off.' : writeLevels(up)}
      </p>
    </section>
  );
}

/** Which mapping, route or moment set each slot last, and whether it is fading them. */
function WhoSetThem({ setBy }: { setBy: readonly (string | null)[] }) {
  const show = useShow();
  const running = useLiveValue('order', (store) => store.order()?.running ?? NONE);
  const all = useMemo(() => gatherSetBy(setBy), [setBy]);
  if (all.length === 0) return null;
  return (
    <section aria-label="Who set them" className="pt-2">
      <h3 className="pb-1 text-sm text-ink-2">Who set them last</h3>
      <ul className="text-sm">
        {all.map(({ senderId, slots }) => {
          const named = whoWords(show, senderId);
          return (
            named && (
              <li key={senderId} data-set-by={named.name} className="border-t border-rule py-1">
                <Link to={named.path} className="hover:underline">
                  <span className="text-xs text-ink-2">{named.called}</span> {named.name}
                </Link>
                {running.some(({ id }) => id === senderId) && (
                  <span className="pl-2 text-xs text-moss">running</span>
                )}
                <span className="block font-mono text-xs break-words text-ink-2">{writeSlotList(slots)}</span>
              </li>
            )
          );
        })}
      </ul>
    </section>
  );
}

const NONE: readonly { id: string }[] = [];

/** Names what sends; null if it is gone. */
function whoWords(show: Show, id: string): { called: string; name: string; path: string } | null {
  const mapping = show.mappings.find((row) => row.id === id);
  if (mapping) return { called: 'mapping', name: mappingName(mapping), path: `/mappings/${id}` };
  const moment = show.moments.find((row) => row.id === id);
  if (moment) return { called: 'moment', name: momentName(moment), path: `/order/${id}` };
  const route = show.routes.find((row) => row.id === id);
  if (!route) return null;
  const words = `${lineName(show, route.fromId ?? '')} to ${lineName(show, route.toId ?? '')}`;
  return { called: 'route', name: words, path: `/lines/routes/${id}` };
}

interface SlotRowProps {
  /** The first slot of the row. */
  first: number;
  levels: Uint8Array | null;
  groups: readonly Group[];
  colour: string;
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

function SlotRow({ first, levels, groups, colour }: SlotRowProps) {
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
        <path d={bars} stroke={colour} strokeWidth="0.8" />
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
