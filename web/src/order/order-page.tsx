/** The running order: a row is a moment, columns are the lines that it sends to. */
import { ListOrdered, Plus, Printer } from 'lucide-react';
import { useMemo, useRef } from 'react';
import { useNavigate, useParams } from 'react-router';
import { useAddMoment, useRenumber, useShow } from '../show/show';
import { Button } from '../ui/button';
import { Empty, Page } from '../ui/page';
import { walkRows } from '../ui/walk-rows';
import { columnsOf } from './columns';
import { GoBar } from './go-bar';
import { MomentRow } from './moment-row';
import { useNow, useOrder } from './use-order';

export function OrderPage() {
  const show = useShow();
  const { momentId } = useParams();
  const go = useNavigate();
  const order = useOrder();
  const add = useAddMoment();
  const renumber = useRenumber();
  const list = useRef<HTMLOListElement>(null);
  const columns = useMemo(() => columnsOf(show), [show]);
  const ticking = useNow(order.running.length > 0 && order.heldAt === null);
  const now = order.heldAt ?? ticking;
  const make = (): void =>
    add.mutate(momentId ? { after: momentId } : {}, { onSuccess: (made) => void go(`/order/${made.id}`) });
  return (
    <Page
      title="Running order"
      aside={
        <p className="text-sm text-ink-2">Everything on a row leaves together. Columns are where it goes.</p>
      }
      actions={
        <>
          <Button onClick={() => window.print()}>
            <Printer size={15} aria-hidden /> Print
          </Button>
          <Button title="Numbers them 1, 2, 3 …" onClick={() => renumber.mutate(undefined)}>
            <ListOrdered size={15} aria-hidden /> Renumber
          </Button>
          <Button look="main" onClick={make}>
            <Plus size={15} aria-hidden /> Add a moment
          </Button>
        </>
      }
    >
      {show.moments.length === 0 ? (
        <Empty words="There are no moments yet. A moment is a cue: it sends to lighting, video, sound and stream at once, when you press Go.">
          <Button look="main" onClick={make}>
            Add a moment
          </Button>
        </Empty>
      ) : (
        <>
          <div
            aria-hidden
            className="grid border-y border-l-3 border-rule border-l-transparent py-1.5 text-sm text-ink-3"
            style={{ gridTemplateColumns: gridOf(columns.length) }}
          >
            <span className="pr-2.5 text-right">cue</span>
            <span className="pl-3">moment</span>
            {columns.map(({ name }) => (
              <span key={name} className="truncate border-l border-rule/60 px-2.5">
                {name}
              </span>
            ))}
          </div>
          <ol
            ref={list}
            aria-label="Moments"
            className="min-h-0 flex-1 overflow-y-auto"
            onKeyDown={(event) => walkRows(event, list.current)}
          >
            {show.moments.map((moment) => (
              <MomentRow
                key={moment.id}
                moment={moment}
                show={show}
                columns={columns}
                grid={gridOf(columns.length)}
                open={moment.id === momentId}
                toggle={() => void go(moment.id === momentId ? '/order' : `/order/${moment.id}`)}
                standsBy={order.standingBy === moment.id}
                running={order.running.find(({ id }) => id === moment.id) ?? null}
                follows={order.following.find(({ id }) => id === moment.id)?.at ?? null}
                now={now}
              />
            ))}
          </ol>
          <GoBar />
        </>
      )}
    </Page>
  );
}

const gridOf = (columns: number): string => `64px minmax(190px, 1.4fr) repeat(${columns}, minmax(96px, 1fr))`;
