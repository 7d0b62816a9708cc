import { Plus, Radio } from 'lucide-react';
import { useCallback, useMemo, useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { shapeFor } from '@tawny-signal/core/mapping/defaults';
import { hearDetail, hearTitle, type Hear } from '@tawny-signal/core/hears';
import { mappingName } from '@tawny-signal/core/mapping/words';
import { sendTitle } from '@tawny-signal/core/sends';
import { controlName } from '@tawny-signal/core/layout/control-name';
import { layoutControlOf } from '@tawny-signal/core/layout/layout';
import type { Show } from '@tawny-signal/core/show';
import type { LearnOption } from '@tawny-signal/core/learn/options';
import type { Mapping } from '@tawny-signal/core/show/mapping';
import { useAddMapping, useChangeRow, useShow } from '../show/show';
import { lineName } from '../traffic/words';
import { Button } from '../ui/button';
import { FindField } from '../ui/find-field';
import { Empty, Page } from '../ui/page';
import { BankBar } from './bank-bar';
import { useLearn, type LearnTaker } from './learn';
import { SpreadPanel } from '../spread/spread-panel';
import { LearnBar } from './learn-bar';
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

/** Returns what a learned option changes in a mapping. A different kind of message has different values, so the shape is reset. */
function changeFor(mapping: Mapping, { hear, shape }: LearnOption): Partial<Mapping> {
  const plain = shapeFor(hear.message, mapping.sends[0]?.kind);
  const base = hear.message === mapping.hear.message ? { ...mapping.shape, each: plain.each } : plain;
  return { hear, shape: { ...base, ...shape } };
}

/** Makes the open mapping, or a new one, hear what is learned. */
function useLearnTaker(open: Mapping | undefined): LearnTaker {
  const show = useShow();
  const { mappings } = show;
  const { mutateAsync: add } = useAddMapping();
  const { mutateAsync: change } = useChangeRow('mappings');
  const go = useNavigate();
  const take = useCallback(
    async (option: LearnOption, fresh: boolean) => {
      try {
        if (open && !fresh) {
          // If the mapping heard held notes, a learned press is held too.
          const held = open.hear.message === 'held' && option.hear.message === 'pressed';
          const hear: Hear = held ? ({ ...option.hear, message: 'held' } as Hear) : option.hear;
          const name =
            open.name === controlName(show.layouts, open.hear)
              ? { name: controlName(show.layouts, hear) }
              : {};
          await change({ id: open.id, change: { ...changeFor(open, { ...option, hear }), ...name } });
          return open.id;
        }
        const made = await add({ hear: option.hear, name: controlName(show.layouts, option.hear) });
        if (Object.keys(option.shape).length > 0)
          await change({ id: made.id, change: changeFor(made, option) });
        void go(`/mappings/${made.id}`);
        return made.id;
      } catch {
        return null; // said aloud already
      }
    },
    [open, show, add, change, go],
  );
  const retake = useCallback(
    (id: string, option: LearnOption) => {
      const mapping = mappings.find((candidate) => candidate.id === id);
      if (!mapping) return;
      const { name } = mapping;
      const follows = name !== '' && name === controlName(show.layouts, mapping.hear);
      const values = {
        ...changeFor(mapping, option),
        ...(follows && { name: controlName(show.layouts, option.hear) }),
      };
      void change({ id, change: values }).catch(() => undefined);
    },
    [mappings, show, change],
  );
  return { take, retake };
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

  const learn = useLearn(useLearnTaker(open));
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
            onClick={() =>
              add.mutate(mappingId && open ? { after: mappingId } : {}, {
                onSuccess: (made) => void go(`/mappings/${made.id}`),
              })
            }
          >
            <Plus size={15} aria-hidden /> Add
          </Button>
          <Button
            aria-label="Spread a range"
            aria-pressed={spreading}
            onClick={() => setSpreading(!spreading)}
          >
            Spread
          </Button>
          <Button
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
      <LearnBar learn={learn} show={show} open={open !== undefined} />
      {spreading && <SpreadPanel close={() => setSpreading(false)} made={setFresh} />}
      {show.mappings.length === 0 ? (
        <Empty words="There are no mappings yet. Press Learn, then a pad: a mapping that hears it is made.">
          <Button look="main" onClick={learn.start}>
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
