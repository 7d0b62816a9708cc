import { CARRIES, isMapped, type MappedProtocol } from '@tawny-signal/core/show/line';
import { FIRST_MESSAGE, shapeFor } from '@tawny-signal/core/mapping/defaults';
import { hearAs, HEAR_MESSAGES, HEARS, messagesOf, type HearMessage } from '@tawny-signal/core/hears';
import { protocolOf } from '../lines/kinds';
import { Choice } from '../ui/choice';
import { HearFields } from './hear-fields';
import type { PartProps } from './part-props';

export function HearPart({ mapping, show, save }: PartProps) {
  const { hear } = mapping;
  const protocol = protocolOf(show.lines.find((candidate) => candidate.id === hear.lineId));
  const messages = protocol ? messagesOf(protocol) : HEAR_MESSAGES;

  /** Changes the message. If the new one has different values, the shape is reset. */
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
    if (carried && HEARS[hear.message].protocol !== carried)
      return saveMessage(FIRST_MESSAGE[carried as MappedProtocol], lineId);
    return save({ hear: { ...hear, lineId } });
  }

  return (
    <>
      <Choice
        label="Line"
        value={hear.lineId}
        placeholder="Choose a line"
        options={show.lines
          .filter(({ kind }) => isMapped(CARRIES[kind]))
          .map(({ id, name }) => ({ value: id, words: name }))}
        choose={chooseLine}
      />
      <Choice
        label="Message"
        value={hear.message}
        options={messages.map((message) => ({ value: message, words: HEARS[message].words }))}
        choose={(message) => saveMessage(message)}
      />
      <HearFields hear={hear} show={show} save={(next) => save({ hear: next })} />
    </>
  );
}
