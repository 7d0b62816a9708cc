/** A row of the running order: the moment, how it is called, and what each line gets. */
import { callWords, lineOfSend, momentSendDetail, momentSendTitle } from '@tawny-signal/core/cues/words';
import type { OrderSeen } from '@tawny-signal/core/live/messages';
import type { Show } from '@tawny-signal/core/show';
import type { Moment, MomentSend } from '@tawny-signal/core/show/moment';
import { useLineView } from '../lines/line-view';
import { useInView } from '../ui/use-in-view';
import { MomentDetail } from './moment-detail';
import type { Column } from './columns';
import { progressOf } from './use-order';

interface MomentRowProps {
  moment: Moment;
  show: Show;
  columns: Column[];
  grid: string;
  open: boolean;
  toggle: () => void;
  standsBy: boolean;
  running: OrderSeen['running'][number] | null;
  /** When it calls itself, in milliseconds since 1970; null for not yet. */
  follows: number | null;
  now: number;
}

export function MomentRow(props: MomentRowProps) {
  const { moment, show, columns, grid, open, toggle, standsBy, running, follows, now } = props;
  const row = useInView<HTMLLIElement>(open);
  const progress = running && progressOf(running, now);
  const edge = open || standsBy ? 'border-l-tawny' : running ? 'border-l-moss' : 'border-l-transparent';
  return (
    <li
      ref={row}
      data-moment={moment.id}
      data-stands-by={standsBy}
      data-running={running !== null}
      className={`break-inside-avoid border-b border-l-3 border-rule ${edge} ${open || standsBy ? 'bg-bark' : running ? 'bg-raised' : ''} ${moment.parked ? 'opacity-55' : ''}`}
      onKeyDown={(event) => {
        if (event.key !== 'Escape' || !open) return;
        toggle();
        event.currentTarget.querySelector<HTMLElement>('[data-row]')?.focus();
      }}
    >
      <button
        type="button"
        data-row
        aria-expanded={open}
        onClick={toggle}
        style={{ gridTemplateColumns: grid }}
        className="grid min-h-14 w-full items-stretch text-left hover:bg-bark"
      >
        <span
          className={`border-r border-rule py-2 pr-2.5 text-right font-mono text-base ${standsBy ? 'font-semibold text-tawny-2' : 'text-ink-2'}`}
        >
          {moment.cue}
        </span>
        <span className="min-w-0 px-3 py-2">
          <span className="block truncate font-semibold">{moment.name || 'No name yet'}</span>
          <span className="block truncate text-xs text-ink-2">
            {standsBy && <span className="text-tawny-2">standing by · </span>}
            {follows !== null && (
              <span className="text-straw">in {Math.max(0, (follows - now) / 1000).toFixed(1)} s · </span>
            )}
            {running && (
              <span className="text-moss">
                {progress ? `${progress.left.toFixed(1)} s left · ` : 'sounds until it is stopped · '}
              </span>
            )}
            {callWords(moment, show.layouts)}
          </span>
          {moment.notes && <span className="hidden text-xs print:block">{moment.notes}</span>}
          {progress && (
            <span className="mt-1 block h-0.75 bg-bark-2">
              <span className="block h-full bg-moss" style={{ width: `${progress.part * 100}%` }} />
            </span>
          )}
        </span>
        {columns.map((column) => (
          <Cell
            key={column.lineId ?? 'show'}
            column={column}
            show={show}
            sends={moment.sends.filter((one) => lineOfSend(one) === column.lineId)}
          />
        ))}
      </button>
      {open && <MomentDetail moment={moment} show={show} />}
    </li>
  );
}

function Cell({ column, show, sends }: { column: Column; show: Show; sends: MomentSend[] }) {
  const line = show.lines.find(({ id }) => id === column.lineId);
  const { middleC } = show.settings;
  return (
    <span className="min-w-0 border-l border-rule/60 px-2.5 py-2 text-sm leading-5">
      {sends.map((one, at) => (
        <span key={at} className="block">
          <span className="block truncate" title={momentSendTitle(one, middleC)}>
            {momentSendTitle(one, middleC)}
          </span>
          <span className="block truncate text-xs text-ink-3">{momentSendDetail(one)}</span>
        </span>
      ))}
      {line && sends.length > 0 && <Trouble line={line} />}
    </span>
  );
}

function Trouble({ line }: { line: Show['lines'][number] }) {
  const view = useLineView(line);
  return view.trouble ? <span className="block truncate text-xs text-brick">{view.shortTrouble}</span> : null;
}
