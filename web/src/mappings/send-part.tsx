/** The sends of a mapping. One of them is open at a time. */
import { isSentOn } from '@tawny-signal/core/show/line';
import { Play, Plus, Trash2 } from 'lucide-react';
import { useState } from 'react';
import {
  rangeOf,
  sendAs,
  SENDS,
  sendTitle,
  MOST_SENDS,
  type Send,
  type SendKind,
} from '@tawny-signal/core/sends';
import type { Hear } from '@tawny-signal/core/hears';
import type { Show } from '@tawny-signal/core/show';
import type { Mapping } from '@tawny-signal/core/show/mapping';
import { readScale, writeScale } from '@tawny-signal/core/typed/range';
import { protocolOf } from '../lines/kinds';
import { useLive } from '../live/live';
import { Button, IconButton } from '../ui/button';
import { Choice } from '../ui/choice';
import { HoldButton } from '../ui/hold-button';
import { orThrow } from '../ui/or-throw';
import { SpanField } from '../ui/span-field';
import { TypedField } from '../ui/typed-field';
import type { PartProps } from './part-props';
import { SendFields } from './send-fields';
import { kindsOf } from './send-kinds';

/** The entry for the show itself in the list of lines. */
const SHOW = 'show';

/** A send that sounds until it is released needs a mapping that hears releases, if there is one. */
const HELD_INSTEAD: Partial<Record<Hear['message'], Hear['message']>> = {
  pressed: 'held',
  keyPressed: 'keyHeld',
};

export function SendPart(props: PartProps) {
  const { mapping, show, save } = props;
  const { sends } = mapping;
  const [chosen, choose] = useState(0);
  const at = Math.max(0, Math.min(chosen, sends.length - 1));
  const send = sends[at];
  const [adding, setAdding] = useState(false);
  if (!send) return <FirstSend {...props} />;

  /** Adds a send. One of the same kind as the first gets the shaped value as it is, another one its own range. */
  async function add(next: Send): Promise<void> {
    const range = next.kind === sends[0]!.kind ? null : rangeOf(next);
    await save({ ...heldFor(mapping, next), sends: [...sends, { ...next, range }] });
    setAdding(false);
    choose(sends.length);
  }

  return (
    <>
      {(sends.length > 1 || adding) && (
        <div role="tablist" aria-label="What it sends" className="flex flex-wrap gap-1 pb-1">
          {sends.map((one, place) => (
            <button
              key={place}
              type="button"
              role="tab"
              aria-selected={!adding && place === at}
              title={sendTitle(one, show.settings.middleC)}
              onClick={() => {
                setAdding(false);
                choose(place);
              }}
              className={`min-h-8 max-w-40 min-w-8 truncate rounded px-2 text-xs ${!adding && place === at ? 'bg-bark-2 font-semibold text-tawny-2' : 'text-ink-2 hover:bg-bark-2'}`}
            >
              {place + 1} {sendTitle(one, show.settings.middleC)}
            </button>
          ))}
        </div>
      )}
      {adding ? <NewSend show={show} save={add} /> : <OneSend key={at} {...props} at={at} send={send} />}
      <div className="flex items-center gap-1 pl-22">
        {adding && <Button onClick={() => setAdding(false)}>Cancel</Button>}
        {!adding && sends.length < MOST_SENDS && (
          <Button look="bare" onClick={() => setAdding(true)}>
            <Plus size={14} aria-hidden /> Add a send
          </Button>
        )}
        {!adding && (
          <IconButton
            label={`Remove this send: ${sendTitle(send, show.settings.middleC)}`}
            onClick={() => void save(without(mapping, at)).catch(() => undefined)}
          >
            <Trash2 size={14} aria-hidden className="text-brick" />
          </IconButton>
        )}
      </div>
    </>
  );
}

/** Removes a send from a mapping. If it was the first, the shape gets the range of the new first one. */
function without(mapping: Mapping, at: number): Partial<Mapping> {
  const sends = mapping.sends.toSpliced(at, 1);
  if (at > 0 || !sends[0]?.range) return { sends };
  const out = sends[0].range;
  return { sends: sends.with(0, { ...sends[0], range: null }), shape: { ...mapping.shape, out } };
}

/** The hear of a mapping, changed so that a send which sounds is released too. */
function heldFor({ hear }: Mapping, send: Send): Pick<Mapping, 'hear'> | Record<string, never> {
  const held = HELD_INSTEAD[hear.message];
  return SENDS[send.kind].holds && held ? { hear: { ...hear, message: held } as Hear } : {};
}

/** A mapping that sends nothing yet: the first choice is where to. */
function FirstSend({ mapping, show, save }: PartProps) {
  return (
    <>
      <p className="pb-1 text-sm text-straw">It sends nothing yet. Choose where to.</p>
      <NewSend
        show={show}
        save={(send) =>
          save({
            ...heldFor(mapping, send),
            sends: [send],
            shape: { ...mapping.shape, out: rangeOf(send) },
          })
        }
      />
    </>
  );
}

/** A send that is made once it is known where to: nothing is sent to an address that nobody has written. */
function NewSend({ show, save }: { show: Show; save: (send: Send) => Promise<unknown> }) {
  /** A line of OSC that was chosen, and whose address is still to be said. */
  const [oscLine, setOscLine] = useState<string | null>(null);
  async function begin(lineId: string): Promise<void> {
    const carried = protocolOf(show.lines.find((line) => line.id === lineId));
    if (carried === 'osc') return setOscLine(lineId);
    await save(carried ? sendAs(kindsOf(carried)[0]!, lineId) : sendAs('bank', null));
  }
  return (
    <>
      <LineChoice show={show} value={oscLine} choose={begin} />
      {oscLine !== null && <NewAddress commit={(address) => save({ ...sendAs('osc', oscLine), address })} />}
    </>
  );
}

const NewAddress = ({ commit }: { commit: (address: string) => unknown }) => (
  <TypedField
    label="Address"
    value=""
    placeholder="like /fog/density"
    hint="It is sent as soon as it has an address."
    commit={commit}
  />
);

interface LineChoiceProps {
  show: Show;
  value: string | null;
  choose: (lineId: string) => Promise<unknown>;
}

function LineChoice({ show, value, choose }: LineChoiceProps) {
  return (
    <Choice
      label="Line"
      value={value}
      placeholder="Choose a line"
      options={[
        ...show.lines.filter(isSentOn).map(({ id, name }) => ({ value: id, words: name })),
        { value: SHOW, words: 'This show: banks, motions, tempo, Panic' },
      ]}
      choose={choose}
      hint={show.lines.length > 0 ? undefined : 'There is no line yet: add one under Lines.'}
    />
  );
}

function OneSend({ mapping, show, save, at, send }: PartProps & { at: number; send: Send }) {
  /** The line of an OSC message that is to take its place, and whose address is still to be said; undefined for none. */
  const [oscLine, setOscLine] = useState<string | null | undefined>(undefined);
  const protocol = protocolOf(show.lines.find((candidate) => candidate.id === send.lineId));
  const own = SENDS[send.kind].protocol === null;
  const kinds = own ? kindsOf(null) : protocol ? kindsOf(protocol) : (Object.keys(SENDS) as SendKind[]);
  const put = (next: Send): Promise<unknown> => save({ sends: mapping.sends.with(at, next) });

  /** Changes the kind of a send, and its range. The range of the first send belongs to the shape. */
  function putAnother(next: Send): Promise<unknown> {
    const out = rangeOf(next);
    const change: Partial<Mapping> =
      at === 0
        ? { sends: mapping.sends.with(0, { ...next, range: null }), shape: { ...mapping.shape, out } }
        : { sends: mapping.sends.with(at, { ...next, range: out }) };
    return save({ ...heldFor(mapping, next), ...change });
  }
  async function chooseKind(kind: SendKind, lineId = send.lineId): Promise<void> {
    if (kind === 'osc') return setOscLine(lineId);
    await putAnother(sendAs(kind, lineId, send));
    setOscLine(undefined);
  }
  function chooseLine(lineId: string): Promise<unknown> {
    if (lineId === SHOW) return own ? Promise.resolve() : chooseKind('bank', null);
    const carried = protocolOf(show.lines.find((candidate) => candidate.id === lineId));
    if (carried && SENDS[send.kind].protocol !== carried) return chooseKind(kindsOf(carried)[0]!, lineId);
    setOscLine(undefined);
    return put({ ...send, lineId });
  }
  /** Changes a send. If the change widens or narrows its whole range, the range follows. */
  function change(next: Send): Promise<unknown> {
    return String(rangeOf(next)) === String(rangeOf(send)) ? put(next) : putAnother(next);
  }

  return (
    <>
      <LineChoice
        show={show}
        value={oscLine === undefined ? (own ? SHOW : send.lineId) : oscLine}
        choose={chooseLine}
      />
      {oscLine !== undefined && (
        <NewAddress
          commit={async (address) => {
            await putAnother({ ...sendAs('osc', oscLine, send), address });
            setOscLine(undefined);
          }}
        />
      )}
      {oscLine === undefined && kinds.length > 1 && (
        <Choice
          label="Message"
          value={send.kind}
          options={kinds.map((kind) => ({ value: kind, words: SENDS[kind].words }))}
          choose={(kind) => chooseKind(kind)}
        />
      )}
      {oscLine === undefined && <SendFields send={send} show={show} save={change} />}
      {at > 0 && (
        <TypedField
          label="Range"
          value={send.range ? writeScale(send.range) : 'as shaped'}
          hint="The output range of this send."
          commit={(text) =>
            put({ ...send, range: /^\s*(as shaped|)\s*$/i.test(text) ? null : orThrow(readScale(text)) })
          }
        />
      )}
      <SpanField
        label="Delay"
        span={{ ms: send.delayMs, beats: send.delayBeats }}
        unit="ms"
        highMs={60_000}
        commit={({ ms, beats }) => put({ ...send, delayMs: ms, delayBeats: beats })}
      />
    </>
  );
}

/** Sends the highest value of the mapping. Releasing the button releases what is held. */
export function TryButton({ mapping }: { mapping: Mapping }) {
  const { connection } = useLive();
  return (
    <HoldButton
      look="bare"
      className="text-tawny-2!"
      title="Sends the highest value"
      press={(down) => connection.tryMapping(mapping.id, down)}
    >
      <Play size={14} aria-hidden /> Try it
    </HoldButton>
  );
}
