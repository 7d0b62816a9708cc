import { Plus, Radio } from 'lucide-react';
import { useMemo, useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { hearDetail, hearTitle } from '@tawny-signal/core/hears';
import { mappingName } from '@tawny-signal/core/mapping/words';
import { sendTitle } from '@tawny-signal/core/sends';
import { layoutControlOf } from '@tawny-signal/core/layout/layout';
import type { Show } from '@tawny-signal/core/show';
import type { Mapping } from '@tawny-signal/core/show/mapping';
import { useAddMapping, useShow } from '../show/show';
import { lineName } from '../traffic/words';
import { Button } from '../ui/button';
import { FindField } from '../ui/find-field';
import { Empty, Page } from '../ui/page';
import { BankBar } from './bank-bar';
import { SpreadPanel } from '../spread/spread-panel';
import { LearnBar } from './learn-bar';
import { useLearnHere } from './learn-context';
import { Sheet } from './sheet';
import { Tabs } from './tabs';

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
    layoutControlOf(show.layouts, mapping.hear)?.name ?? '',
  ];
  return all.join(' ').toLowerCase().includes(text);
}

export function MappingsPage() {
  const show = useShow();
  const { mappingId } = useParams();
  const go = useNavigate();
  const [find, setFind] = useState('');
  const add = useAddMapping();
  const [spreading, setSpreading] = useState(false);
  /** The mappings that were made last, which are marked. */
  const [fresh, setFresh] = useState<readonly string[]>([]);
  const open = show.mappings.find((mapping) => mapping.id === mappingId);

  const learn = useLearnHere();
  const text = find.trim().toLowerCase();
  const shown = useMemo(
    () => (text === '' ? show.mappings : show.mappings.filter((mapping) => matches(mapping, show, text))),
    [show, text],
  );

  return (
    <Page
      title="Mappings"
      aside={
        <>
          <Tabs at="Sheet" />
          <BankBar />
        </>
      }
      actions={
        <>
          <FindField label="Find a mapping" text={find} find={setFind} />
          <Button
            needs="edit"
            onClick={() =>
              add.mutate(mappingId && open ? { after: mappingId } : {}, {
                onSuccess: (made) => void go(`/mappings/${made.id}`),
              })
            }
          >
            <Plus size={15} aria-hidden /> Add
          </Button>
          <Button
            needs="edit"
            aria-label="Spread a range"
            aria-pressed={spreading}
            onClick={() => setSpreading(!spreading)}
          >
            Spread
          </Button>
          <Button
            needs="edit"
            look="main"
            data-learn
            aria-pressed={learn.phase !== 'off'}
            onClick={learn.phase === 'off' ? learn.start : learn.stop}
          >
            <Radio size={15} aria-hidden /> {learn.phase === 'listening' ? 'Listening …' : 'Learn'}
          </Button>
        </>
      }
    >
      <LearnBar learn={learn} show={show} target={learn.target} />
      {spreading && <SpreadPanel close={() => setSpreading(false)} made={setFresh} />}
      {show.mappings.length === 0 ? (
        <Empty words="There are no mappings yet. Press Learn, then a pad: a mapping that hears it is made.">
          <Button needs="edit" look="main" onClick={learn.start}>
            Learn a control
          </Button>
        </Empty>
      ) : (
        <Sheet mappings={shown} show={show} fresh={fresh} openId={open?.id ?? null} sortable={text === ''} />
      )}
      {show.mappings.length > 0 && shown.length === 0 && (
        <p className="px-4 py-6 text-ink-2">No mapping has “{find}” in it. Esc shows all again.</p>
      )}
    </Page>
  );
}
