/** The running order: a row is a moment, columns are the lines that it sends to. */
import { DndContext } from '@dnd-kit/core';
import { ListOrdered, Plus } from 'lucide-react';
import { useCallback, useMemo, useRef, useState } from 'react';
import { flushSync } from 'react-dom';
import { useNavigate, useParams } from 'react-router';
import { callWords, momentSendDetail, momentSendTitle } from '@tawny-signal/core/cues/words';
import type { Moment } from '@tawny-signal/core/show/moment';
import type { Show } from '@tawny-signal/core/show';
import { useAddMoment, useMoveMoment, useRenumber } from '../show/order-edits';
import { useShow } from '../show/show';
import { Button } from '../ui/button';
import { FindField } from '../ui/find-field';
import { Empty, Page } from '../ui/page';
import { useRowDrag } from '../ui/row-drag';
import { walkRows } from '../ui/walk-rows';
import { useMomentClipboard } from './clipboard';
import { columnsOf } from './columns';
import { GoBar } from './go-bar';
import { MomentRow } from './moment-row';
import { PaperByLine } from './paper';
import { PaperMenu, type Paper } from './paper-menu';
import { Tabs } from './tabs';
import { useNow, useOrder } from './use-order';

function matches(moment: Moment, show: Show, text: string): boolean {
  const all = [
    moment.cue,
    moment.name,
    moment.notes,
    callWords(moment, show.layouts),
    ...moment.sends.flatMap((one) => [momentSendTitle(one, show), momentSendDetail(one)]),
  ];
  return all.join(' ').toLowerCase().includes(text);
}

/** Moves rows, by so many places or to one. */
function useMoving(ids: readonly string[]): (id: string, place: number) => void {
  const { mutate: move } = useMoveMoment();
  return useCallback(
    (id, place) => {
      const others = ids.filter((other) => other !== id);
      const at = Math.max(0, Math.min(place, others.length));
      if (ids[at] !== id) move({ id, after: at === 0 ? null : others[at - 1]! });
    },
    [ids, move],
  );
}

export function OrderPage() {
  const show = useShow();
  const { momentId } = useParams();
  const go = useNavigate();
  const add = useAddMoment();
  const renumber = useRenumber();
  const [find, setFind] = useState('');
  const [paper, setPaper] = useState<Paper>('all');
  const open = useCallback((id: string) => void go(`/order/${id}`), [go]);
  useMomentClipboard(show.moments, momentId, open);
  const make = (after?: string | null): void =>
    add.mutate(after === undefined ? {} : { after }, { onSuccess: (made) => open(made.id) });
  function print(next: Paper): void {
    flushSync(() => setPaper(next));
    window.print();
  }
  return (
    <Page
      title="Running order"
      aside={<Tabs at="Sheet" />}
      actions={
        <>
          <FindField label="Find a moment" text={find} find={setFind} />
          <PaperMenu showName={show.settings.name} print={print} />
          <Button title="Numbers them 1, 2, 3 …" onClick={() => renumber.mutate(undefined)}>
            <ListOrdered size={15} aria-hidden /> Renumber
          </Button>
          <Button look="main" onClick={() => make(momentId)}>
            <Plus size={15} aria-hidden /> Add a moment
          </Button>
        </>
      }
    >
      {show.moments.length === 0 ? (
        <Empty words="There are no moments yet. A moment is a cue: it sends to lighting, video, sound and stream at once, when you press Go.">
          <Button look="main" onClick={() => make()}>
            Add a moment
          </Button>
        </Empty>
      ) : (
        <>
          <div className={`flex min-h-0 flex-1 flex-col ${paper === 'byLine' ? 'print:hidden' : ''}`}>
            <Sheet show={show} find={find} momentId={momentId} insert={make} />
          </div>
          {paper === 'byLine' && <PaperByLine show={show} />}
          <GoBar />
        </>
      )}
    </Page>
  );
}

interface SheetProps {
  show: Show;
  find: string;
  momentId: string | undefined;
  /** Makes a row behind another; behind none, the first. */
  insert: (after: string | null) => void;
}

function Sheet({ show, find, momentId, insert }: SheetProps) {
  const go = useNavigate();
  const order = useOrder();
  const list = useRef<HTMLOListElement>(null);
  const columns = useMemo(() => columnsOf(show), [show]);
  const grid = gridOf(columns.length);
  const ticking = useNow(order.running.length > 0 && order.heldAt === null);
  const now = order.heldAt ?? ticking;
  const text = find.trim().toLowerCase();
  const shown = useMemo(
    () => (text === '' ? show.moments : show.moments.filter((moment) => matches(moment, show, text))),
    [show, text],
  );
  const ids = useMemo(() => show.moments.map(({ id }) => id), [show.moments]);
  const moveTo = useMoving(ids);
  const rows = (): HTMLElement[] => [...(list.current?.querySelectorAll<HTMLElement>('[data-moment]') ?? [])];
  const drag = useRowDrag(rows, moveTo);
  return (
    <>
      <div
        aria-hidden
        className="grid border-y border-l-3 border-rule border-l-transparent py-1.5 text-sm text-ink-3"
        style={{ gridTemplateColumns: grid }}
      >
        <span className="pr-2.5 text-right">cue</span>
        <span className="pl-3">moment</span>
        {columns.map(({ name }) => (
          <span key={name} className="truncate border-l border-rule/60 px-2.5">
            {name}
          </span>
        ))}
      </div>
      <DndContext {...drag.context}>
        <ol
          ref={list}
          aria-label="Moments"
          className="min-h-0 flex-1 overflow-y-auto"
          onKeyDown={(event) => walkRows(event, list.current)}
        >
          {shown.map((moment, at) => (
            <MomentRow
              key={moment.id}
              moment={moment}
              show={show}
              columns={columns}
              grid={grid}
              open={moment.id === momentId}
              toggle={() => void go(moment.id === momentId ? '/order' : `/order/${moment.id}`)}
              standsBy={order.standingBy === moment.id}
              running={order.running.find(({ id }) => id === moment.id) ?? null}
              follows={order.following.find(({ id }) => id === moment.id)?.at ?? null}
              now={now}
              isOver={drag.over === at}
              moveBy={text === '' ? (step) => moveTo(moment.id, ids.indexOf(moment.id) + step) : null}
              insert={(where) =>
                insert(where === 'below' ? moment.id : (ids[ids.indexOf(moment.id) - 1] ?? null))
              }
            />
          ))}
        </ol>
      </DndContext>
      {shown.length === 0 && (
        <p className="px-4 py-6 text-ink-2">No moment has “{find}” in it. Esc shows all again.</p>
      )}
    </>
  );
}

const gridOf = (columns: number): string => `64px minmax(190px, 1.4fr) repeat(${columns}, minmax(96px, 1fr))`;
