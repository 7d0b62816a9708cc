/** The running order: a row is a moment, columns are the lines that it sends to. */
import { ListOrdered, Plus } from 'lucide-react';
import { useCallback, useState } from 'react';
import { flushSync } from 'react-dom';
import { useNavigate, useParams } from 'react-router';
import { useAddMoment, useRenumber } from '../show/order-edits';
import { useShow } from '../show/show';
import { Button } from '../ui/button';
import { FindField } from '../ui/find-field';
import { Empty, Page } from '../ui/page';
import { useMomentClipboard } from './clipboard';
import { GoBar } from './go-bar';
import { PaperByLine } from './paper';
import { PaperMenu, type Paper } from './paper-menu';
import { Sheet } from './sheet';
import { Tabs } from './tabs';

export function OrderPage() {
  const show = useShow();
  const { momentId } = useParams();
  const go = useNavigate();
  const { mutate: add } = useAddMoment();
  const renumber = useRenumber();
  const [find, setFind] = useState('');
  const [paper, setPaper] = useState<Paper>('all');
  const open = useCallback((id: string) => void go(`/order/${id}`), [go]);
  useMomentClipboard(show.moments, momentId, open);
  const make = useCallback(
    (after?: string | null): void =>
      add(after === undefined ? {} : { after }, { onSuccess: (made) => open(made.id) }),
    [add, open],
  );
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
          <PaperMenu print={print} />
          <Button needs="edit" title="Numbers them 1, 2, 3 …" onClick={() => renumber.mutate(undefined)}>
            <ListOrdered size={15} aria-hidden /> Renumber
          </Button>
          <Button needs="edit" look="main" onClick={() => make(momentId)}>
            <Plus size={15} aria-hidden /> Add a moment
          </Button>
        </>
      }
    >
      {show.moments.length === 0 ? (
        <Empty words="There are no moments yet. A moment is a cue: it sends to lighting, video, sound and stream at once, when you press Go.">
          <Button needs="edit" look="main" onClick={() => make()}>
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
