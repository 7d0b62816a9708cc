import { Play } from 'lucide-react';
import { shapeFor } from '@tawny-signal/core/mapping/defaults';
import { sendAs, SENDS } from '@tawny-signal/core/mapping/sends';
import { COMMAND_WORDS, SHOW_FORMATS, type ShowCommand } from '@tawny-signal/core/midi/show-control';
import type { Protocol } from '@tawny-signal/core/show/line';
import type { Hear, Mapping, Send, SendKind, SendOf } from '@tawny-signal/core/show/mapping';
import type { Show } from '@tawny-signal/core/show';
import { readNote, readWhole, writeNotes } from '@tawny-signal/core/typed/range';
import { protocolOf } from '../lines/kinds';
import { useLive } from '../live/live';
import { Choice } from '../ui/choice';
import { HoldButton } from '../ui/hold-button';
import { KeyField } from '../ui/key-field';
import { orThrow } from '../ui/or-throw';
import { TypedField } from '../ui/typed-field';
import { OscFields } from './osc-fields';
import type { PartProps } from './part-props';

const kindsOf = (protocol: Protocol): SendKind[] =>
  (Object.keys(SENDS) as SendKind[]).filter((kind) => SENDS[kind].protocol === protocol);

/** What sounds until it is released needs a release to be heard, where one can be. */
const HELD_INSTEAD: Partial<Record<Hear['message'], Hear['message']>> = {
  pressed: 'held',
  keyPressed: 'keyHeld',
};

export function SendPart({ mapping, show, save }: PartProps) {
  const { send, hear } = mapping;
  const protocol = protocolOf(show.lines.find((candidate) => candidate.id === send.lineId));
  const kinds = protocol ? kindsOf(protocol) : (Object.keys(SENDS) as SendKind[]);

  function chooseKind(kind: SendKind, lineId = send.lineId): Promise<unknown> {
    const change: Partial<Mapping> = {
      send: sendAs(kind, lineId, send),
      shape: { ...mapping.shape, out: shapeFor(hear.message, kind).out },
    };
    const held = HELD_INSTEAD[hear.message];
    if (SENDS[kind].holds && held) change.hear = { ...hear, message: held } as Hear;
    return save(change);
  }
  function chooseLine(lineId: string): Promise<unknown> {
    const carried = protocolOf(show.lines.find((candidate) => candidate.id === lineId));
    if (carried && SENDS[send.kind].protocol !== carried) return chooseKind(kindsOf(carried)[0]!, lineId);
    return save({ send: { ...send, lineId } });
  }

  return (
    <>
      <Choice
        label="Line"
        value={send.lineId}
        placeholder="Choose a line"
        options={show.lines
          .filter((line) => line.kind !== 'keys-browser')
          .map(({ id, name }) => ({ value: id, words: name }))}
        choose={chooseLine}
        hint={show.lines.length > 0 ? undefined : 'There is no line yet: add one under Lines.'}
      />
      {kinds.length > 1 && (
        <Choice
          label="Message"
          value={send.kind}
          options={kinds.map((kind) => ({ value: kind, words: SENDS[kind].words }))}
          choose={(kind) => chooseKind(kind)}
        />
      )}
      <SendFields send={send} show={show} save={(next) => save({ send: next })} />
    </>
  );
}

type SaveSend = (send: Send) => Promise<unknown>;

/** What there is to set of a message that is sent; also used where a line is tried. */
export function SendFields({ send, show, save }: { send: Send; show: Show; save: SaveSend }) {
  switch (send.kind) {
    case 'osc':
      return <OscFields send={send} save={save} />;
    case 'slot':
      return (
        <TypedField
          label="Slot"
          value={String(send.slot)}
          commit={(text) => save({ ...send, slot: orThrow(readWhole(text, 'A slot', 1, 512)) })}
        />
      );
    case 'key':
      return <KeyField label="Key" code={send.code} choose={(code) => save({ ...send, code })} />;
    case 'showControl':
      return <ShowControlFields send={send} save={save} />;
    default:
      return <ChannelFields send={send} show={show} save={save} />;
  }
}

function ChannelFields({
  send,
  show,
  save,
}: {
  send: SendOf<'note' | 'control' | 'program'>;
  show: Show;
  save: SaveSend;
}) {
  const { middleC } = show.settings;
  return (
    <>
      <TypedField
        label="Channel"
        value={String(send.channel + 1)}
        commit={(text) => save({ ...send, channel: orThrow(readWhole(text, 'A channel', 1, 16)) - 1 })}
      />
      {send.kind === 'note' && (
        <TypedField
          label="Note"
          value={writeNotes([send.number, send.number], middleC)}
          commit={(text) => save({ ...send, number: orThrow(readNote(text, middleC)) })}
        />
      )}
      {send.kind === 'control' && (
        <TypedField
          label="Controller"
          value={String(send.number)}
          commit={(text) => save({ ...send, number: orThrow(readWhole(text, 'A controller', 0, 127)) })}
        />
      )}
    </>
  );
}

const COMMANDS = (Object.keys(COMMAND_WORDS) as ShowCommand[]).map((command) => ({
  value: command,
  words: COMMAND_WORDS[command],
}));
const FORMATS = Object.entries(SHOW_FORMATS).map(([format, words]) => ({ value: format, words }));

function ShowControlFields({ send, save }: { send: SendOf<'showControl'>; save: SaveSend }) {
  return (
    <>
      <Choice
        label="Command"
        value={send.command}
        options={COMMANDS}
        choose={(command) => save({ ...send, command })}
      />
      <TypedField label="Cue" value={send.cue} placeholder="none" commit={(cue) => save({ ...send, cue })} />
      <TypedField
        label="List"
        value={send.list}
        placeholder="none"
        commit={(list) => save({ ...send, list })}
      />
      <Choice
        label="Format"
        value={String(send.format)}
        options={FORMATS}
        choose={(format) => save({ ...send, format: Number(format) })}
      />
      <TypedField
        label="Device"
        value={send.device === 127 ? 'all' : String(send.device)}
        hint="0 to 111, or all."
        commit={(text) =>
          save({
            ...send,
            device: text.trim().toLowerCase() === 'all' ? 127 : orThrow(readWhole(text, 'A device', 0, 127)),
          })
        }
      />
    </>
  );
}

/** Sends the mapping's highest value; what is held is let go with the button. */
export function TryButton({ mapping }: { mapping: Mapping }) {
  const { connection } = useLive();
  return (
    <HoldButton
      look="bare"
      className="text-tawny-2!"
      title="Sends what the strongest press would send"
      press={(down) => connection.tryMapping(mapping.id, down)}
    >
      <Play size={14} aria-hidden /> Try it
    </HoldButton>
  );
}
