/** The fields of a line of the sound of the server's machine: the devices that it hears and plays to, and how loud it hears. */
import type { LineOf } from '@tawny-signal/core/show/line';
import { useLiveValue } from '../live/live';
import { Choice } from '../ui/choice';
import type { Option } from '../ui/select';
import { Level } from './level';
import { TimecodeFields } from './timecode-fields';

type MachineLine = LineOf<'sound-machine'>;

const NOTHING = '-';
const DEFAULT = 'default';

interface FieldsProps {
  line: MachineLine;
  save: (change: Partial<MachineLine>) => Promise<unknown>;
}

/** The devices to choose from. The chosen one stays in the list while it is not there. */
function optionsOf(devices: readonly string[], chosen: string): Option<string>[] {
  const known = [DEFAULT, ...devices];
  return [
    { value: NOTHING, words: 'nothing' },
    { value: DEFAULT, words: 'the system’s default' },
    ...devices.map((name) => ({ value: name, words: name })),
    ...(chosen === '' || known.includes(chosen) ? [] : [{ value: chosen, words: `${chosen} (not here)` }]),
  ];
}

export function MachineSoundFields({ line, save }: FieldsProps) {
  const sound = useLiveValue('lines', (store) => store.lineState(line.id), 250)?.sound;
  const devices = sound?.devices ?? { in: [], out: [] };
  const db = sound?.hearsDb ?? null;
  const nameOf = (value: string): string => (value === NOTHING ? '' : value);
  return (
    <>
      <Choice
        label="Hears"
        value={line.hears || NOTHING}
        options={optionsOf(devices.in, line.hears)}
        choose={(value) => save({ hears: nameOf(value) })}
        hint="The sound device of the server’s machine that timecode comes in by."
      />
      <Choice
        label="Plays to"
        value={line.plays || NOTHING}
        options={optionsOf(devices.out, line.plays)}
        choose={(value) => save({ plays: nameOf(value) })}
      />
      <TimecodeFields line={line} save={save} />
      {line.hears !== '' && <Level read={() => (db === null ? null : { db, clips: db >= 0 })} />}
    </>
  );
}
