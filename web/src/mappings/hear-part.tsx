import { hearAs, shapeFor } from '@tawny-signal/core/mapping/defaults';
import { HEAR_MESSAGES } from '@tawny-signal/core/mapping/hear';
import type { Hear, HearMessage, Show } from '@tawny-signal/core/show';
import {
  readChannels,
  readNotes,
  readNumbers,
  writeChannels,
  writeNotes,
  writeSpan,
} from '@tawny-signal/core/typed/range';
import { isMidiLine } from '../lines/kinds';
import { Choice } from '../ui/choice';
import { orThrow } from '../ui/or-throw';
import { TypedField } from '../ui/typed-field';
import type { PartProps } from './part-props';

const MIDI_MESSAGES = (Object.keys(HEAR_MESSAGES) as HearMessage[]).filter((message) => message !== 'osc');

export function HearPart({ mapping, show, save }: PartProps) {
  const { hear } = mapping;
  const line = show.lines.find((candidate) => candidate.id === hear.lineId);
  const messages: HearMessage[] =
    line && !isMidiLine(line) ? ['osc'] : line ? MIDI_MESSAGES : [...MIDI_MESSAGES, 'osc'];

  /** Another message can carry other values, so the shape begins anew where they differ. */
  function saveMessage(message: HearMessage, lineId = hear.lineId): Promise<unknown> {
    const next = { ...hearAs(message, hear), lineId };
    const before = shapeFor(hear.message);
    const after = shapeFor(message);
    return save(
      JSON.stringify(before) === JSON.stringify(after) ? { hear: next } : { hear: next, shape: after },
    );
  }
  function chooseLine(lineId: string): Promise<unknown> {
    const midi = isMidiLine(show.lines.find((candidate) => candidate.id === lineId));
    if (midi && hear.message === 'osc') return saveMessage('pressed', lineId);
    if (!midi && hear.message !== 'osc') return saveMessage('osc', lineId);
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
      {hear.message === 'osc' ? (
        <TypedField
          label="Address"
          value={hear.address}
          commit={(address) => save({ hear: { ...hear, address } })}
        />
      ) : (
        <MidiFields hear={hear} show={show} save={(next) => save({ hear: next })} />
      )}
    </>
  );
}

type MidiHear = Exclude<Hear, { message: 'osc' }>;

function MidiFields({
  hear,
  show,
  save,
}: {
  hear: MidiHear;
  show: Show;
  save: (hear: Hear) => Promise<unknown>;
}) {
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
