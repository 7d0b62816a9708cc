/** A row of the running order: the moment, how it is called, and what it sends on each line. */
import { useDraggable } from '@dnd-kit/core';
import { CSS } from '@dnd-kit/utilities';
import { memo, type CSSProperties } from 'react';
import { callWords, lineOfSend, momentSendDetail, momentSendTitle } from '@tawny-signal/core/cues/words';
import type { OrderSeen } from '@tawny-signal/core/live/messages';
import type { Show } from '@tawny-signal/core/show';
import type { Moment, MomentSend } from '@tawny-signal/core/show/moment';
import { useLineView } from '../lines/line-view';
import { RowGrip, rowKeys } from '../ui/row-grip';
import { useInView } from '../ui/use-in-view';
import { MomentDetail } from './moment-detail';
import type { Column } from './columns';
import { Timed } from './timed';
import { progressOf, useNow } from './use-order';

type Running = OrderSeen['running'][number];

interface MomentRowProps {
  /** Its index among the rows that are shown. */
  at: number;
  /** Measures the height of the row, if not all rows are rendered. */
  measure: ((row: HTMLElement | null) => void) | undefined;
  moment: Moment;
  show: Show;
  columns: Column[];
  grid: string;
  open: boolean;
  toggle: (id: string) => void;
  standsBy: boolean;
  running: Running | null;
  /** When it calls itself, in milliseconds since 1970; null for not yet. */
  follows: number | null;
  /** When the running order was held, in milliseconds since 1970; null while it runs. */
  heldAt: number | null;
  /** True while a row is dragged over this one. */
  isOver: boolean;
  /** Moves the row up or down by a number of rows; null if rows cannot be moved. */
  moveBy: ((id: string, step: number) => void) | null;
  insert: (id: string, where: 'above' | 'below') => void;
}

/** Rendered again only when it has changed. A running moment has its own clock. */
export const MomentRow = memo(function MomentRow(props: MomentRowProps) {
  const { moment, show, columns, grid, open, standsBy, running, follows, heldAt, at, measure } = props;
  const { isOver, moveBy } = props;
  const toggle = (): void => props.toggle(moment.id);
  const move = moveBy && ((step: number): void => moveBy(moment.id, step));
  const row = useInView<HTMLLIElement>(open);
  const drag = useDraggable({ id: moment.id, disabled: moveBy === null });
  const edge = open || standsBy ? 'border-l-tawny' : running ? 'border-l-moss' : 'border-l-transparent';
  return (
    <li
      ref={(element) => {
        row.current = element;
        drag.setNodeRef(element);
        measure?.(element);
      }}
      style={{ transform: CSS.Translate.toString(drag.transform) }}
      data-moment={moment.id}
      data-at={at}
      data-index={at}
      data-stands-by={standsBy}
      data-running={running !== null}
      className={`break-inside-avoid border-b border-l-3 border-rule ${edge} ${open || standsBy ? 'bg-bark' : running ? 'bg-raised' : ''} ${moment.parked ? 'opacity-55' : ''} ${isOver ? 'outline-1 -outline-offset-1 outline-tawny' : ''} ${drag.isDragging ? 'relative z-10 opacity-80' : ''}`}
      onKeyDown={(event) => rowKeys(event, open ? toggle : null, move)}
    >
      <div className="group relative">
        <button
          type="button"
          data-row
          aria-expanded={open}
          onClick={toggle}
          style={{ '--columns': grid } as CSSProperties}
          className="row-grid min-h-14 w-full items-stretch text-left hover:bg-bark"
        >
          <span
            className={`border-r border-rule py-2 pr-2.5 text-right font-mono text-base ${standsBy ? 'font-semibold text-tawny-2' : 'text-ink-2'}`}
          >
            {moment.cue}
          </span>
          <span className="min-w-0 px-3 py-2">
            <span className="block break-words font-semibold">{moment.name || 'No name yet'}</span>
            <span className="block text-xs text-ink-2">
              {standsBy && <span className="text-tawny-2">standing by · </span>}
              {follows !== null && <Follows at={follows} heldAt={heldAt} />}
              {running && <Left running={running} heldAt={heldAt} />}
              {moment.timecode !== null && <Timed id={moment.id} />}
              {callWords(moment, show.layouts)}
            </span>
            {moment.notes && <span className="hidden text-xs print:block">{moment.notes}</span>}
            {running && <Progress running={running} heldAt={heldAt} />}
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
        {move && <RowGrip listeners={drag.listeners} />}
      </div>
      {open && (
        <MomentDetail
          moment={moment}
          show={show}
          move={move}
          insert={(where) => props.insert(moment.id, where)}
        />
      )}
    </li>
  );
});

/** Returns the time of the running order, which stands still while it is held. */
function useOrderTime(heldAt: number | null): number {
  const now = useNow(heldAt === null);
  return heldAt ?? now;
}

function Follows({ at, heldAt }: { at: number; heldAt: number | null }) {
  const now = useOrderTime(heldAt);
  return <span className="text-straw">in {Math.max(0, (at - now) / 1000).toFixed(1)} s · </span>;
}

function Left({ running, heldAt }: { running: Running; heldAt: number | null }) {
  const progress = progressOf(running, useOrderTime(heldAt));
  return (
    <span className="text-moss">
      {progress ? `${progress.left.toFixed(1)} s left · ` : 'sounds until stopped · '}
    </span>
  );
}

function Progress({ running, heldAt }: { running: Running; heldAt: number | null }) {
  const progress = progressOf(running, useOrderTime(heldAt));
  if (!progress) return null;
  return (
    <span className="mt-1 block h-0.75 bg-bark-2">
      <span className="block h-full bg-moss" style={{ width: `${progress.part * 100}%` }} />
    </span>
  );
}

function Cell({ column, show, sends }: { column: Column; show: Show; sends: MomentSend[] }) {
  const line = show.lines.find(({ id }) => id === column.lineId);
  return (
    <span
      className={`min-w-0 border-rule/60 px-2.5 text-sm leading-5 lg:border-l lg:py-2 ${sends.length === 0 ? 'max-lg:hidden' : 'max-lg:pb-1.5'}`}
    >
      <span className="block text-xs text-ink-2 lg:hidden">{column.name}</span>
      {sends.map((one, at) => (
        <span key={at} className="block">
          <span className="block break-words">{momentSendTitle(one, show)}</span>
          <span className="block text-xs text-ink-2">{momentSendDetail(one)}</span>
        </span>
      ))}
      {line && sends.length > 0 && <Trouble line={line} />}
    </span>
  );
}

function Trouble({ line }: { line: Show['lines'][number] }) {
  const view = useLineView(line);
  return view.trouble ? <span className="block text-xs text-brick">{view.shortTrouble}</span> : null;
}
