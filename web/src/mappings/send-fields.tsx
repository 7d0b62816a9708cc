/** What there is to set of a message that is sent; also used where a line is tried. */
import { COMMAND_WORDS, SHOW_FORMATS, type ShowCommand } from '@tawny-signal/core/midi/show-control';
import type { Send, SendOf } from '@tawny-signal/core/show/send';
import type { Show } from '@tawny-signal/core/show';
import { readMs, readNote, readWhole, writeNotes } from '@tawny-signal/core/typed/range';
import { Choice } from '../ui/choice';
import { KeyField } from '../ui/key-field';
import { orThrow } from '../ui/or-throw';
import { TypedField } from '../ui/typed-field';
import { OscFields } from './osc-fields';

export type SaveSend = (send: Send) => Promise<unknown>;

interface SendFieldsProps {
  send: Send;
  show: Show;
  save: SaveSend;
}

export function SendFields({ send, show, save }: SendFieldsProps) {
  switch (send.kind) {
    case 'osc':
      return <OscFields send={send} save={save} />;
    case 'slot':
      return (
        <>
          <TypedField
            label="Slot"
            value={String(send.slot)}
            commit={(text) => save({ ...send, slot: orThrow(readWhole(text, 'A slot', 1, 512)) })}
          />
          <Choice
            label="Resolution"
            value={send.fine ? 'fine' : 'coarse'}
            options={[
              { value: 'coarse' as const, words: '8-bit: one slot' },
              { value: 'fine' as const, words: '16-bit: this slot and the next' },
            ]}
            choose={(resolution) => save({ ...send, fine: resolution === 'fine' })}
          />
        </>
      );
    case 'key':
      return (
        <>
          <KeyField label="Key" code={send.code} choose={(code) => save({ ...send, code })} />
          <TypedField
            label="Again every"
            value={send.repeatMs === 0 ? 'never' : `${send.repeatMs} ms`}
            hint={send.repeatMs > 0 ? 'While it is held; let go with the control.' : undefined}
            commit={(text) =>
              save({ ...send, repeatMs: /^\s*(never|)\s*$/i.test(text) ? 0 : orThrow(readMs(text, 60_000)) })
            }
          />
        </>
      );
    case 'sysex':
      return (
        <TypedField
          label="Bytes"
          value={send.template}
          hint="vv is the value; hh ll its high and low seven bits; | and ck a checksum."
          commit={(template) => save({ ...send, template })}
        />
      );
    case 'showControl':
      return <ShowControlFields send={send} save={save} />;
    default:
      return <ChannelFields send={send} show={show} save={save} />;
  }
}

type ChannelSend = Extract<Send, { channel: number }>;

function ChannelFields({ send, show, save }: { send: ChannelSend; show: Show; save: SaveSend }) {
  return (
    <>
      <TypedField
        label="Channel"
        value={String(send.channel + 1)}
        commit={(text) => save({ ...send, channel: orThrow(readWhole(text, 'A channel', 1, 16)) - 1 })}
      />
      {send.kind === 'note' && <NoteFields send={send} show={show} save={save} />}
      {(send.kind === 'control' || send.kind === 'control14') && (
        <TypedField
          label="Controller"
          value={String(send.number)}
          hint={send.kind === 'control14' ? `Its low seven bits go to ${send.number + 32}.` : undefined}
          commit={(text) =>
            save({
              ...send,
              number: orThrow(readWhole(text, 'A controller', 0, send.kind === 'control' ? 127 : 31)),
            })
          }
        />
      )}
      {send.kind === 'parameter' && (
        <>
          <Choice
            label="Parameter"
            value={send.registered ? 'rpn' : 'nrpn'}
            options={[
              { value: 'rpn' as const, words: 'Registered (RPN)' },
              { value: 'nrpn' as const, words: 'Its maker’s own (NRPN)' },
            ]}
            choose={(sort) => save({ ...send, registered: sort === 'rpn' })}
          />
          <TypedField
            label="Number"
            value={String(send.number)}
            commit={(text) => save({ ...send, number: orThrow(readWhole(text, 'A parameter', 0, 16_383)) })}
          />
        </>
      )}
    </>
  );
}

function NoteFields({ send, show, save }: { send: SendOf<'note'>; show: Show; save: SaveSend }) {
  const { middleC } = show.settings;
  return (
    <>
      <TypedField
        label="Note"
        value={writeNotes([send.number, send.number], middleC)}
        commit={(text) => save({ ...send, number: orThrow(readNote(text, middleC)) })}
      />
      <TypedField
        label="Length"
        value={send.lengthMs === null ? 'as held' : `${send.lengthMs} ms`}
        hint={send.lengthMs === null ? undefined : 'Released after that, whatever the control does.'}
        commit={(text) =>
          save({
            ...send,
            lengthMs: /^\s*(as held|held|)\s*$/i.test(text) ? null : orThrow(readMs(text, 600_000)),
          })
        }
      />
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
