/** The show's tempo: how fast it is, where it comes from and goes to. */
import { Plus } from 'lucide-react';
import { useRef } from 'react';
import { useNavigate, useParams } from 'react-router';
import type { Show } from '@tawny-signal/core/show';
import type { TimeSource } from '@tawny-signal/core/show/time';
import { AUTO, OWN } from '@tawny-signal/core/time/position';
import type { TempoSourceState } from '@tawny-signal/core/time/tempo-sources';
import type { Transport } from '@tawny-signal/core/time/transport';
import { readNumber } from '@tawny-signal/core/typed/range';
import { protocolOf } from '../lines/kinds';
import { useLive, useLiveValue } from '../live/live';
import { useAddRow, useSetTempo, useShow, useTap, useTempoSource } from '../show/show';
import { Button } from '../ui/button';
import { orThrow } from '../ui/or-throw';
import { Page } from '../ui/page';
import { NotOfTheShow } from '../ui/read-only';
import { TypedField } from '../ui/typed-field';
import { Outputs } from './outputs';
import { SourceFields } from './source-fields';
import { ROW } from './sources';
import { TimeTabs } from './tabs';
import { clockNow, isKnown, useEachFrame } from './use-position';
import { sourceName, spanWords } from './words';

export function TempoPage() {
  const show = useShow();
  const transport = useLiveValue('transport', (store) => store.transport());
  return (
    <Page title="Time" aside={<TimeTabs at="Tempo" />}>
      <div className="min-h-0 flex-1 overflow-y-auto pb-6">
        <div className="flex flex-wrap items-end justify-between gap-x-6 gap-y-2 border-t border-rule pt-2 pb-3">
          <Beat transport={transport} show={show} />
          <ByHand transport={transport} />
        </div>
        <div className="grid gap-x-8 gap-y-3 lg:grid-cols-[minmax(0,1.35fr)_minmax(0,1fr)]">
          <Clocks show={show} transport={transport} />
          <Outputs show={show} of="tempo" />
        </div>
      </div>
    </Page>
  );
}

/** The number of beats that are drawn. */
const BEATS = 4;

function Beat({ transport, show }: { transport: Transport | null; show: Show }) {
  const { store } = useLive();
  const beats = useRef<HTMLSpanElement>(null);
  useEachFrame(() => {
    const now = store.transport();
    if (!beats.current || !now) return;
    const beat = Math.floor(((clockNow() - now.beatAt) * now.bpm) / 60_000);
    const lit = isKnown(store) ? ((beat % BEATS) + BEATS) % BEATS : -1;
    for (const [at, dot] of [...beats.current.children].entries())
      (dot as HTMLElement).style.background = at === lit ? 'var(--tawny)' : 'var(--bark-2)';
  });
  const counts = transport?.tempo.counts ?? OWN;
  return (
    <div>
      <p className="flex items-end gap-5 leading-none">
        <span className="font-mono text-4xl tabular-nums sm:text-6xl" data-tempo>
          {(transport?.bpm ?? show.settings.tempo).toFixed(1)}
        </span>
        <span ref={beats} aria-hidden className="flex gap-1.5 pb-2">
          {Array.from({ length: BEATS }, (_, at) => (
            <span key={at} className="size-4 rounded-full" />
          ))}
        </span>
      </p>
      <p className="pt-2 text-sm text-ink-2">
        beats a minute, {counts === OWN ? 'our own' : `from ${sourceName(show, counts)}`}.
      </p>
    </div>
  );
}

function ByHand({ transport }: { transport: Transport | null }) {
  const set = useSetTempo();
  const tap = useTap();
  const follow = useTempoSource();
  const chosen = transport?.tempo.chosen ?? AUTO;
  return (
    <NotOfTheShow>
      <div className="flex flex-wrap items-end gap-2">
        {chosen !== AUTO && <Button onClick={() => follow.mutate(AUTO)}>Follow by itself again</Button>}
        <div className="w-56">
          <TypedField
            label="Set it to"
            value=""
            placeholder="20 to 400"
            commit={(text) => set.mutateAsync(orThrow(readNumber(text, 'A tempo')))}
          />
        </div>
        <Button
          onPointerDown={() => tap.mutate(undefined)}
          onKeyDown={(event) =>
            (event.key === ' ' || event.key === 'Enter') && !event.repeat && tap.mutate(undefined)
          }
        >
          Tap the beat
        </Button>
      </div>
    </NotOfTheShow>
  );
}

function Clocks({ show, transport }: { show: Show; transport: Transport | null }) {
  const go = useNavigate();
  const add = useAddRow('timeSources');
  const rows = show.timeSources.filter(({ kind }) => kind === 'clock');
  const free = show.lines.find(
    (line) => protocolOf(line) === 'midi' && !rows.some(({ lineId }) => lineId === line.id),
  );
  return (
    <section aria-label="Heard, in order of preference">
      <header className="flex min-h-8 items-center justify-between text-sm text-ink-2">
        <h2>Heard, in order of preference</h2>
        <Button
          look="bare"
          disabled={!free}
          title={free ? undefined : 'Every MIDI line is in the list already.'}
          onClick={() =>
            add.mutate(
              { lineId: free!.id, kind: 'clock' },
              { onSuccess: (made) => void go(`/time/tempo/${made.id}`) },
            )
          }
        >
          <Plus size={14} aria-hidden /> Add a source
        </Button>
      </header>
      <ol className="border-t border-rule">
        {rows.map((row) => (
          <ClockRow key={row.id} row={row} rows={rows} show={show} transport={transport} />
        ))}
        <li
          className={`border-b border-l-3 border-b-rule ${transport?.tempo.counts === OWN ? 'border-l-dusk' : 'border-l-transparent'}`}
        >
          <div className={ROW}>
            <span className="text-right font-mono text-sm text-ink-2">{rows.length + 1}</span>
            <span className="font-semibold">Our own</span>
            <span className="text-sm text-ink-2">typed, tapped, or set by a mapping or a moment</span>
            <span />
          </div>
        </li>
      </ol>
    </section>
  );
}

interface ClockRowProps {
  row: TimeSource;
  rows: readonly TimeSource[];
  show: Show;
  transport: Transport | null;
}

function stateWords({ state, bpm, runs, lastAt }: TempoSourceState): string {
  if (state === 'locked') return `${bpm!.toFixed(2)}, ${runs ? 'running' : 'not started'}`;
  if (state === 'silent' || lastAt === null) return 'nothing heard yet';
  return clockNow() - lastAt > 2000 ? `silent for ${spanWords(clockNow() - lastAt)}` : 'locking';
}

function ClockRow({ row, rows, show, transport }: ClockRowProps) {
  const { rowId } = useParams();
  const go = useNavigate();
  const follow = useTempoSource();
  const source = transport?.tempo.sources[row.id] ?? null;
  const counts = transport?.tempo.counts === row.id;
  const open = rowId === row.id;
  return (
    <li
      data-clock={sourceName(show, row.id)}
      className={`border-b border-l-3 border-b-rule ${counts ? 'border-l-dusk' : 'border-l-transparent'} ${open ? 'bg-bark' : ''}`}
    >
      <button
        type="button"
        data-row
        aria-expanded={open}
        className={`${ROW} hover:bg-bark`}
        onClick={() => void go(open ? '/time/tempo' : `/time/tempo/${row.id}`)}
      >
        <span className="text-right font-mono text-sm text-ink-2">{rows.indexOf(row) + 1}</span>
        <span className="min-w-0">
          <span className="block truncate font-semibold">{sourceName(show, row.id)}</span>
          <span className="block text-xs text-ink-2">MIDI clock</span>
        </span>
        <span className={`text-sm ${source?.state === 'locked' ? 'text-moss' : 'text-ink-2'}`}>
          {source ? stateWords(source) : 'the engine has not said'}
          {counts && <span className="sr-only">, this one counts</span>}
        </span>
        <span className="font-mono text-xs text-ink-2 max-sm:hidden">
          {source?.state === 'locked' && `±${source.jitterMs.toFixed(1)} ms`}
        </span>
      </button>
      {open && (
        <SourceFields
          row={row}
          rows={rows}
          show={show}
          path="/time/tempo"
          chosen={transport?.tempo.chosen ?? AUTO}
          choose={(source_) => follow.mutate(source_)}
        />
      )}
    </li>
  );
}
