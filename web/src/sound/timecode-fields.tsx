/** The fields that every line with sound has: its channel, and how loud it plays. */
import { readNumber, readWhole } from '@tawny-signal/core/typed/range';
import { orThrow } from '../ui/or-throw';
import { TypedField } from '../ui/typed-field';

interface FieldsProps {
  line: { channel: number; levelDb: number };
  save: (change: { channel?: number; levelDb?: number }) => Promise<unknown>;
}

export function TimecodeFields({ line, save }: FieldsProps) {
  return (
    <>
      <TypedField
        label="Channel"
        value={String(line.channel + 1)}
        hint="The channel that is listened to. Timecode is played on all of them."
        commit={(text) => save({ channel: orThrow(readWhole(text, 'A channel', 1, 32)) - 1 })}
      />
      <TypedField
        label="Plays at"
        value={`${line.levelDb} dB`}
        hint="How loud timecode is sent, below full scale."
        commit={(text) =>
          save({ levelDb: orThrow(readNumber(text.replace(/\s*dB\s*$/i, ''), 'A level in dB')) })
        }
      />
    </>
  );
}
