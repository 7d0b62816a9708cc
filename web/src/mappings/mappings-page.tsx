import { Plus, Radio } from 'lucide-react';
import { useCallback, useMemo, useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { shapeFor } from '@tawny-signal/core/mapping/defaults';
import { hearDetail, hearTitle, mappingName, sendTitle } from '@tawny-signal/core/mapping/words';
import type { Show } from '@tawny-signal/core/show';
import type { Hear, Mapping } from '@tawny-signal/core/show/mapping';
import { useAddMapping, useChangeMapping, useShow } from '../show/show';
import { lineName } from '../traffic/words';
import { Button } from '../ui/button';
import { FindField } from '../ui/find-field';
import { Empty, Page } from '../ui/page';
import { BankBar } from './bank-bar';
import { useLearn } from './learn';
import { Sheet } from './sheet';

function matches(mapping: Mapping, show: Show, text: string): boolean {
  const all = [
    mappingName(mapping),
    hearTitle(mapping.hear),
    hearDetail(mapping.hear, show.settings.middleC),
    lineName(show, mapping.hear.lineId ?? ''),
    ...mapping.sends.flatMap((send) => [
      sendTitle(send, show.settings.middleC),
      lineName(show, send.lineId ?? ''),
    ]),
  ];
  return all.join(' ').toLowerCase().includes(text);
}

export function MappingsPage() {
  const show = useShow();
  const { mappingId } = useParams();
  const go = useNavigate();
  const [find, setFind] = useState('');
  const add = useAddMapping();
  const change = useChangeMapping();
  const open = show.mappings.find((mapping) => mapping.id === mappingId);

  const learned = useCallback(
    (hear: Hear) => {
      if (open) {
        const same =
          open.hear.message === hear.message || (open.hear.message === 'held' && hear.message === 'pressed');
        const kept =
          open.hear.message === 'held' && hear.message === 'pressed'
            ? { ...hear, message: 'held' as const }
            : hear;
        change.mutate({
          id: open.id,
          change: same ? { hear: kept } : { hear, shape: shapeFor(hear.message, open.sends[0]!.kind) },
        });
      } else add.mutate({ hear }, { onSuccess: (made) => void go(`/mappings/${made.id}`) });
    },
    [open, change, add, go],
  );
  const learn = useLearn(learned);
  const text = find.trim().toLowerCase();
  const shown = useMemo(
    () => (text === '' ? show.mappings : show.mappings.filter((mapping) => matches(mapping, show, text))),
    [show, text],
  );

  return (
    <Page
      title="Mappings"
      aside={<BankBar />}
      actions={
        <>
          <FindField label="Find a mapping" text={find} find={setFind} />
          <Button
            onClick={() =>
              add.mutate(mappingId && open ? { after: mappingId } : {}, {
                onSuccess: (made) => void go(`/mappings/${made.id}`),
              })
            }
          >
            <Plus size={15} aria-hidden /> Add
          </Button>
          <Button
            look="main"
            aria-pressed={learn.listening}
            onClick={learn.listening ? learn.stop : learn.start}
          >
            <Radio size={15} aria-hidden /> {learn.listening ? 'Listening …' : 'Learn'}
          </Button>
        </>
      }
    >
      {learn.listening && (
        <p role="status" className="mb-2 border-l-3 border-dusk bg-bark px-3 py-2 text-sm">
          Press a pad or move a fader.{' '}
          {open ? 'The open mapping will hear it.' : 'A new mapping will hear it.'} Esc stops listening.
        </p>
      )}
      {show.mappings.length === 0 ? (
        <Empty words="There are no mappings yet. Press Learn, then a pad: a mapping that hears it is made.">
          <Button look="main" onClick={learn.start}>
            Learn a control
          </Button>
        </Empty>
      ) : (
        <Sheet mappings={shown} show={show} openId={open?.id ?? null} sortable={text === ''} />
      )}
      {show.mappings.length > 0 && shown.length === 0 && (
        <p className="px-4 py-6 text-ink-2">No mapping has “{find}” in it. Esc shows all again.</p>
      )}
    </Page>
  );
}
