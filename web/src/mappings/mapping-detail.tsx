/** An open mapping: hear, shape and send side by side, with the last event below. */
import { ArrowDown, ArrowUp, Copy, CopyPlus } from 'lucide-react';
import { useNavigate } from 'react-router';
import { mappingName } from '@tawny-signal/core/mapping/words';
import { sendTitle } from '@tawny-signal/core/sends';
import type { Show } from '@tawny-signal/core/show';
import type { Mapping } from '@tawny-signal/core/show/mapping';
import { useLiveValue } from '../live/live';
import { RemoveButton } from '../show/removing';
import { useChangeRow, useCopyMapping, useCopyToNext, useShow } from '../show/show';
import { Ago } from '../ui/ago';
import { Button, IconButton } from '../ui/button';
import { Choice } from '../ui/choice';
import { notify } from '../ui/notice';
import { Switch } from '../ui/switch';
import { TypedField } from '../ui/typed-field';
import { AnswerFields } from './answer-fields';
import { HearPart } from './hear-part';
import type { PartProps } from './part-props';
import { SendPart, TryButton } from './send-part';
import { ShapePart } from './shape-part';
import { WhenFields } from './when-fields';

export function MappingDetail({
  mapping,
  show,
  move,
}: {
  mapping: Mapping;
  show: Show;
  move: ((step: number) => void) | null;
}) {
  const change = useChangeRow('mappings');
  const save = (values: Partial<Mapping>): Promise<unknown> =>
    change.mutateAsync({ id: mapping.id, change: values });
  const props = { mapping, show, save };
  return (
    <div className="lg:pl-12">
      <div className="grid border-t border-rule lg:grid-cols-[minmax(0,1fr)_minmax(0,.92fr)_minmax(0,1fr)]">
        <Part title="Hear">
          <HearPart {...props} />
          <WhenFields {...props} />
          <AnswerFields {...props} />
        </Part>
        <Part title="Shape">
          <ShapePart {...props} />
        </Part>
        <Part title="Send" aside={<TryButton mapping={mapping} />}>
          <SendPart {...props} />
        </Part>
      </div>
      <JustNow mapping={mapping} />
      <RowActions {...props} move={move} />
    </div>
  );
}

function Part({
  title,
  aside,
  children,
}: {
  title: string;
  aside?: React.ReactNode;
  children: React.ReactNode;
}) {
  return (
    <section
      aria-label={title}
      className="border-rule px-3 pt-1 pb-2.5 max-lg:not-last:border-b lg:not-last:border-r"
    >
      <div className="flex min-h-8 items-center justify-between">
        <h2 className="text-sm font-semibold text-tawny-2">{title}</h2>
        {aside}
      </div>
      {children}
    </section>
  );
}

const round = (value: number): string => String(Number(value.toFixed(4)));

function JustNow({ mapping }: { mapping: Mapping }) {
  const { middleC } = useShow().settings;
  const fired = useLiveValue('mappings', (store) => store.fired(mapping.id), 60);
  return (
    <p data-just-now className="border-t border-dashed border-rule px-3 py-2 font-mono text-xs text-ink-2">
      {fired ? (
        <>
          <b className="text-dusk">heard {round(fired.heard)}</b> <Ago at={fired.at} /> ago → shaped{' '}
          <b className="text-ink">{round(fired.shaped)}</b> →{' '}
          <b className="text-tawny">{mapping.sends.map((send) => sendTitle(send, middleC)).join(', ')}</b> ·{' '}
          {fired.count} {fired.count === 1 ? 'time' : 'times'} so far
        </>
      ) : (
        'Nothing heard yet. Touch its control, or press Try it.'
      )}
    </p>
  );
}

/** The refusal belongs to no field that is visible. */
const sayInMessage = (error: Error): void => notify(error.message, { look: 'fault' });

function RowActions({ mapping, show, save, move }: PartProps & { move: ((step: number) => void) | null }) {
  const copy = useCopyMapping();
  const next = useCopyToNext();
  const go = useNavigate();
  return (
    <div className="grid items-start gap-x-4 border-t xl:grid-cols-[minmax(0,1fr)_minmax(0,.92fr)_auto] border-rule px-3 py-1.5">
      <TypedField
        label="Name"
        value={mapping.name}
        placeholder={mappingName({ ...mapping, name: '' })}
        commit={(name) => save({ name })}
      />
      <Choice
        label="Bank"
        value={mapping.bankId ?? 'none'}
        options={[
          { value: 'none', words: 'No bank: always on' },
          ...show.banks.map((bank) => ({ value: bank.id, words: bank.name })),
        ]}
        choose={(bank) => save({ bankId: bank === 'none' ? null : bank })}
      />
      <div className="flex flex-wrap items-center gap-1">
        <Switch
          label={mapping.on ? 'On' : 'Off'}
          on={mapping.on}
          change={(on) => void save({ on }).catch(() => undefined)}
        />
        {move && (
          <>
            <IconButton needs="edit" label="Move up (Alt+↑)" onClick={() => move(-1)}>
              <ArrowUp size={15} aria-hidden />
            </IconButton>
            <IconButton needs="edit" label="Move down (Alt+↓)" onClick={() => move(1)}>
              <ArrowDown size={15} aria-hidden />
            </IconButton>
          </>
        )}
        <Button
          needs="edit"
          look="bare"
          onClick={() => copy.mutate(mapping.id, { onSuccess: (made) => void go(`/mappings/${made.id}`) })}
        >
          <Copy size={15} aria-hidden /> Copy
        </Button>
        <Button
          needs="edit"
          look="bare"
          title="Copies it to the next control and the next target: controller 71 to note 112, after 70 to 111"
          onClick={() =>
            next.mutate(mapping.id, {
              onSuccess: (made) => void go(`/mappings/${made.id}`),
              onError: sayInMessage,
            })
          }
        >
          <CopyPlus size={15} aria-hidden /> Copy to the next
        </Button>
        <RemoveButton
          table="mappings"
          row={{ id: mapping.id, name: mappingName(mapping) }}
          after={() => go('/mappings')}
        >
          Remove
        </RemoveButton>
      </div>
    </div>
  );
}
