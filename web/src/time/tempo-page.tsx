/** The show's tempo: how fast it is, where it comes from and goes to. */
import { useRef } from 'react';
import type { Show } from '@tawny-signal/core/show';
import { TIME_WAYS, type TimeSource } from '@tawny-signal/core/time/ways';
import { AUTO, OWN } from '@tawny-signal/core/time/position';
import { MARKS } from '@tawny-signal/core/time/tempo-marks';
import type { TempoSourceState } from '@tawny-signal/core/time/tempo-sources';
import type { Transport } from '@tawny-signal/core/time/transport';
import { readNumber, readWhole } from '@tawny-signal/core/typed/range';
import { useLive, useLiveValue } from '../live/live';
import { serverNow } from '../live/server-clock';
import { useChangeSettings, useSetTempo, useShow, useTap, useTempoSource } from '../show/show';
import { Button } from '../ui/button';
import { orThrow } from '../ui/or-throw';
import { Page } from '../ui/page';
import { NotOfTheShow } from '../ui/read-only';
import { TypedField } from '../ui/typed-field';
import { Outputs } from './outputs';
import { SourceFields } from './source-fields';
import { OwnRow, SourceList, SourceRow } from './source-list';
import { TimeTabs } from './tabs';
import { TempoMarks } from './tempo-marks';
import { isKnown, useEachFrame } from './use-position';
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
        <TempoMarks show={show} transport={transport} />
        <HowItIsKept show={show} />
      </div>
    </Page>
  );
}

function Beat({ transport, show }: { transport: Transport | null; show: Show }) {
  const { store } = useLive();
  const beats = useRef<HTMLSpanElement>(null);
  useEachFrame(() => {
    const now = store.transport();
    if (!beats.current || !now) return;
    const beat = Math.floor(((serverNow() - now.beatAt) * now.bpm) / 60_000) - now.bar.at;
    const toBar = now.bar.beats;
    const lit = isKnown(store) ? ((beat % toBar) + toBar) % toBar : -1;
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
          {Array.from({ length: transport?.bar.beats ?? show.settings.beatsToBar }, (_, at) => (
            <span key={at} className={at === 0 ? 'size-4 rounded-sm' : 'size-4 rounded-full'} />
          ))}
        </span>
      </p>
      <p className="pt-2 text-sm text-ink-2">
        beats a minute, {counts === OWN ? 'our own' : `from ${sourceName(show, counts)}`}.
      </p>
    </div>
  );
}

function HowItIsKept({ show }: { show: Show }) {
  const { mutateAsync } = useChangeSettings();
  const { tempo, beatsToBar } = show.settings;
  return (
    <section aria-label="How the tempo is kept" className="pt-4">
      <h2 className="text-sm text-ink-2">How the tempo is kept</h2>
      <div className="grid gap-x-8 border-t border-rule pt-2 md:grid-cols-2 xl:grid-cols-3">
        <TypedField
          label="A bar has"
          value={`${beatsToBar} ${beatsToBar === 1 ? 'beat' : 'beats'}`}
          hint="It begins with the first tap, or with the start of a clock. Delays and calls can wait for it."
          commit={(text) =>
            mutateAsync({
              beatsToBar: orThrow(readWhole(text.replace(/\s*beats?$/, ''), 'The number of beats', 1, 32)),
            })
          }
        />
        <TypedField
          label="Opens at"
          value={tempo.toFixed(1)}
          hint="The tempo of the show when it is opened."
          commit={(text) => mutateAsync({ tempo: orThrow(readNumber(text, 'A tempo')) })}
        />
      </div>
    </section>
  );
}

function ByHand({ transport }: { transport: Transport | null }) {
  const set = useSetTempo();
  const tap = useTap();
  const follow = useTempoSource();
  const chosen = transport?.tempo.chosen ?? AUTO;
  return (
    <NotOfTheShow needs="operator">
      <div className="flex flex-wrap items-end gap-2">
        {chosen !== AUTO && (
          <Button needs="operator" onClick={() => follow.mutate(AUTO)}>
            Follow by itself again
          </Button>
        )}
        <div className="w-56">
          <TypedField
            label="Set it to"
            value=""
            placeholder="20 to 400"
            commit={(text) => set.mutateAsync(orThrow(readNumber(text, 'A tempo')))}
          />
        </div>
        <Button
          needs="operator"
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
  const hasMarks = show.tempoMarks.length > 0;
  return (
    <SourceList
      show={show}
      of="tempo"
      row={(row, number, rows) => (
        <ClockRow key={row.id} row={row} rows={rows} number={number} show={show} transport={transport} />
      )}
      own={(number) => (
        <>
          {hasMarks && (
            <OwnRow number={number} name="Marks" counts={transport?.tempo.counts === MARKS}>
              along the position, below
            </OwnRow>
          )}
          <OwnRow number={number + (hasMarks ? 1 : 0)} counts={transport?.tempo.counts === OWN}>
            typed, tapped, or set by a mapping or a moment
          </OwnRow>
        </>
      )}
    />
  );
}

interface ClockRowProps {
  row: TimeSource;
  rows: readonly TimeSource[];
  number: number;
  show: Show;
  transport: Transport | null;
}

function stateWords({ state, bpm, runs, lastAt }: TempoSourceState): string {
  if (state === 'locked') return `${bpm!.toFixed(2)}, ${runs ? 'running' : 'not started'}`;
  if (state === 'silent' || lastAt === null) return 'nothing heard yet';
  return serverNow() - lastAt > 2000 ? `silent for ${spanWords(serverNow() - lastAt)}` : 'locking';
}

function ClockRow({ row, rows, number, show, transport }: ClockRowProps) {
  const follow = useTempoSource();
  const source = transport?.tempo.sources[row.id] ?? null;
  const isLocked = source?.state === 'locked';
  return (
    <SourceRow
      row={row}
      number={number}
      show={show}
      of="tempo"
      counts={transport?.tempo.counts === row.id}
      state={source?.state ?? 'unknown'}
      detail={TIME_WAYS[row.kind].words}
      middle={
        <span className={isLocked ? 'text-moss' : 'text-ink-2'}>
          {source ? stateWords(source) : 'the engine has not said'}
        </span>
      }
      end={isLocked && `±${source.jitterMs.toFixed(1)} ms`}
    >
      <SourceFields
        row={row}
        rows={rows}
        show={show}
        of="tempo"
        chosen={transport?.tempo.chosen ?? AUTO}
        choose={(chosen) => follow.mutate(chosen)}
      />
    </SourceRow>
  );
}
