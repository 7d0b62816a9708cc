/** What the position is sent to. */
import { Plus } from 'lucide-react';
import { useNavigate, useParams } from 'react-router';
import type { Show } from '@tawny-signal/core/show';
import type { TimeOutput } from '@tawny-signal/core/show/time';
import { RATES, type FrameRate } from '@tawny-signal/core/timecode/frame-rate';
import { readOffset, writeOffset } from '@tawny-signal/core/timecode/offset';
import { TIME_KINDS } from '@tawny-signal/core/timecode/words';
import { readWhole } from '@tawny-signal/core/typed/range';
import { protocolOf } from '../lines/kinds';
import { RemoveButton } from '../show/removing';
import { useAddRow, useChangeRow } from '../show/show';
import { Choice } from '../ui/choice';
import { orThrow } from '../ui/or-throw';
import { Select } from '../ui/select';
import { Switch } from '../ui/switch';
import { TypedField } from '../ui/typed-field';
import { AS_IT_IS, RATE_OPTIONS, readMs } from './source-fields';
import { usePositionSeen } from './use-position';

type Kind = TimeOutput['kind'];
/** What is sent on a line of each protocol, by what is given. */
const KIND_OF: Record<'position' | 'tempo', Partial<Record<string, [Kind, ...Kind[]]>>> = {
  position: { midi: ['mtc', 'mmc'], osc: ['osc'] },
  tempo: { midi: ['clock'] },
};
const NOWHERE = {
  position: 'The position is sent nowhere yet. Choose a line above.',
  tempo: 'The tempo is sent nowhere yet. Choose a line above.',
};
const PATH = { position: '/time', tempo: '/time/tempo' };
type Given = keyof typeof PATH;

export function Outputs({ show, of }: { show: Show; of: Given }) {
  const go = useNavigate();
  const add = useAddRow('timeOutputs');
  const kinds = KIND_OF[of];
  const lines = show.lines.filter((line) => kinds[protocolOf(line) ?? ''] !== undefined);
  const rows = show.timeOutputs.filter(({ kind }) => Object.values(kinds).flat().includes(kind));
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
                const line = lines.find(({ id }) => id === lineId)!;
                add.mutate(
                  { lineId, kind: kinds[protocolOf(line)!]![0] },
                  { onSuccess: (made) => void go(`${PATH[of]}/${made.id}`) },
                );
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

function whatOf(row: TimeOutput, rate: FrameRate): string {
  switch (row.kind) {
    case 'mtc':
      return RATES[row.frameRate ?? rate].words;
    case 'mmc':
      return 'play, stop, go to';
    case 'osc':
      return `${row.address}, ${row.perSecond} a second`;
    case 'clock':
      return row.startStop ? 'start, stop, song position' : 'clocks only';
  }
}

function OutputRow({ row, show, of }: { row: TimeOutput; show: Show; of: Given }) {
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
          {TIME_KINDS[row.kind]} · {whatOf(row, rate)}
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
  row.kind === 'clock' ? `${row.offsetMs} ms` : writeOffset(row.offsetMs, rate);

function OutputFields({ row, show, of }: { row: TimeOutput; show: Show; of: Given }) {
  const { mutateAsync } = useChangeRow('timeOutputs');
  const save = (change: Partial<TimeOutput>): Promise<unknown> => mutateAsync({ id: row.id, change });
  const go = useNavigate();
  const rate = show.settings.timecode.frameRate;
  return (
    <div className="px-3 pb-3">
      <Choice
        label="Line"
        value={row.lineId}
        options={show.lines
          .filter((line) => KIND_OF[of][protocolOf(line) ?? '']?.includes(row.kind))
          .map(({ id, name }) => ({ value: id, words: name }))}
        choose={(lineId) => save({ lineId })}
      />
      {(row.kind === 'mtc' || row.kind === 'mmc') && (
        <Choice
          label="As"
          value={row.kind}
          options={[
            { value: 'mtc' as const, words: TIME_KINDS.mtc },
            { value: 'mmc' as const, words: TIME_KINDS.mmc },
          ]}
          choose={(kind) => save({ kind })}
        />
      )}
      {row.kind === 'clock' ? (
        <>
          <TypedField
            label="Offset"
            value={offsetWords(row, rate)}
            hint="How much later each clock is sent; negative for earlier."
            commit={(text) => save({ offsetMs: readMs(text) })}
          />
          <div className="sm:pl-24">
            <Switch
              label="Start, stop and song position with the position"
              on={row.startStop}
              change={(startStop) => void save({ startStop }).catch(() => undefined)}
            />
          </div>
        </>
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
      {row.kind === 'osc' && (
        <>
          <TypedField label="Address" value={row.address} commit={(address) => save({ address })} />
          <TypedField
            label="A second"
            value={String(row.perSecond)}
            hint="Seconds as a number, and the timecode as a text."
            commit={(text) => save({ perSecond: orThrow(readWhole(text, 'How often it is sent', 1, 100)) })}
          />
        </>
      )}
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
