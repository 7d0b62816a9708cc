/** Preflight: the faults of the show, each with links to its rows. Updated whenever the show changes. */
import { useMemo, useState } from 'react';
import { Link } from 'react-router';
import type { Finding, Place, SeenLately } from '@tawny-signal/core/preflight/finding';
import { preflight } from '@tawny-signal/core/preflight/preflight';
import type { Show } from '@tawny-signal/core/show';
import { useLive } from '../live/live';
import type { LiveStore } from '../live/store';
import { Tabs } from '../mappings/tabs';
import { useShow } from '../show/show';
import { signalsIn } from '../traffic/words';
import { Button } from '../ui/button';
import { Empty, Page } from '../ui/page';

/** The number of recent messages that are searched for channels that are off by one. */
const LOOK_BACK = 5000;

function seenLately(store: LiveStore, show: Show): SeenLately {
  const view = store.traffic();
  const heard: { lineId: string; signal: SeenLately['heard'][number]['signal'] }[] = [];
  for (let n = Math.max(view.first, view.end - LOOK_BACK); n < view.end; n++) {
    const record = view.at(n);
    if (record.direction !== 'in') continue;
    for (const signal of signalsIn(record, show)) heard.push({ lineId: record.lineId, signal });
  }
  const outBytes = Object.fromEntries(show.lines.map(({ id }) => [id, store.rate(id).outBytes]));
  return { heard, outBytes };
}

export function PreflightPage() {
  const show = useShow();
  const { store } = useLive();
  const [times, again] = useState(0);
  const findings = useMemo(
    () => preflight(show, seenLately(store, show)),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- `times` has it read what passed anew
    [show, store, times],
  );
  const faults = findings.filter(({ weight }) => weight === 'fault').length;
  return (
    <Page
      title="Preflight"
      aside={
        <>
          <Tabs at="Preflight" />
          <p className="text-sm text-ink-2" role="status">
            {findings.length === 0
              ? 'No faults found.'
              : `${faults} ${faults === 1 ? 'fault' : 'faults'}, ${findings.length - faults} to look at`}
          </p>
        </>
      }
      actions={<Button onClick={() => again(times + 1)}>Check again</Button>}
    >
      {findings.length === 0 ? (
        <Empty words="The show was read for lines that are missing, presses without a release, exact forces, loops, and what gets in each other’s way. Play every control once and check again: then channels that are off by one are seen too." />
      ) : (
        <ol aria-label="Findings" className="min-h-0 flex-1 overflow-y-auto border-t border-rule pb-6">
          {findings.map((finding, at) => (
            <FindingRow key={`${finding.rule} ${finding.words}`} finding={finding} number={at + 1} />
          ))}
        </ol>
      )}
    </Page>
  );
}

function FindingRow({
  finding: { rule, weight, words, places },
  number,
}: {
  finding: Finding;
  number: number;
}) {
  const isFault = weight === 'fault';
  return (
    <li
      data-finding={weight}
      className={`grid min-h-12 grid-cols-[44px_90px_minmax(0,1fr)] items-start border-b border-l-3 border-rule py-2 text-sm ${isFault ? 'border-l-brick' : 'border-l-straw'}`}
    >
      <span className="pr-2.5 text-right font-mono text-ink-3">{number}</span>
      <span className={`font-semibold ${isFault ? 'text-brick' : 'text-straw'}`}>
        {isFault ? '! fault' : '? look'}
      </span>
      <div className="pr-3">
        <p>{words}</p>
        <p className="flex flex-wrap gap-x-3 pt-0.5 text-xs text-ink-2">
          {rule}
          {places.map((place) => (
            <Link
              key={`${place.table} ${place.id}`}
              to={addressOf(place)}
              className="text-tawny-2 underline underline-offset-2"
            >
              {place.name}
            </Link>
          ))}
        </p>
      </div>
    </li>
  );
}

const PLACES: Record<Place['table'], string> = {
  mappings: '/mappings',
  routes: '/lines/routes',
  lines: '/lines',
  moments: '/order',
  tempoMarks: '/time/tempo',
  motions: '/motion',
};

const addressOf = ({ table, id }: Place): string => `${PLACES[table]}/${id}`;
