/** The forms of what only moments can do: levels, looks, MIDI files. */
import { Link } from 'react-router';
import { contentOf } from '@tawny-signal/core/show/midi-file';
import type { MomentSend, MomentSendOf } from '@tawny-signal/core/show/moment';
import type { Show } from '@tawny-signal/core/show';
import { readLevels, writeLevels } from '@tawny-signal/core/typed/levels';
import { readNumber, readWhole } from '@tawny-signal/core/typed/range';
import { Choice } from '../ui/choice';
import { orThrow } from '../ui/or-throw';
import { TypedField } from '../ui/typed-field';

interface FieldsProps<Given> {
  given: Given;
  show: Show;
  save: (next: MomentSend) => Promise<unknown>;
}

const LINK = 'text-tawny-2 underline underline-offset-2';

export function LevelsFields({ given, show, save }: FieldsProps<MomentSendOf<'levels'>>) {
  const groups = show.groups.map(({ name }) => name);
  return (
    <TypedField
      label="Levels"
      value={writeLevels(given.levels, show.groups)}
      hint={`Like 1-12 at 50 %, 101 at full, 40-43 off.${groups.length > 0 ? ` Groups: ${groups.join(', ')}.` : ''}`}
      unit="%"
      understood={(text) => {
        const read = readLevels(text, show.groups);
        return read.ok ? writeLevels(read.value, show.groups) : null;
      }}
      commit={(text) => save({ ...given, levels: orThrow(readLevels(text, show.groups)) })}
    />
  );
}

export function LookFields({ given, show, save }: FieldsProps<MomentSendOf<'look'>>) {
  const look = show.looks.find(({ id }) => id === given.lookId);
  return (
    <>
      <Choice
        label="Look"
        value={look?.id ?? null}
        placeholder={given.lookId === null ? 'Choose a look' : 'Removed: choose another'}
        options={show.looks.map(({ id, name }) => ({ value: id, words: name }))}
        hint={look ? writeLevels(look.levels, show.groups) : undefined}
        choose={(lookId) => save({ ...given, lookId })}
      />
      <p className="pl-24 text-xs">
        <Link className={LINK} to="/order/looks">
          {show.looks.length === 0 ? 'Make the first look' : 'Looks and groups'}
        </Link>
      </p>
    </>
  );
}

const TIMES = /^(?:until it is stopped|until stopped|until|loop|endless|0)$/i;

/** `1, 3-4`, counted from 1; `all`. */
function readTracks(text: string, count: number): MomentSendOf<'file'>['tracks'] {
  if (/^\s*(?:all|)\s*$/i.test(text)) return 'all';
  return text
    .split(',')
    .map((one) => orThrow(readWhole(one, 'A track of this file', 1, Math.max(1, count))) - 1);
}

export function FileFields({ given, show, save }: FieldsProps<MomentSendOf<'file'>>) {
  const row = show.midiFiles.find(({ id }) => id === given.fileId);
  const content = row && contentOf(row);
  const tracks = content?.trackNames ?? [];
  return (
    <>
      <Choice
        label="MIDI file"
        value={row?.id ?? null}
        placeholder={given.fileId === null ? 'Choose a file' : 'Removed: choose another'}
        options={show.midiFiles.map(({ id, name }) => ({ value: id, words: name }))}
        hint={
          content
            ? `${(content.durationMs / 1000).toFixed(1)} s, ${tracks.length} tracks, begins at ${Number(content.tempo.toFixed(1))} beats a minute.`
            : undefined
        }
        choose={(fileId) => save({ ...given, fileId, tracks: 'all' })}
      />
      <p className="pl-24 text-xs">
        <Link className={LINK} to="/order/files">
          {show.midiFiles.length === 0 ? 'Add the first file' : 'MIDI files'}
        </Link>
      </p>
      <TypedField
        label="Tracks"
        value={given.tracks === 'all' ? 'all' : given.tracks.map((track) => track + 1).join(', ')}
        hint={tracks.map((name, at) => `${at + 1} ${name || 'no name'}`).join(', ') || 'All, or like 1, 3.'}
        commit={(text) => save({ ...given, tracks: readTracks(text, tracks.length) })}
      />
      <TypedField
        label="Times"
        value={given.times === 0 ? 'until stopped' : String(given.times)}
        hint="How often it plays; 0 plays until stopped."
        commit={(text) =>
          save({
            ...given,
            times: TIMES.test(text.trim()) ? 0 : orThrow(readWhole(text, 'A number of times', 0, 1000)),
          })
        }
      />
      <TypedField
        label="Tempo"
        value={given.bpm === null ? 'of the file' : String(given.bpm)}
        hint="Beats a minute, or: of the file."
        commit={(text) =>
          save({
            ...given,
            bpm: /^\s*(of the file|file|)\s*$/i.test(text) ? null : orThrow(readNumber(text, 'A tempo')),
          })
        }
      />
    </>
  );
}
