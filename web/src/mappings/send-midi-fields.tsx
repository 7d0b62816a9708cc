/** The forms of sends on MIDI lines. */
import { SENDS, type Send, type SendOf } from '@tawny-signal/core/sends';
import { readNote, readWhole, writeNotes } from '@tawny-signal/core/typed/range';
import { Choice } from '../ui/choice';
import { orThrow } from '../ui/or-throw';
import { SpanField } from '../ui/span-field';
import { TypedField } from '../ui/typed-field';
import { PARAMETER_SORTS } from './hear-fields';
import { FollowSwitch, type FormProps, type SaveSend } from './send-form';

type ChannelSend = Extract<Send, { channel: number }>;

export function ChannelField({ send, save }: { send: ChannelSend; save: SaveSend }) {
  return (
    <TypedField
      label="Channel"
      value={String(send.channel + 1)}
      commit={(text) => save({ ...send, channel: orThrow(readWhole(text, 'A channel', 1, 16)) - 1 })}
    />
  );
}

export function ControlFields({ send, save, heard }: FormProps<SendOf<'control'>>) {
  return (
    <>
      <ChannelField send={send} save={save} />
      <TypedField
        label="Controller"
        value={String(send.number)}
        commit={(text) => save({ ...send, number: orThrow(readWhole(text, 'A controller', 0, 127)) })}
      />
      {heard && <FollowSwitch send={send} save={save} />}
    </>
  );
}

export function Control14Fields({ send, save }: FormProps<SendOf<'control14'>>) {
  return (
    <>
      <ChannelField send={send} save={save} />
      <TypedField
        label="Controller"
        value={String(send.number)}
        hint={`The low seven bits go to controller ${send.number + 32}.`}
        commit={(text) => save({ ...send, number: orThrow(readWhole(text, 'A controller', 0, 31)) })}
      />
    </>
  );
}

export function ParameterFields({ send, save }: FormProps<SendOf<'parameter'>>) {
  return (
    <>
      <ChannelField send={send} save={save} />
      <Choice
        label="Parameter"
        value={send.registered ? 'rpn' : 'nrpn'}
        options={PARAMETER_SORTS}
        choose={(sort) => save({ ...send, registered: sort === 'rpn' })}
      />
      <TypedField
        label="Number"
        value={String(send.number)}
        commit={(text) => save({ ...send, number: orThrow(readWhole(text, 'A parameter', 0, 16_383)) })}
      />
    </>
  );
}

export function NoteFields({ send, show, save, heard }: FormProps<SendOf<'note'>>) {
  const unending = heard ? 'as held' : 'until stopped';
  const { middleC } = show.settings;
  const length = SENDS.note.length!(send);
  return (
    <>
      <ChannelField send={send} save={save} />
      <TypedField
        label="Note"
        value={writeNotes([send.number, send.number], middleC)}
        commit={(text) => save({ ...send, number: orThrow(readNote(text, middleC)) })}
      />
      <SpanField
        label="Length"
        span={length}
        unit={heard ? 'ms' : 's'}
        highMs={600_000}
        hint={length === null || !heard ? undefined : 'Released after that, whatever the control does.'}
        none={{ words: unending, commit: () => save({ ...send, lengthMs: null, lengthBeats: null }) }}
        commit={({ ms, beats }) => save({ ...send, lengthMs: ms, lengthBeats: beats })}
      />
      {heard && <FollowSwitch send={send} save={save} />}
    </>
  );
}
