/** The forms for MIDI show control. */
import {
  COMMAND_WORDS,
  encodeShowControl,
  namesCue,
  SHOW_COMMANDS,
  SHOW_FORMATS,
  type ShowCommand,
} from '@tawny-signal/core/midi/show-control';
import type { SendOf } from '@tawny-signal/core/sends';
import { readWhole } from '@tawny-signal/core/typed/range';
import { Choice } from '../ui/choice';
import { orThrow } from '../ui/or-throw';
import { TimeField } from '../ui/time-field';
import { TypedField } from '../ui/typed-field';

export const SHOW_COMMAND_OPTIONS = (Object.keys(COMMAND_WORDS) as ShowCommand[]).map((command) => ({
  value: command,
  words: COMMAND_WORDS[command],
}));
const FORMATS = Object.entries(SHOW_FORMATS).map(([format, words]) => ({ value: format, words }));
const ALL = 127;

interface DeviceFieldProps<None extends string | null> {
  /** The word for any device, if that is allowed. */
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
      {send.command === 'timedGo' && (
        <TimeField
          label="In"
          ms={send.timeMs}
          unit="s"
          highMs={86_399_000}
          hint="The time that the cue takes."
          commit={(timeMs) => save({ ...send, timeMs })}
        />
      )}
      {send.command === 'set' && (
        <TypedField
          label="Control"
          value={String(send.control)}
          hint="0 to 1023; the value is 0 to 16383."
          commit={(text) => save({ ...send, control: orThrow(readWhole(text, 'A control', 0, 1023)) })}
        />
      )}
      {namesCue(send.command) && (
        <>
          <TypedField
            label="Cue"
            value={send.cue}
            placeholder="none"
            commit={(cue) => save({ ...send, cue })}
          />
          <TypedField
            label="List"
            value={send.list}
            placeholder="none"
            commit={(list) => save({ ...send, list })}
          />
        </>
      )}
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
      <Bytes send={send} />
    </>
  );
}

/** Shows the bytes of the message beside its form. */
function Bytes({ send }: { send: ShowControl }) {
  const bytes = encodeShowControl({ ...send, command: SHOW_COMMANDS[send.command] });
  return (
    <div className="grid grid-cols-[84px_minmax(0,1fr)] gap-x-3 py-0.5 text-sm">
      <span className="text-ink-2">Bytes</span>
      <code
        aria-label="Bytes of the message"
        className="font-mono text-xs leading-5 break-words text-tawny-2"
      >
        {Array.from(bytes, (byte) => byte.toString(16).toUpperCase().padStart(2, '0')).join(' ')}
        {send.command === 'set' && <span className="text-ink-3"> with the value in the place of 00 00</span>}
      </code>
    </div>
  );
}
