/** What is heard of the position: its sources, and how well each is heard. */
import type { Show } from '@tawny-signal/core/show';
import type { TimeSource } from '@tawny-signal/core/time/ways';
import { AUTO, OWN } from '@tawny-signal/core/time/position';
import { GAP_MS } from '@tawny-signal/core/time/sources';
import { TIME_WAYS } from '@tawny-signal/core/time/ways';
import { RATES } from '@tawny-signal/core/timecode/frame-rate';
import { writeOffset } from '@tawny-signal/core/timecode/offset';
import { writePosition } from '@tawny-signal/core/timecode/timecode';
import { useNow } from '../order/use-order';
import { usePosition } from '../show/show';
import { Jitter } from './jitter';
import { SourceFields } from './source-fields';
import { OwnRow, SourceList, SourceRow } from './source-list';
import { usePositionSeen } from './use-position';
import { rateTrouble, spanWords, speedWords, stateWords } from './words';

export function Sources({ show }: { show: Show }) {
  return (
    <SourceList
      show={show}
      of="position"
      row={(row, number, rows) => <Source key={row.id} row={row} rows={rows} number={number} show={show} />}
      own={(number) => <Own number={number} show={show} />}
    />
  );
}

interface SourceProps {
  row: TimeSource;
  rows: readonly TimeSource[];
  number: number;
  show: Show;
}

function Source({ row, rows, number, show }: SourceProps) {
  const act = usePosition();
  const position = usePositionSeen();
  const source = position?.sources[row.id] ?? null;
  const moving = source?.state === 'locked' || source?.state === 'gap';
  const now = useNow(moving || source?.state === 'silent');
  const { frameRate } = show.settings.timecode;
  const trouble = source && rateTrouble(source, row.frameRate ?? frameRate);
  const quality = source?.quality;
  const longestGapMs = quality?.longestGapMs ?? 0;
  return (
    <SourceRow
      row={row}
      number={number}
      show={show}
      of="position"
      counts={position?.counts === row.id && position.mode !== 'own'}
      state={source?.state ?? 'unknown'}
      detail={
        <>
          {TIME_WAYS[row.kind].words}
          {source?.rate && ` · ${RATES[source.rate].words}`}
          {row.offsetMs !== 0 && ` · ${writeOffset(row.offsetMs, frameRate)}`}
        </>
      }
      middle={
        <>
          <span
            className={`block ${source?.state === 'locked' ? 'text-moss' : source?.state === 'gap' ? 'text-straw' : 'text-ink-2'}`}
          >
            {source ? stateWords(source, row.kind, now) : 'the engine has not said'}
          </span>
          {quality && quality.lockedSince !== null && (
            <span className="block font-mono text-xs text-ink-2">
              {speedWords(quality.longSpeed ?? source.motion?.speed ?? 1)} · ±{quality.jitterMs.toFixed(1)} ms
              · {Math.round(quality.lost)} lost
            </span>
          )}
          {trouble && <span className="block text-xs text-straw">! {trouble}</span>}
        </>
      }
      end={moving && <Jitter id={row.id} />}
    >
      <SourceFields
        row={row}
        rows={rows}
        show={show}
        of="position"
        chosen={position?.chosen ?? AUTO}
        choose={(chosen) => act.mutate({ do: 'choose', source: chosen })}
      >
        {longestGapMs > GAP_MS && (
          <p className="py-1 pl-24 text-xs text-ink-2">
            Longest gap since it is locked: {spanWords(longestGapMs)}.
          </p>
        )}
      </SourceFields>
    </SourceRow>
  );
}

function Own({ number, show }: { number: number; show: Show }) {
  const position = usePositionSeen();
  const own = position?.counts === OWN;
  const rate = show.settings.timecode.frameRate;
  const stands = position?.motion.speed === 0;
  return (
    <OwnRow number={number} counts={own} detail={RATES[rate].words}>
      {!own ? (
        'plays when you ask it to'
      ) : stands ? (
        `stopped at ${writePosition(position.motion.ms, rate)}`
      ) : (
        <span className="text-moss">playing at {Math.round(position.ownSpeed * 1000) / 10} %</span>
      )}
    </OwnRow>
  );
}
