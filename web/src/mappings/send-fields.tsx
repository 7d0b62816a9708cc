/** The forms of what is sent. Also used to try a line. */
import type { ReactNode } from 'react';
import { BANK_ACTS, type BankAct } from '@tawny-signal/core/show/bank';
import { momentName } from '@tawny-signal/core/show/moment-name';
import type { Send, SendKind, SendOf } from '@tawny-signal/core/sends';
import { POSITION_SEND_ACTS, type PositionSendAct } from '@tawny-signal/core/time/position';
import { readTimecode, writeTimecode } from '@tawny-signal/core/timecode/timecode';
import { readNumber, readWhole } from '@tawny-signal/core/typed/range';
import { readChordOf, readTyping, writeChord, writeTyping } from '@tawny-signal/core/typed/typing';
import { Choice } from '../ui/choice';
import { KeyField } from '../ui/key-field';
import { orThrow } from '../ui/or-throw';
import { TimeField } from '../ui/time-field';
import { TypedField } from '../ui/typed-field';
import { FollowSwitch, type FormProps } from './send-form';
import {
  ChannelField,
  Control14Fields,
  ControlFields,
  NoteFields,
  ParameterFields,
} from './send-midi-fields';
import { MotionFields } from './motion-send-fields';
import { OscFields } from './osc-fields';
import { ShowControlSend } from './show-control-fields';
import { SpanField } from '../ui/span-field';
import { isNone } from '@tawny-signal/core/time/span';

/** The form of each kind of send (core/sends). */
const FORMS: { [K in SendKind]: (props: FormProps<SendOf<K>>) => ReactNode } = {
  osc: OscFields,
  note: NoteFields,
  control: ControlFields,
  control14: Control14Fields,
  parameter: ParameterFields,
  program: ChannelField,
  bend: ChannelField,
  pressure: ChannelField,
  showControl: ShowControlSend,
  sysex: SysexFields,
  slot: SlotFields,
  key: KeySendFields,
  typing: TypingFields,
  bank: BankFields,
  call: CallFields,
  tempo: TempoFields,
  position: PositionFields,
  motion: MotionFields,
  tap: () => <p className="py-1.5 pl-24 text-ink-2">Each press is a beat; two presses set the tempo.</p>,
  panic: () => (
    <p className="py-1.5 pl-24 text-ink-2">
      Releases everything that sounds or is held, like the Panic button.
    </p>
  ),
};

export function SendFields({ heard = true, ...props }: Omit<FormProps<Send>, 'heard'> & { heard?: boolean }) {
  const Form = FORMS[props.send.kind] as (props: FormProps<Send>) => ReactNode;
  return <Form {...props} heard={heard} />;
}

function TypingFields({ send, save }: FormProps<SendOf<'typing'>>) {
  return (
    <>
      <TypedField
        label="Keys"
        value={writeTyping(send.steps)}
        hint="With commas between, and pauses, like Left Ctrl+S, 200 ms, Enter."
        commit={(text) => save({ ...send, steps: orThrow(readTyping(text)) })}
      />
      <TapField ms={send.tapMs} commit={(tapMs) => save({ ...send, tapMs })} />
    </>
  );
}

function TapField({ ms, commit }: { ms: number; commit: (ms: number) => unknown }) {
  return (
    <TimeField
      label="Stays down"
      ms={ms}
      unit="ms"
      highMs={10_000}
      hint="Slow programs miss a key that is pressed and released at once."
      commit={commit}
    />
  );
}

function SysexFields({ send, save }: FormProps<SendOf<'sysex'>>) {
  return (
    <TypedField
      label="Bytes"
      value={send.template}
      hint="vv is the value; hh ll its high and low seven bits; | and ck a checksum."
      commit={(template) => save({ ...send, template })}
    />
  );
}

const BANK_ACT_WORDS: Record<BankAct, string> = {
  on: 'Switch on',
  off: 'Switch off',
  toggle: 'On, then off',
  only: 'On, and all others off',
};

function BankFields({ send, show, save }: FormProps<SendOf<'bank'>>) {
  return (
    <>
      <Choice
        label="Bank"
        value={send.bankId}
        placeholder="Choose a bank"
        options={show.banks.map(({ id, name }) => ({ value: id, words: name }))}
        hint={show.banks.length > 0 ? undefined : 'There is no bank yet: add one above the sheet.'}
        choose={(bankId) => save({ ...send, bankId })}
      />
      <Choice
        label="Each press"
        value={send.act}
        options={BANK_ACTS.map((act) => ({ value: act, words: BANK_ACT_WORDS[act] }))}
        choose={(act) => save({ ...send, act })}
      />
    </>
  );
}

const CALL_WORDS = {
  call: 'Call it: the next one stands by',
  run: 'Run it: the standby stays',
  stop: 'Stop it',
} as const;
const NONE_WORDS = { call: 'Go', run: 'What stands by', stop: 'Everything running' } as const;
type CallAct = keyof typeof CALL_WORDS;

function CallFields({ send, show, save }: FormProps<SendOf<'call'>>) {
  return (
    <>
      <Choice
        label="Act"
        value={send.act}
        options={(Object.keys(CALL_WORDS) as CallAct[]).map((act) => ({
          value: act,
          words: CALL_WORDS[act],
        }))}
        choose={(act) => save({ ...send, act })}
      />
      <Choice
        label="Moment"
        value={send.momentId ?? 'none'}
        options={[
          { value: 'none', words: NONE_WORDS[send.act] },
          ...show.moments.map((moment) => ({ value: moment.id, words: momentName(moment) })),
        ]}
        choose={(momentId) => save({ ...send, momentId: momentId === 'none' ? null : momentId })}
      />
    </>
  );
}

function TempoFields({ send, save }: FormProps<SendOf<'tempo'>>) {
  return (
    <TypedField
      label="In beats"
      value={send.beats === 0 ? 'at once' : String(send.beats)}
      hint="The value is the tempo, 20 to 400. It gets there in so many beats."
      commit={(text) =>
        save({
          ...send,
          beats: /^\s*(at once|0)?\s*$/.test(text) ? 0 : orThrow(readNumber(text, 'A number of beats')),
        })
      }
    />
  );
}

const POSITION_WORDS: Record<PositionSendAct, string> = {
  play: 'Play from where it is',
  stop: 'Stop it',
  locate: 'Go to a timecode',
  playFrom: 'Play from a timecode',
  callsOn: 'Call moments by timecode',
  callsOff: 'Call no moments by timecode',
};

function PositionFields({ send, show, save }: FormProps<SendOf<'position'>>) {
  const rate = show.settings.timecode.frameRate;
  return (
    <>
      <Choice
        label="Act"
        value={send.act}
        options={POSITION_SEND_ACTS.map((act) => ({ value: act, words: POSITION_WORDS[act] }))}
        choose={(act) => save({ ...send, act })}
      />
      {(send.act === 'locate' || send.act === 'playFrom') && (
        <TypedField
          label="Timecode"
          value={send.timecode}
          commit={(text) =>
            save({ ...send, timecode: writeTimecode(orThrow(readTimecode(text, rate)), rate) })
          }
        />
      )}
    </>
  );
}

const PARTS = [
  { value: 'level' as const, words: 'The shaped level' },
  { value: 'red' as const, words: 'Red of the colour' },
  { value: 'green' as const, words: 'Green of the colour' },
  { value: 'blue' as const, words: 'Blue of the colour' },
];

function SlotFields({ send, save, heard, fades = true }: FormProps<SendOf<'slot'>>) {
  return (
    <>
      <TypedField
        label="Slot"
        value={String(send.slot)}
        commit={(text) => save({ ...send, slot: orThrow(readWhole(text, 'A slot', 1, 512)) })}
      />
      {heard && <FollowSwitch send={send} save={save} />}
      <Choice
        label="Resolution"
        value={send.fine ? 'fine' : 'coarse'}
        options={[
          { value: 'coarse' as const, words: '8-bit: one slot' },
          { value: 'fine' as const, words: '16-bit: this slot and the next' },
        ]}
        choose={(resolution) => save({ ...send, fine: resolution === 'fine' })}
      />
      <Choice label="Carries" value={send.part} options={PARTS} choose={(part) => save({ ...send, part })} />
      {heard && fades && (
        <SpanField
          label="Fade"
          span={{ ms: send.fadeMs, beats: send.fadeBeats }}
          unit="s"
          highMs={600_000}
          none={{ words: 'none', commit: () => save({ ...send, fadeMs: 0, fadeBeats: null }) }}
          commit={({ ms, beats }) => save({ ...send, fadeMs: ms, fadeBeats: beats })}
        />
      )}
    </>
  );
}

function KeySendFields({ send, save, heard }: FormProps<SendOf<'key'>>) {
  const repeat = { ms: send.repeatMs, beats: send.repeatBeats };
  const repeats = !isNone(repeat);
  return (
    <>
      <KeyField label="Key" code={send.code} choose={(code) => save({ ...send, code })} />
      <TypedField
        label="Held with"
        value={writeChord(send.with)}
        placeholder="no other key"
        hint={send.with.length > 0 ? 'Pressed before it and released after it.' : undefined}
        commit={(text) => save({ ...send, with: text.trim() === '' ? [] : orThrow(readChordOf(text)) })}
      />
      {heard && (
        <Choice
          label="While held"
          value={send.tap ? 'tap' : repeats ? 'repeat' : 'hold'}
          options={[
            { value: 'hold' as const, words: 'Hold down' },
            { value: 'repeat' as const, words: 'Repeat while held' },
            { value: 'tap' as const, words: 'Tap once' },
          ]}
          choose={(way) =>
            save({
              ...send,
              tap: way === 'tap',
              repeatMs: way === 'repeat' ? send.repeatMs || 120 : 0,
              repeatBeats: way === 'repeat' ? send.repeatBeats : null,
            })
          }
        />
      )}
      {(send.tap || !heard) && <TapField ms={send.tapMs} commit={(tapMs) => save({ ...send, tapMs })} />}
      {heard && repeats && (
        <SpanField
          label="Repeat every"
          span={repeat}
          unit="ms"
          highMs={60_000}
          hint="Until the control is released."
          commit={({ ms, beats }) => save({ ...send, repeatMs: ms, repeatBeats: beats })}
        />
      )}
    </>
  );
}
