/** The form of one send: its line, its message and its fields. What it belongs to says how it is saved. */
import { isSentOn } from '@tawny-signal/core/show/line';
import { Plus, Trash2 } from 'lucide-react';
import { useState } from 'react';
import {
  MOST_SENDS,
  rangeOf,
  sendAs,
  SENDS,
  sendTitle,
  type Send,
  type SendKind,
} from '@tawny-signal/core/sends';
import type { Show } from '@tawny-signal/core/show';
import { protocolOf } from '../lines/kinds';
import { Button, IconButton } from '../ui/button';
import { Choice } from '../ui/choice';
import { SpanField } from '../ui/span-field';
import { TypedField } from '../ui/typed-field';
import { SendFields } from './send-fields';
import { kindsOf } from './send-kinds';

/** The entry for the show itself in the list of lines. */
const SHOW = 'show';

/** A send that is made once it is known where to: nothing is sent to an address that nobody has written. */
export function NewSend({ show, save }: { show: Show; save: (send: Send) => Promise<unknown> }) {
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

interface SendEditorProps {
  show: Show;
  send: Send;
  /** Saves a change of the same send. */
  put: (next: Send) => Promise<unknown>;
  /** Saves another send in its place, whose whole range may be another one. */
  putAnother: (next: Send) => Promise<unknown>;
  /** Its range, if it has one of its own. */
  range: React.ReactNode;
  /** False if it never fades. */
  fades?: boolean;
}

export function SendEditor({ show, send, put, putAnother, range, fades = true }: SendEditorProps) {
  /** The line of an OSC message that is to take its place, and whose address is still to be said; undefined for none. */
  const [oscLine, setOscLine] = useState<string | null | undefined>(undefined);
  const protocol = protocolOf(show.lines.find((candidate) => candidate.id === send.lineId));
  const own = SENDS[send.kind].protocol === null;
  const kinds = own ? kindsOf(null) : protocol ? kindsOf(protocol) : (Object.keys(SENDS) as SendKind[]);

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
      {oscLine === undefined && <SendFields send={send} show={show} save={change} fades={fades} />}
      {range}
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

interface SendTabsProps {
  show: Show;
  sends: readonly Send[];
  /** Saves one that was added. */
  add: (send: Send) => Promise<unknown>;
  remove: (at: number) => unknown;
  /** The form of one of them. */
  children: (send: Send, at: number) => React.ReactNode;
}

/** Several sends, of which one is open at a time. */
export function SendTabs({ show, sends, add, remove, children }: SendTabsProps) {
  const [chosen, choose] = useState(0);
  const [adding, setAdding] = useState(false);
  const at = Math.max(0, Math.min(chosen, sends.length - 1));
  const send = sends[at]!;
  const { middleC } = show.settings;
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
              title={sendTitle(one, middleC)}
              onClick={() => {
                setAdding(false);
                choose(place);
              }}
              className={`min-h-8 max-w-40 min-w-8 truncate rounded px-2 text-xs ${!adding && place === at ? 'bg-bark-2 font-semibold text-tawny-2' : 'text-ink-2 hover:bg-bark-2'}`}
            >
              {place + 1} {sendTitle(one, middleC)}
            </button>
          ))}
        </div>
      )}
      {adding ? (
        <NewSend
          show={show}
          save={async (next) => {
            await add(next);
            setAdding(false);
            choose(sends.length);
          }}
        />
      ) : (
        children(send, at)
      )}
      <div className="flex items-center gap-1 pl-22">
        {adding && <Button onClick={() => setAdding(false)}>Cancel</Button>}
        {!adding && sends.length < MOST_SENDS && (
          <Button needs="edit" look="bare" onClick={() => setAdding(true)}>
            <Plus size={14} aria-hidden /> Add a send
          </Button>
        )}
        {!adding && (
          <IconButton
            needs="edit"
            label={`Remove this send: ${sendTitle(send, middleC)}`}
            onClick={() => void remove(at)}
          >
            <Trash2 size={14} aria-hidden className="text-brick" />
          </IconButton>
        )}
      </div>
    </>
  );
}
