/** The form for feedback to the control of a mapping: its lamp or its motor. */
import { Lightbulb, X } from 'lucide-react';
import { numbersOf, channelsOf } from '@tawny-signal/core/hears/parts';
import type { Answer } from '@tawny-signal/core/show/answer';
import type { Hear } from '@tawny-signal/core/hears';
import { readNote, readWhole, writeNotes } from '@tawny-signal/core/typed/range';
import { protocolOf } from '../lines/kinds';
import { Button, IconButton } from '../ui/button';
import { Choice } from '../ui/choice';
import { orThrow } from '../ui/or-throw';
import { TypedField } from '../ui/typed-field';
import type { PartProps } from './part-props';

const SHOWS = [
  { value: 'value' as const, words: 'Lit while the output is above 0' },
  { value: 'bank' as const, words: 'Lit while a bank is on' },
  { value: 'position' as const, words: 'Motor position: follows the receiver' },
];
const BLINKS = [
  { value: '0', words: 'Steadily' },
  { value: '0.5', words: 'Blinking, twice a beat' },
  { value: '1', words: 'Blinking, each beat' },
  { value: '2', words: 'Blinking, each two beats' },
  { value: '4', words: 'Blinking, each four beats' },
] as const;

/** Returns feedback to the control that the mapping hears. */
function startAnswer(hear: Hear, lamp: { on: number; off: number } | null): Answer {
  const isNote = ['pressed', 'released', 'held', 'notePressure'].includes(hear.message);
  return {
    lineId: hear.lineId,
    kind: isNote ? 'note' : 'control',
    channel: channelsOf(hear)[0] ?? 0,
    number: numbersOf(hear)[0],
    shows: isNote ? 'value' : 'position',
    bankId: null,
    on: lamp?.on ?? 127,
    off: lamp?.off ?? 0,
    blinkBeats: 0,
  };
}

export function AnswerFields({ mapping, show, save }: PartProps) {
  const { hear, answer } = mapping;
  const isMidi = protocolOf(show.lines.find((line) => line.id === hear.lineId)) === 'midi';
  const put = (change: Partial<Answer>): Promise<unknown> => save({ answer: { ...answer!, ...change } });
  if (!answer) {
    if (!isMidi || !('channels' in hear)) return null;
    const lamp =
      show.layouts
        .filter((layout) => layout.lineId === hear.lineId)
        .flatMap(({ controls }) => controls)
        .find((control) => control.number === numbersOf(hear)[0] && control.channel === channelsOf(hear)[0])
        ?.lamp ?? null;
    return (
      <Button
        needs="edit"
        look="bare"
        className="ml-22"
        onClick={() => void save({ answer: startAnswer(hear, lamp) }).catch(() => undefined)}
      >
        <Lightbulb size={14} aria-hidden /> Add feedback
      </Button>
    );
  }
  const { middleC } = show.settings;
  return (
    <section aria-label="Feedback" className="mt-1.5 border-t border-dashed border-rule pt-1">
      <div className="flex min-h-8 items-center justify-between">
        <h4 className="text-xs font-semibold text-ink-2">Feedback</h4>
        <IconButton
          needs="edit"
          label="Remove feedback"
          onClick={() => void save({ answer: null }).catch(() => undefined)}
        >
          <X size={14} aria-hidden />
        </IconButton>
      </div>
      <Choice label="Lamp shows" value={answer.shows} options={SHOWS} choose={(shows) => put({ shows })} />
      {answer.shows === 'bank' && (
        <Choice
          label="Bank"
          value={answer.bankId}
          placeholder="Choose a bank"
          options={show.banks.map(({ id, name }) => ({ value: id, words: name }))}
          choose={(bankId) => put({ bankId })}
        />
      )}
      <Choice
        label="On line"
        value={answer.lineId}
        placeholder="Choose a line"
        options={show.lines
          .filter((line) => protocolOf(line) === 'midi')
          .map(({ id, name }) => ({ value: id, words: name }))}
        choose={(lineId) => put({ lineId })}
      />
      <Choice
        label="Sent as"
        value={answer.kind}
        options={[
          { value: 'note' as const, words: 'Its note' },
          { value: 'control' as const, words: 'Its controller' },
        ]}
        choose={(kind) => put({ kind })}
      />
      <TypedField
        label="Channel"
        value={String(answer.channel + 1)}
        commit={(text) => put({ channel: orThrow(readWhole(text, 'A channel', 1, 16)) - 1 })}
      />
      <TypedField
        label={answer.kind === 'note' ? 'Note' : 'Controller'}
        value={
          answer.kind === 'note' ? writeNotes([answer.number, answer.number], middleC) : String(answer.number)
        }
        commit={(text) =>
          put({
            number: orThrow(
              answer.kind === 'note' ? readNote(text, middleC) : readWhole(text, 'A controller', 0, 127),
            ),
          })
        }
      />
      {answer.shows !== 'position' && <LampFields answer={answer} put={put} />}
    </section>
  );
}

function LampFields({ answer, put }: { answer: Answer; put: (change: Partial<Answer>) => Promise<unknown> }) {
  return (
    <>
      <TypedField
        label="Lit"
        value={String(answer.on)}
        hint="The value that lights it; often the number of a colour."
        commit={(text) => put({ on: orThrow(readWhole(text, 'It', 0, 127)) })}
      />
      <TypedField
        label="Dark"
        value={String(answer.off)}
        commit={(text) => put({ off: orThrow(readWhole(text, 'It', 0, 127)) })}
      />
      <Choice
        label="Lit"
        value={`${answer.blinkBeats}` as (typeof BLINKS)[number]['value']}
        options={[...BLINKS]}
        choose={(beats) => put({ blinkBeats: Number(beats) as Answer['blinkBeats'] })}
      />
    </>
  );
}
