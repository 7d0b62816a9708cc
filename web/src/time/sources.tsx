/** What is heard: the sources of the position in the order of preference, and how well each is heard. */
import { Plus } from 'lucide-react';
import { useNavigate, useParams } from 'react-router';
import type { Show } from '@tawny-signal/core/show';
import type { TimeSource } from '@tawny-signal/core/show/time';
import { AUTO, OWN } from '@tawny-signal/core/time/position';
import { GAP_MS } from '@tawny-signal/core/time/sources';
import { RATES } from '@tawny-signal/core/timecode/frame-rate';
import { writeOffset } from '@tawny-signal/core/timecode/offset';
import { writePosition } from '@tawny-signal/core/timecode/timecode';
import { TIME_KINDS } from '@tawny-signal/core/timecode/words';
import { protocolOf } from '../lines/kinds';
import { useNow } from '../order/use-order';
import { useAddRow, usePosition } from '../show/show';
import { Button } from '../ui/button';
import { Jitter } from './jitter';
import { SourceFields } from './source-fields';
import { usePositionSeen } from './use-position';
import { rateTrouble, sourceName, spanWords, speedWords, stateWords } from './words';

export function Sources({ show }: { show: Show }) {
  const go = useNavigate();
  const add = useAddRow('timeSources');
  const { timeSources, lines } = show;
  const rows = timeSources.filter(({ kind }) => kind !== 'clock');
  const free = lines.find(
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
              { lineId: free!.id, kind: 'mtc' },
              { onSuccess: (made) => void go(`/time/${made.id}`) },
            )
          }
        >
          <Plus size={14} aria-hidden /> Add a source
        </Button>
      </header>
      <ol className="border-t border-rule">
        {rows.map((row, at) => (
          <SourceRow key={row.id} row={row} rows={rows} at={at} show={show} />
        ))}
        <OwnRow number={rows.length + 1} show={show} />
      </ol>
    </section>
  );
}

export const ROW =
  'grid w-full grid-cols-[1.75rem_minmax(0,1fr)_minmax(0,1.2fr)] items-center sm:grid-cols-[1.75rem_minmax(0,1fr)_minmax(0,1.2fr)_7rem] gap-x-2 py-1.5 text-left';

function SourceRow({
  row,
  rows,
  at,
  show,
}: {
  row: TimeSource;
  rows: readonly TimeSource[];
  at: number;
  show: Show;
}) {
  const act = usePosition();
  const { rowId } = useParams();
  const go = useNavigate();
  const position = usePositionSeen();
  const source = position?.sources[row.id] ?? null;
  const moving = source?.state === 'locked' || source?.state === 'gap';
  const now = useNow(moving || source?.state === 'silent');
  const counts = position?.counts === row.id && position.mode !== 'own';
  const open = rowId === row.id;
  const trouble = source && rateTrouble(source, row.frameRate ?? show.settings.timecode.frameRate);
  const quality = source?.quality;
  const longestGapMs = quality?.longestGapMs ?? 0;
  return (
    <li
      data-source={sourceName(show, row.id)}
      data-state={source?.state ?? 'unknown'}
      className={`border-b border-l-3 border-b-rule ${counts ? 'border-l-dusk' : 'border-l-transparent'} ${open ? 'bg-bark' : ''}`}
    >
      <button
        type="button"
        data-row
        aria-expanded={open}
        className={`${ROW} hover:bg-bark`}
        onClick={() => void go(open ? '/time' : `/time/${row.id}`)}
      >
        <span className="text-right font-mono text-sm text-ink-2">{at + 1}</span>
        <span className="min-w-0">
          <span className="block truncate font-semibold">{sourceName(show, row.id)}</span>
          <span className="block text-xs text-ink-2">
            {TIME_KINDS[row.kind]}
            {source?.rate && ` · ${RATES[source.rate].words}`}
            {row.offsetMs !== 0 && ` · ${writeOffset(row.offsetMs, show.settings.timecode.frameRate)}`}
          </span>
        </span>
        <span className="min-w-0 text-sm">
          <span
            className={`block ${source?.state === 'locked' ? 'text-moss' : source?.state === 'gap' ? 'text-straw' : 'text-ink-2'}`}
          >
            {source ? stateWords(source, row.kind, now) : 'the engine has not said'}
            {counts && <span className="sr-only">, this one counts</span>}
          </span>
          {quality && quality.lockedSince !== null && (
            <span className="block font-mono text-xs text-ink-2">
              {speedWords(quality.longSpeed ?? source.motion?.speed ?? 1)} · ±{quality.jitterMs.toFixed(1)} ms
              · {Math.round(quality.lost)} lost
            </span>
          )}
          {trouble && <span className="block text-xs text-straw">! {trouble}</span>}
        </span>
        <span className="max-sm:hidden">{moving && <Jitter id={row.id} />}</span>
      </button>
      {open && (
        <SourceFields
          row={row}
          rows={rows}
          show={show}
          path="/time"
          chosen={position?.chosen ?? AUTO}
          choose={(source) => act.mutate({ do: 'choose', source })}
        >
          {longestGapMs > GAP_MS && (
            <p className="py-1 pl-24 text-xs text-ink-2">
              Longest gap since it is locked: {spanWords(longestGapMs)}.
            </p>
          )}
        </SourceFields>
      )}
    </li>
  );
}

function OwnRow({ number, show }: { number: number; show: Show }) {
  const position = usePositionSeen();
  const own = position?.counts === OWN;
  const rate = show.settings.timecode.frameRate;
  const stands = position?.motion.speed === 0;
  return (
    <li className={`border-b border-l-3 border-b-rule ${own ? 'border-l-dusk' : 'border-l-transparent'}`}>
      <div className={ROW}>
        <span className="text-right font-mono text-sm text-ink-2">{number}</span>
        <span>
          <span className="block font-semibold">Our own</span>
          <span className="block text-xs text-ink-2">{RATES[rate].words}</span>
        </span>
        <span className="text-sm text-ink-2">
          {!own ? (
            'plays when you ask it to'
          ) : stands ? (
            `stopped at ${writePosition(position.motion.ms, rate)}`
          ) : (
            <span className="text-moss">playing at {Math.round(position.ownSpeed * 1000) / 10} %</span>
          )}
        </span>
        <span />
      </div>
    </li>
  );
}
