/** A list of sources in the order of preference, of the position or of the tempo. Our own is the last of them. */
import { Plus } from 'lucide-react';
import type { ReactNode } from 'react';
import { useNavigate, useParams } from 'react-router';
import type { Show } from '@tawny-signal/core/show';
import { TIME_WAYS, waysOn, type TimeKind, type TimeOf, type TimeSource } from '@tawny-signal/core/time/ways';
import { useAddRow } from '../show/show';
import { Select } from '../ui/select';
import { PATH, sourceName } from './words';

/** The lines that can carry a position or a tempo, with the first way that each can. */
export function linesFor(show: Show, of: TimeOf): { id: string; name: string; kind: TimeKind }[] {
  return show.lines.flatMap(({ id, name, kind: line }) => {
    const [kind] = waysOn(line, of);
    return kind ? [{ id, name, kind }] : [];
  });
}

export const sourcesOf = ({ timeSources }: Show, of: TimeOf): TimeSource[] =>
  timeSources.filter(({ kind }) => TIME_WAYS[kind].of === of);

interface ListProps {
  show: Show;
  of: TimeOf;
  /** Draws a source. */
  row: (row: TimeSource, number: number, rows: readonly TimeSource[]) => ReactNode;
  /** Draws our own, with its number in the list. */
  own: (number: number) => ReactNode;
}

export function SourceList({ show, of, row, own }: ListProps) {
  const go = useNavigate();
  const add = useAddRow('timeSources');
  const rows = sourcesOf(show, of);
  const lines = linesFor(show, of);
  return (
    <section aria-label="Heard, in order of preference">
      <header className="flex min-h-8 items-center justify-between gap-3 text-sm text-ink-2">
        <h2>Heard, in order of preference</h2>
        <span className="flex items-center gap-1.5">
          <Plus size={14} aria-hidden />
          <span className="w-44">
            <Select
              label={`Hear the ${of} on`}
              calm
              value={null}
              placeholder="Hear it on a line"
              options={lines.map(({ id, name }) => ({ value: id, words: name }))}
              choose={(lineId) => {
                const { kind } = lines.find(({ id }) => id === lineId)!;
                add.mutate({ lineId, kind }, { onSuccess: (made) => void go(`${PATH[of]}/${made.id}`) });
              }}
            />
          </span>
        </span>
      </header>
      <ol className="border-t border-rule">
        {rows.map((one, at) => row(one, at + 1, rows))}
        {own(rows.length + 1)}
      </ol>
    </section>
  );
}

const COLUMNS =
  'grid w-full grid-cols-[1.75rem_minmax(0,1fr)_minmax(0,1.2fr)] items-center sm:grid-cols-[1.75rem_minmax(0,1fr)_minmax(0,1.2fr)_7rem] gap-x-2 py-1.5 text-left';

const edge = (counts: boolean): string => (counts ? 'border-l-dusk' : 'border-l-transparent');

interface RowProps {
  row: TimeSource;
  number: number;
  show: Show;
  of: TimeOf;
  /** Whether this one counts. */
  counts: boolean;
  /** What it is and how it is read, in small letters. */
  detail: ReactNode;
  state: string;
  middle: ReactNode;
  end: ReactNode;
  /** What is shown below it while it is open. */
  children: ReactNode;
}

export function SourceRow({ row, number, show, of, counts, detail, state, middle, end, children }: RowProps) {
  const { rowId } = useParams();
  const go = useNavigate();
  const open = rowId === row.id;
  const name = sourceName(show, row.id);
  return (
    <li
      data-source={name}
      data-state={state}
      className={`border-b border-l-3 border-b-rule ${edge(counts)} ${open ? 'bg-bark' : ''}`}
    >
      <button
        type="button"
        data-row
        aria-expanded={open}
        className={`${COLUMNS} hover:bg-bark`}
        onClick={() => void go(open ? PATH[of] : `${PATH[of]}/${row.id}`)}
      >
        <span className="text-right font-mono text-sm text-ink-2">{number}</span>
        <span className="min-w-0">
          <span className="block truncate font-semibold">{name}</span>
          <span className="block text-xs text-ink-2">{detail}</span>
        </span>
        <span className="min-w-0 text-sm">
          {middle}
          {counts && <span className="sr-only">, this one counts</span>}
        </span>
        <span className="font-mono text-xs text-ink-2 max-sm:hidden">{end}</span>
      </button>
      {open && children}
    </li>
  );
}

export function OwnRow({
  number,
  name = 'Our own',
  counts,
  detail,
  children,
}: {
  number: number;
  name?: string;
  counts: boolean;
  detail?: string;
  children: ReactNode;
}) {
  return (
    <li className={`border-b border-l-3 border-b-rule ${edge(counts)}`}>
      <div className={COLUMNS}>
        <span className="text-right font-mono text-sm text-ink-2">{number}</span>
        <span>
          <span className="block font-semibold">{name}</span>
          {detail && <span className="block text-xs text-ink-2">{detail}</span>}
        </span>
        <span className="text-sm text-ink-2">{children}</span>
        <span />
      </div>
    </li>
  );
}
