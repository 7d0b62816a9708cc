/** An open moment: how it is called, and everything that it does. */
import { isSentOn } from '@tawny-signal/core/show/line';
import {
  ArrowDown,
  ArrowUp,
  BetweenHorizontalEnd,
  BetweenHorizontalStart,
  Copy,
  Plus,
  X,
} from 'lucide-react';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { sharedCallers } from '@tawny-signal/core/cues/callers';
import { momentName } from '@tawny-signal/core/show/moment-name';
import { hearTitle } from '@tawny-signal/core/hears';
import type { Show } from '@tawny-signal/core/show';
import type { Moment, MomentSend } from '@tawny-signal/core/show/moment';
import { protocolOf } from '../lines/kinds';
import { useCopyMoment, useOrderAct } from '../show/order-edits';
import { Button, IconButton } from '../ui/button';
import { Choice } from '../ui/choice';
import { Switch } from '../ui/switch';
import { SpanField } from '../ui/span-field';
import { TypedField } from '../ui/typed-field';
import { CatchUp } from './catch-up';
import { makeKind, momentKinds } from './moment-kinds';
import { MomentSendFields } from './moment-send-fields';
import { useCallerLearn } from './use-caller-learn';
import { RemoveButton } from '../show/removing';
import { useChangeRow } from '../show/show';
import { typedTimecode } from '../time/typed-timecode';

interface MomentDetailProps {
  moment: Moment;
  show: Show;
  /** Moves the row by a number of rows; null if rows cannot be moved. */
  move: ((step: number) => void) | null;
  insert: (where: 'above' | 'below') => void;
}

export function MomentDetail({ moment, show, move, insert }: MomentDetailProps) {
  const { mutateAsync } = useChangeRow('moments');
  const save = (change: Partial<Moment>): Promise<unknown> => mutateAsync({ id: moment.id, change });
  return (
    <div className="grid border-t border-rule lg:grid-cols-[300px_minmax(0,1fr)] lg:pl-16 print:hidden">
      <section
        aria-label="How it is called"
        className="border-rule px-3 pt-2 pb-3 max-lg:border-b lg:border-r"
      >
        <TypedField label="Cue" value={moment.cue} commit={(cue) => save({ cue })} />
        <TypedField label="Name" value={moment.name} commit={(name) => save({ name })} />
        <TypedField
          label="Notes"
          value={moment.notes}
          placeholder="for the operator"
          commit={(notes) => save({ notes })}
        />
        <FollowFields moment={moment} save={save} />
        <TypedField
          label="Timecode"
          value={moment.timecode ?? ''}
          placeholder="none"
          hint="The position calls it there. The Time place says where that comes from."
          commit={(text) => save({ timecode: typedTimecode(text, show) })}
        />
        {moment.timecode !== null && (
          <div className="pl-24">
            <Switch
              label="Called by timecode"
              on={moment.timecodeOn}
              change={(timecodeOn) => void save({ timecodeOn }).catch(() => undefined)}
            />
          </div>
        )}
        <Callers moment={moment} show={show} save={save} />
      </section>
      <section aria-label="What it does" className="min-w-0 px-3 pt-2 pb-3">
        <Sends moment={moment} show={show} save={save} />
        <RowActions moment={moment} show={show} save={save} move={move} insert={insert} />
      </section>
    </div>
  );
}

interface PartProps {
  moment: Moment;
  save: (change: Partial<Moment>) => Promise<unknown>;
}

function FollowFields({ moment: { follow, callOn }, save }: PartProps) {
  return (
    <>
      <Choice
        label="Called"
        value={follow?.after ?? 'hand'}
        options={[
          { value: 'hand' as const, words: 'By Go' },
          { value: 'start' as const, words: 'After the previous moment starts' },
          { value: 'end' as const, words: 'After the previous moment ends' },
        ]}
        choose={(after) =>
          save({
            follow: after === 'hand' ? null : { after, ms: follow?.ms ?? 1000, beats: follow?.beats ?? null },
          })
        }
      />
      {follow && (
        <SpanField
          label="Wait"
          span={follow}
          unit="s"
          highMs={3_600_000}
          commit={(span) => save({ follow: { ...follow, ...span } })}
        />
      )}
      <Choice
        label="Starts"
        value={callOn}
        options={[
          { value: 'now' as const, words: 'At once' },
          { value: 'beat' as const, words: 'On the next beat' },
          { value: 'bar' as const, words: 'On the next bar' },
        ]}
        hint={callOn === 'now' ? undefined : 'A second press calls it at once. Timecode always does.'}
        choose={(next) => save({ callOn: next })}
      />
    </>
  );
}

/** The controls that call the moment, which are learned by touching. */
function Callers({ moment, show, save }: PartProps & { show: Show }) {
  const also = sharedCallers(show.moments).get(moment.id) ?? [];
  const learn = useCallerLearn((hear) => save({ callers: [...moment.callers, hear] }));
  return (
    <div className="py-1 pl-24 text-sm">
      {moment.callers.map((hear, at) => (
        <p key={at} className="flex items-center gap-1">
          <span className="text-dusk">{hearTitle(hear)}</span>
          <IconButton
            needs="edit"
            label={`Remove the control ${hearTitle(hear)}`}
            onClick={() => void save({ callers: moment.callers.toSpliced(at, 1) }).catch(() => undefined)}
          >
            <X size={14} aria-hidden />
          </IconButton>
        </p>
      ))}
      {also.length > 0 && <p className="text-straw">It calls {also.map(momentName).join(' and ')} too.</p>}
      <Button
        needs="edit"
        look="bare"
        className="-ml-3"
        aria-pressed={learn.on}
        onClick={learn.on ? learn.stop : learn.start}
      >
        {learn.on ? 'Touch a control …' : 'Learn a control for it'}
      </Button>
    </div>
  );
}

function RowActions({ moment, show, save, move, insert }: PartProps & MomentDetailProps) {
  const go = useNavigate();
  const copy = useCopyMoment();
  const act = useOrderAct();
  return (
    <div className="mt-2 flex flex-wrap items-center gap-1 border-t border-rule pt-2">
      <Button needs="operator" onClick={() => act.mutate({ do: 'try', id: moment.id })}>
        Try the row
      </Button>
      <Button needs="caller" onClick={() => act.mutate({ do: 'standBy', id: moment.id, catchUp: false })}>
        Stand by here
      </Button>
      <CatchUp moment={moment} show={show} />
      <Switch
        label="Parked"
        on={moment.parked}
        change={(parked) => void save({ parked }).catch(() => undefined)}
      />
      <IconButton needs="edit" label="Insert a moment above" onClick={() => insert('above')}>
        <BetweenHorizontalStart size={15} aria-hidden />
      </IconButton>
      <IconButton needs="edit" label="Insert a moment below" onClick={() => insert('below')}>
        <BetweenHorizontalEnd size={15} aria-hidden />
      </IconButton>
      <IconButton needs="edit" label="Move up (Alt+↑)" disabled={!move} onClick={() => move?.(-1)}>
        <ArrowUp size={15} aria-hidden />
      </IconButton>
      <IconButton needs="edit" label="Move down (Alt+↓)" disabled={!move} onClick={() => move?.(1)}>
        <ArrowDown size={15} aria-hidden />
      </IconButton>
      <Button
        needs="edit"
        look="bare"
        onClick={() => copy.mutate(moment.id, { onSuccess: (made) => void go(`/order/${made.id}`) })}
      >
        <Copy size={15} aria-hidden /> Copy
      </Button>
      <RemoveButton
        table="moments"
        row={{ id: moment.id, name: momentName(moment) }}
        after={() => go('/order')}
      >
        Remove
      </RemoveButton>
    </div>
  );
}

/** The entry for the show itself in the list of lines. */
const SHOW = 'show';

/** Creates a new send of the first kind of a line. */
function newSend(show: Show, lineId: string): MomentSend {
  if (lineId === SHOW) return makeKind('bank', null, show);
  const protocol = protocolOf(show.lines.find((line) => line.id === lineId)) ?? 'osc';
  return makeKind(momentKinds(protocol)[0]!.value, lineId, show);
}

function Sends({ moment, show, save }: PartProps & { show: Show }) {
  const [chosen, choose] = useState<number | null>(null);
  const put = (sends: MomentSend[]): Promise<unknown> => save({ sends });
  return (
    <>
      {moment.sends.length === 0 && (
        <p className="py-1 text-sm text-ink-2">It does nothing yet. Choose a line to send to.</p>
      )}
      <ul aria-label="What it does" className="text-sm">
        {moment.sends.map((one, at) => (
          <MomentSendFields
            key={at}
            given={one}
            show={show}
            open={chosen === at}
            toggle={() => choose(chosen === at ? null : at)}
            save={(next) => put(moment.sends.with(at, next))}
            remove={() => {
              choose(null);
              void put(moment.sends.toSpliced(at, 1)).catch(() => undefined);
            }}
          />
        ))}
      </ul>
      <div className="max-w-90 pt-2">
        <Choice
          label="Also send to"
          value={null}
          placeholder="Choose a line"
          options={[
            ...show.lines.filter(isSentOn).map(({ id, name }) => ({ value: id, words: name })),
            { value: SHOW, words: 'This show: banks, motions, other moments, tempo, Panic' },
          ]}
          choose={async (lineId) => {
            await put([...moment.sends, newSend(show, lineId)]);
            choose(moment.sends.length);
          }}
        />
      </div>
      <p className="pt-1 text-xs text-ink-3">
        <Plus size={12} aria-hidden className="inline" /> Everything is sent together, unless it has a delay.
      </p>
    </>
  );
}
