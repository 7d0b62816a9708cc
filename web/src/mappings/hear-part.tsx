import { FIRST_MESSAGE, hearAs, shapeFor } from '@tawny-signal/core/mapping/defaults';
import { HEAR_MESSAGES, messagesOf } from '@tawny-signal/core/mapping/hear';
import type { Show } from '@tawny-signal/core/show';
import type { Hear, HearMessage } from '@tawny-signal/core/show/hear';
import {
  readChannels,
  readNotes,
  readNumbers,
  readSlots,
  writeChannels,
  writeNotes,
  writeSpan,
} from '@tawny-signal/core/typed/range';
import { protocolOf } from '../lines/kinds';
import { Choice } from '../ui/choice';
import { KeyField } from '../ui/key-field';
import { orThrow } from '../ui/or-throw';
import { TypedField } from '../ui/typed-field';
import type { PartProps } from './part-props';

type SaveHear = (hear: Hear) => Promise<unknown>;

export function HearPart({ mapping, show, save }: PartProps) {
  const { hear } = mapping;
  const protocol = protocolOf(show.lines.find((candidate) => candidate.id === hear.lineId));
  const messages = protocol ? messagesOf(protocol) : (Object.keys(HEAR_MESSAGES) as HearMessage[]);

  /** Another message can carry other values, so the shape begins anew where they differ. */
  function saveMessage(message: HearMessage, lineId = hear.lineId): Promise<unknown> {
    const next = { ...hearAs(message, hear), lineId };
    const before = shapeFor(hear.message);
    const after = shapeFor(message);
    return save(
      JSON.stringify(before) === JSON.stringify(after)
        ? { hear: next }
        : { hear: next, shape: { ...after, out: mapping.shape.out, curve: mapping.shape.curve } },
    );
  }
  function chooseLine(lineId: string): Promise<unknown> {
    const carried = protocolOf(show.lines.find((candidate) => candidate.id === lineId));
    if (carried && HEAR_MESSAGES[hear.message].protocol !== carried)
      return saveMessage(FIRST_MESSAGE[carried], lineId);
    return save({ hear: { ...hear, lineId } });
  }

  return (
    <>
      <Choice
        label="Line"
        value={hear.lineId}
        placeholder="Choose a line"
        options={show.lines.map(({ id, name }) => ({ value: id, words: name }))}
        choose={chooseLine}
      />
      <Choice
        label="Message"
        value={hear.message}
        options={messages.map((message) => ({ value: message, words: HEAR_MESSAGES[message].words }))}
        choose={(message) => saveMessage(message)}
      />
      <MessageFields hear={hear} show={show} save={(next) => save({ hear: next })} />
    </>
  );
}

function MessageFields({ hear, show, save }: { hear: Hear; show: Show; save: SaveHear }) {
  switch (hear.message) {
    case 'osc':
      return (
        <TypedField label="Address" value={hear.address} commit={(address) => save({ ...hear, address })} />
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
    default:
      return <MidiFields hear={hear} show={show} save={save} />;
  }
}

type MidiHear = Extract<Hear, { channels: unknown }>;

function MidiFields({ hear, show, save }: { hear: MidiHear; show: Show; save: SaveHear }) {
  const info = HEAR_MESSAGES[hear.message];
  const { middleC } = show.settings;
  const isNote = info.number === 'Note';
  return (
    <>
      <TypedField
        label="Channel"
        value={writeChannels(hear.channels)}
        commit={(text) => save({ ...hear, channels: orThrow(readChannels(text)) })}
      />
      {'numbers' in hear && info.number && (
        <TypedField
          label={info.number}
          value={isNote ? writeNotes(hear.numbers, middleC) : writeSpan(hear.numbers)}
          commit={(text) => {
            const plain = text.replace(/\s*\(.*\)$/, '');
            return save({
              ...hear,
              numbers: orThrow(
                isNote ? readNotes(plain, middleC) : readNumbers(plain, `A ${info.number!.toLowerCase()}`),
              ),
            });
          }}
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
