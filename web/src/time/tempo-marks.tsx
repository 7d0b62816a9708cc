/** The tempo along the position: at each mark it is so fast, and a bar begins. */
import { Plus } from 'lucide-react';
import type { Show } from '@tawny-signal/core/show';
import type { TempoMark } from '@tawny-signal/core/show/tempo-mark';
import { MARKS, markAt, placeMarks } from '@tawny-signal/core/time/tempo-marks';
import { seenPositionAt, type Transport } from '@tawny-signal/core/time/transport';
import { frameAt, readTimecode, writeTimecode } from '@tawny-signal/core/timecode/timecode';
import { readNumber } from '@tawny-signal/core/typed/range';
import { useLive } from '../live/live';
import { serverNow } from '../live/server-clock';
import { RemoveButton } from '../show/removing';
import { useAddRow, useChangeRow } from '../show/show';
import { Button } from '../ui/button';
import { orThrow } from '../ui/or-throw';
import { TypedField } from '../ui/typed-field';
import { positionNow } from './use-position';

interface MarksProps {
  show: Show;
  transport: Transport | null;
}

export const marksOf = ({ tempoMarks, settings }: Show) =>
  placeMarks(tempoMarks, settings.timecode.frameRate, settings.beatsToBar);

export function TempoMarks({ show, transport }: MarksProps) {
  const { store } = useLive();
  const add = useAddRow('tempoMarks');
  const rate = show.settings.timecode.frameRate;
  const marks = marksOf(show);
  const order = new Map(marks.map(({ id }, at) => [id, at]));
  const rows = show.tempoMarks.toSorted((a, b) => (order.get(a.id) ?? -1) - (order.get(b.id) ?? -1));
  const counting = countingMark(transport);
  function countingMark(now: Transport | null): string | null {
    if (now?.tempo.counts !== MARKS) return null;
    return marks[markAt(marks, seenPositionAt(now.position, serverNow()))]?.id ?? null;
  }
  const addHere = (): void =>
    add.mutate({
      name: '',
      timecode: writeTimecode(frameAt(positionNow(store, serverNow()), rate), rate),
      bpm: Math.round((transport?.bpm ?? show.settings.tempo) * 10) / 10,
    });
  return (
    <section aria-label="The tempo along the position" className="pt-4">
      <header className="flex min-h-8 flex-wrap items-center justify-between gap-x-3 text-sm text-ink-2">
        <h2>The tempo along the position</h2>
        <Button needs="edit" look="bare" className="text-sm" onClick={addHere}>
          <Plus size={14} aria-hidden /> Mark the tempo here
        </Button>
      </header>
      {rows.length === 0 ? (
        <p className="border-y border-rule py-4 text-sm text-ink-2">
          A mark says how fast it is from a timecode on, and that a bar begins there: then beats, bars and
          MIDI clock follow the position. Go to the place, and mark it.
        </p>
      ) : (
        <ol className="border-t border-rule">
          {rows.map((row, at) => (
            <MarkRow key={row.id} row={row} number={at + 1} counts={row.id === counting} show={show} />
          ))}
        </ol>
      )}
    </section>
  );
}

interface RowProps {
  row: TempoMark;
  number: number;
  counts: boolean;
  show: Show;
}

function MarkRow({ row, number, counts, show }: RowProps) {
  const { mutateAsync } = useChangeRow('tempoMarks');
  const rate = show.settings.timecode.frameRate;
  const save = (change: Partial<TempoMark>): Promise<unknown> => mutateAsync({ id: row.id, change });
  const read = readTimecode(row.timecode, rate);
  return (
    <li
      data-tempo-mark={row.timecode}
      data-counts={counts}
      className={`border-b border-l-3 border-b-rule py-1 pl-2 ${counts ? 'border-l-dusk bg-bark' : 'border-l-transparent'}`}
    >
      <div className="grid grid-cols-[1.75rem_minmax(0,1fr)_auto] items-start gap-x-3 sm:grid-cols-[1.75rem_repeat(3,minmax(0,1fr))_auto]">
        <span className="pt-3 font-mono text-sm text-ink-3">{number}</span>
        <div className="contents max-sm:block max-sm:min-w-0">
          <TypedField
            label="At"
            value={row.timecode}
            commit={(text) => save({ timecode: writeTimecode(orThrow(readTimecode(text, rate)), rate) })}
          />
          <TypedField
            label="Tempo"
            value={row.bpm.toFixed(1)}
            unit="beats / min"
            commit={(text) => save({ bpm: orThrow(readNumber(text, 'A tempo')) })}
          />
          <TypedField label="Name" value={row.name} placeholder="Chorus" commit={(name) => save({ name })} />
        </div>
        <span className="pt-1.5">
          <RemoveButton table="tempoMarks" row={{ id: row.id, name: row.name || row.timecode }} />
        </span>
      </div>
      {!read.ok && <p className="pl-10 text-sm text-brick">{read.reason}</p>}
    </li>
  );
}
