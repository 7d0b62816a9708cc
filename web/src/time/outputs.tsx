/** What the position is sent to. */
import { Plus } from 'lucide-react';
import { useNavigate, useParams } from 'react-router';
import type { Show } from '@tawny-signal/core/show';
import { RATES, type FrameRate } from '@tawny-signal/core/timecode/frame-rate';
import { readOffset, writeOffset } from '@tawny-signal/core/timecode/offset';
import { TIME_WAYS, waysOn, type TimeOf, type TimeOutput } from '@tawny-signal/core/time/ways';
import { RemoveButton } from '../show/removing';
import { useAddRow, useChangeRow } from '../show/show';
import { Choice } from '../ui/choice';
import { orThrow } from '../ui/or-throw';
import { Select } from '../ui/select';
import { Switch } from '../ui/switch';
import { TypedField } from '../ui/typed-field';
import { AS_IT_IS, RATE_OPTIONS, readMs } from './source-fields';
import { LineChoice } from './line-choice';
import { linesFor } from './source-list';
import { usePositionSeen } from './use-position';
import { OUTPUT_FIELDS } from './way-fields';
import { PATH } from './words';

const NOWHERE = {
  position: 'The position is sent nowhere yet. Choose a line above.',
  tempo: 'The tempo is sent nowhere yet. Choose a line above.',
};
export function Outputs({ show, of }: { show: Show; of: TimeOf }) {
  const go = useNavigate();
  const add = useAddRow('timeOutputs');
  const lines = linesFor(show, of);
  const rows = show.timeOutputs.filter(({ kind }) => TIME_WAYS[kind].of === of);
  return (
    <section aria-label="Sent">
      <header className="flex min-h-8 items-center justify-between gap-3 text-sm text-ink-2">
        <h2>Sent</h2>
        <span className="flex items-center gap-1.5">
          <Plus size={14} aria-hidden />
          <span className="w-44">
            <Select
              label={`Send the ${of} on`}
              calm
              value={null}
              placeholder="Send it on a line"
              options={lines.map(({ id, name }) => ({ value: id, words: name }))}
              choose={(lineId) => {
                const { kind } = lines.find(({ id }) => id === lineId)!;
                add.mutate({ lineId, kind }, { onSuccess: (made) => void go(`${PATH[of]}/${made.id}`) });
              }}
            />
          </span>
        </span>
      </header>
      <ul className="border-t border-rule">
        {rows.map((row) => (
          <OutputRow key={row.id} row={row} show={show} of={of} />
        ))}
        {rows.length === 0 && (
          <li className="border-b border-rule py-2.5 text-sm text-ink-2">{NOWHERE[of]}</li>
        )}
      </ul>
    </section>
  );
}

const nameOf = (show: Show, row: TimeOutput): string =>
  show.lines.find(({ id }) => id === row.lineId)?.name ?? 'No line';

const whatOf = (row: TimeOutput, rate: FrameRate): string =>
  TIME_WAYS[row.kind].sends!(row, RATES[row.frameRate ?? rate].words);

function OutputRow({ row, show, of }: { row: TimeOutput; show: Show; of: TimeOf }) {
  const { rowId } = useParams();
  const go = useNavigate();
  const position = usePositionSeen();
  const open = rowId === row.id;
  const rate = show.settings.timecode.frameRate;
  const sends = row.on && (position?.motion.speed ?? 0) !== 0;
  return (
    <li data-output={nameOf(show, row)} className={`border-b border-rule ${open ? 'bg-bark' : ''}`}>
      <button
        type="button"
        data-row
        aria-expanded={open}
        className="grid w-full grid-cols-[minmax(0,1fr)_minmax(0,1.1fr)_auto_1rem] items-center gap-x-3 py-2.5 text-left hover:bg-bark"
        onClick={() => void go(open ? PATH[of] : `${PATH[of]}/${row.id}`)}
      >
        <span className="truncate font-semibold">{nameOf(show, row)}</span>
        <span className="truncate text-sm text-ink-2">
          {TIME_WAYS[row.kind].words} · {whatOf(row, rate)}
        </span>
        <span className="font-mono text-sm text-ink-2">
          {row.on ? row.offsetMs !== 0 && offsetWords(row, rate) : 'off'}
        </span>
        <svg
          width="10"
          height="10"
          viewBox="0 0 10 10"
          role="img"
          aria-label={sends ? 'being sent' : 'not being sent'}
        >
          <circle
            cx="5"
            cy="5"
            r="4"
            fill={sends ? 'var(--tawny)' : 'none'}
            stroke={sends ? 'var(--tawny)' : 'var(--ink-3)'}
          />
        </svg>
      </button>
      {open && <OutputFields row={row} show={show} of={of} />}
    </li>
  );
}

const offsetWords = (row: TimeOutput, rate: FrameRate): string =>
  TIME_WAYS[row.kind].of === 'tempo' ? `${row.offsetMs} ms` : writeOffset(row.offsetMs, rate);

function OutputFields({ row, show, of }: { row: TimeOutput; show: Show; of: TimeOf }) {
  const { mutateAsync } = useChangeRow('timeOutputs');
  const save = (change: Partial<TimeOutput>): Promise<unknown> => mutateAsync({ id: row.id, change });
  const go = useNavigate();
  const rate = show.settings.timecode.frameRate;
  const ways = waysOn(show.lines.find(({ id }) => id === row.lineId)?.kind ?? null, of);
  const Own = OUTPUT_FIELDS[row.kind];
  return (
    <div className="px-3 pb-3">
      <LineChoice show={show} of={of} row={row} save={save} />
      {ways.length > 1 && (
        <Choice
          label="As"
          value={row.kind}
          options={ways.map((kind) => ({ value: kind, words: TIME_WAYS[kind].words }))}
          choose={(kind) => save({ kind })}
        />
      )}
      {of === 'tempo' ? (
        <TypedField
          label="Offset"
          value={offsetWords(row, rate)}
          hint="How much later each clock is sent; negative for earlier."
          commit={(text) => save({ offsetMs: readMs(text) })}
        />
      ) : (
        <>
          <Choice<FrameRate | typeof AS_IT_IS>
            label="Frame rate"
            value={row.frameRate ?? AS_IT_IS}
            options={[{ value: AS_IT_IS, words: `As the show: ${RATES[rate].words}` }, ...RATE_OPTIONS]}
            choose={(next) => save({ frameRate: next === AS_IT_IS ? null : next })}
          />
          <TypedField
            label="Offset"
            value={writeOffset(row.offsetMs, rate)}
            hint="Added to what is sent. A bare number is in frames."
            commit={(text) => save({ offsetMs: orThrow(readOffset(text, rate)) })}
          />
        </>
      )}
      {Own && <Own row={row} save={save} />}
      <div className="flex flex-wrap items-center gap-3 sm:pl-24">
        <Switch label="Sent" on={row.on} change={(on) => void save({ on }).catch(() => undefined)} />
        <RemoveButton
          table="timeOutputs"
          row={{ id: row.id, name: nameOf(show, row) }}
          after={() => go(PATH[of])}
        >
          Remove
        </RemoveButton>
      </div>
    </div>
  );
}
