/** What there is to set of a message that is heard. */
import { HEAR_MESSAGES } from '@tawny-signal/core/mapping/hear';
import type { Show } from '@tawny-signal/core/show';
import type { Hear } from '@tawny-signal/core/show/hear';
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

interface HearFieldsProps {
  hear: Hear;
  show: Show;
  save: (hear: Hear) => Promise<unknown>;
}

export function HearFields({ hear, show, save }: HearFieldsProps) {
  switch (hear.message) {
    case 'osc':
      return (
        <>
          <TypedField
            label="Address"
            value={hear.address}
            hint={
              /[?*[{]/.test(hear.address) ? 'What it leaves open can be sent on, as {1}, {2} …' : undefined
            }
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
    case 'keyPressed':
    case 'keyHeld':
      return <KeyField label="Key" code={hear.code} choose={(code) => save({ ...hear, code })} />;
    case 'slot':
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
    case 'sysex':
      return (
        <TypedField
          label="Bytes"
          value={hear.template}
          hint="vv is the value; hh ll its high and low seven bits; xx any byte; | and ck a checksum."
          commit={(template) => save({ ...hear, template })}
        />
      );
    case 'showControl':
      return <ShowControlHear hear={hear} save={save} />;
    default:
      return <MidiFields hear={hear} show={show} save={save} />;
  }
}

function ShowControlHear({
  hear,
  save,
}: {
  hear: Extract<Hear, { message: 'showControl' }>;
  save: HearFieldsProps['save'];
}) {
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
        hint="What is meant for this device, or for all; or any."
        choose={(device) => save({ ...hear, device })}
      />
    </>
  );
}

type MidiHear = Exclude<
  Hear,
  { message: 'osc' | 'slot' | 'keyPressed' | 'keyHeld' | 'sysex' | 'showControl' }
>;

const NUMBERS_TO: Partial<Record<Hear['message'], number>> = { control14: 31 };

function MidiFields({ hear, show, save }: { hear: MidiHear; show: Show; save: HearFieldsProps['save'] }) {
  const info = HEAR_MESSAGES[hear.message];
  const { middleC } = show.settings;
  const isNote = info.number === 'Note';
  function readTheNumbers(text: string): 'any' | [number, number] {
    const plain = text.replace(/\s*\(.*\)$/, '');
    const what = `A ${info.number!.toLowerCase()}`;
    return orThrow(
      isNote ? readNotes(plain, middleC) : readNumbers(plain, what, NUMBERS_TO[hear.message] ?? 127),
    );
  }
  return (
    <>
      <TypedField
        label="Channel"
        value={writeChannels(hear.channels)}
        commit={(text) => save({ ...hear, channels: orThrow(readChannelSet(text)) })}
      />
      {hear.message === 'parameter' && <ParameterFields hear={hear} save={save} />}
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
              ? 'Only this exact one: are you sure nobody plays it harder?'
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

function ParameterFields({
  hear,
  save,
}: {
  hear: Extract<Hear, { message: 'parameter' }>;
  save: HearFieldsProps['save'];
}) {
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
  { value: 'nrpn' as const, words: 'Its maker’s own (NRPN)' },
];
