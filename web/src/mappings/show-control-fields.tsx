/** What there is to set of MIDI show control. */
import { COMMAND_WORDS, SHOW_FORMATS, type ShowCommand } from '@tawny-signal/core/midi/show-control';
import type { SendOf } from '@tawny-signal/core/show/send';
import { readWhole } from '@tawny-signal/core/typed/range';
import { Choice } from '../ui/choice';
import { orThrow } from '../ui/or-throw';
import { TypedField } from '../ui/typed-field';

export const SHOW_COMMAND_OPTIONS = (Object.keys(COMMAND_WORDS) as ShowCommand[]).map((command) => ({
  value: command,
  words: COMMAND_WORDS[command],
}));
const FORMATS = Object.entries(SHOW_FORMATS).map(([format, words]) => ({ value: format, words }));
const ALL = 127;

interface DeviceFieldProps<None extends string | null> {
  /** A word for no device in particular, where there can be none. */
  none: None;
  device: number | null;
  hint: string;
  choose: (device: None extends null ? number : number | null) => Promise<unknown>;
}

export function DeviceField<None extends string | null>({
  none,
  device,
  hint,
  choose,
}: DeviceFieldProps<None>) {
  const shown = device === null ? (none ?? '') : device === ALL ? 'all' : String(device);
  function read(text: string): number | null {
    const word = text.trim().toLowerCase();
    if (none !== null && (word === none || word === '')) return null;
    return word === 'all' ? ALL : orThrow(readWhole(text, 'A device', 0, 127));
  }
  return (
    <TypedField
      label="Device"
      value={shown}
      hint={hint}
      commit={(text) => choose(read(text) as None extends null ? number : number | null)}
    />
  );
}

type ShowControl = SendOf<'showControl'>;

export function ShowControlSend({
  send,
  save,
}: {
  send: ShowControl;
  save: (send: ShowControl) => Promise<unknown>;
}) {
  return (
    <>
      <Choice
        label="Command"
        value={send.command}
        options={SHOW_COMMAND_OPTIONS}
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
      <DeviceField
        none={null}
        device={send.device}
        hint="0 to 111, or all."
        choose={(device) => save({ ...send, device })}
      />
    </>
  );
}
