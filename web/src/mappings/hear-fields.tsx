/** The forms of the messages that are heard. */
import type { ReactNode } from 'react';
import { HEARS, type Hear, type HearMessage, type HearOf } from '@tawny-signal/core/hears';
import type { Show } from '@tawny-signal/core/show';
import {
  readChannelSet,
  readNotes,
  readNumbers,
  readSlots,
  readWhole,
  writeChannels,
  writeNotes,
  writeSpan,
} from '@tawny-signal/core/typed/range';
import { Choice } from '../ui/choice';
import { KeyField } from '../ui/key-field';
import { orThrow } from '../ui/or-throw';
import { TypedField } from '../ui/typed-field';
import { DeviceField, SHOW_COMMAND_OPTIONS } from './show-control-fields';

interface FormProps<H> {
  hear: H;
  show: Show;
  save: (hear: Hear) => Promise<unknown>;
}

/** The form of each message (core/hears). */
const FORMS: { [M in HearMessage]: (props: FormProps<HearOf<M>>) => ReactNode } = {
  pressed: MidiFields,
  released: MidiFields,
  held: MidiFields,
  control: MidiFields,
  notePressure: MidiFields,
  program: MidiFields,
  pressure: MidiFields,
  bend: MidiFields,
  control14: (props) => <MidiFields {...props} highest={31} />,
  parameter: (props) => (
    <MidiFields {...props}>
      <ParameterFields {...props} />
    </MidiFields>
  ),
  sysex: SysexFields,
  showControl: ShowControlHear,
  osc: OscHear,
  slot: SlotFields,
  keyPressed: KeyFields,
  keyHeld: KeyFields,
};

export function HearFields(props: FormProps<Hear>) {
  const Form = FORMS[props.hear.message] as (props: FormProps<Hear>) => ReactNode;
  return <Form {...props} />;
}

function OscHear({ hear, save }: FormProps<HearOf<'osc'>>) {
  return (
    <>
      <TypedField
        label="Address"
        value={hear.address}
        hint={/[?*[{]/.test(hear.address) ? 'Open parts can be sent on as {1}, {2} …' : undefined}
        commit={(address) => save({ ...hear, address })}
      />
      <TypedField
        label="Argument"
        value={hear.argument === 0 ? 'first number' : String(hear.argument)}
        commit={(text) =>
          save({
            ...hear,
            argument: /^\s*(first number|first|)\s*$/i.test(text)
              ? 0
              : orThrow(readWhole(text, 'An argument', 1, 16)),
          })
        }
      />
    </>
  );
}

function KeyFields({ hear, save }: FormProps<HearOf<'keyPressed' | 'keyHeld'>>) {
  return <KeyField label="Key" code={hear.code} choose={(code) => save({ ...hear, code })} />;
}

function SlotFields({ hear, save }: FormProps<HearOf<'slot'>>) {
  return (
    <>
      <TypedField
        label="Slot"
        value={writeSpan(hear.slots)}
        commit={(text) => save({ ...hear, slots: orThrow(readSlots(text)) })}
      />
      <TypedField
        label="Level"
        value={writeSpan(hear.values)}
        commit={(text) => save({ ...hear, values: orThrow(readNumbers(text, 'A level', 255)) })}
      />
    </>
  );
}

function SysexFields({ hear, save }: FormProps<HearOf<'sysex'>>) {
  return (
    <TypedField
      label="Bytes"
      value={hear.template}
      hint="vv is the value; hh ll its high and low seven bits; xx any byte; | and ck a checksum."
      commit={(template) => save({ ...hear, template })}
    />
  );
}

function ShowControlHear({ hear, save }: FormProps<HearOf<'showControl'>>) {
  return (
    <>
      <Choice
        label="Command"
        value={hear.command}
        options={SHOW_COMMAND_OPTIONS}
        choose={(command) => save({ ...hear, command })}
      />
      <TypedField label="Cue" value={hear.cue} placeholder="any" commit={(cue) => save({ ...hear, cue })} />
      <TypedField
        label="List"
        value={hear.list}
        placeholder="any"
        commit={(list) => save({ ...hear, list })}
      />
      <DeviceField
        none="any"
        device={hear.device}
        hint="Messages for this device or for all; or any."
        choose={(device) => save({ ...hear, device })}
      />
    </>
  );
}

type MidiHear = Extract<Hear, { channels: unknown }>;

interface MidiFieldsProps extends FormProps<MidiHear> {
  /** The highest number that can be chosen. */
  highest?: number;
  /** Fields between the channel and the value. */
  children?: ReactNode;
}

function MidiFields({ hear, show, save, highest = 127, children }: MidiFieldsProps) {
  const info = HEARS[hear.message];
  const { middleC } = show.settings;
  const isNote = info.number === 'Note';
  function readTheNumbers(text: string): 'any' | [number, number] {
    const plain = text.replace(/\s*\(.*\)$/, '');
    const what = `A ${info.number!.toLowerCase()}`;
    return orThrow(isNote ? readNotes(plain, middleC) : readNumbers(plain, what, highest));
  }
  return (
    <>
      <TypedField
        label="Channel"
        value={writeChannels(hear.channels)}
        commit={(text) => save({ ...hear, channels: orThrow(readChannelSet(text)) })}
      />
      {children}
      {'numbers' in hear && info.number && (
        <TypedField
          label={info.number}
          value={isNote ? writeNotes(hear.numbers, middleC) : writeSpan(hear.numbers)}
          commit={(text) => save({ ...hear, numbers: readTheNumbers(text) })}
        />
      )}
      {'values' in hear && info.value && (
        <TypedField
          label={info.value.words}
          value={writeSpan(hear.values)}
          hint={
            hear.values !== 'any' && hear.values[0] === hear.values[1]
              ? 'Only this exact force. A harder or softer press does nothing.'
              : undefined
          }
          commit={(text) =>
            save({
              ...hear,
              values: orThrow(readNumbers(text, `A ${info.value!.words.toLowerCase()}`, info.value!.high)),
            })
          }
        />
      )}
    </>
  );
}

function ParameterFields({ hear, save }: FormProps<HearOf<'parameter'>>) {
  return (
    <>
      <Choice
        label="Parameter"
        value={hear.registered ? 'rpn' : 'nrpn'}
        options={PARAMETER_SORTS}
        choose={(sort) => save({ ...hear, registered: sort === 'rpn' })}
      />
      <TypedField
        label="Number"
        value={String(hear.parameter)}
        commit={(text) => save({ ...hear, parameter: orThrow(readWhole(text, 'A parameter', 0, 16_383)) })}
      />
    </>
  );
}

export const PARAMETER_SORTS = [
  { value: 'rpn' as const, words: 'Registered (RPN)' },
  { value: 'nrpn' as const, words: 'Manufacturer’s (NRPN)' },
];
