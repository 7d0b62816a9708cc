/** The MIDI files of the show, and their content. */
import { cutText } from '@tawny-signal/core/show/text';
import { momentName } from '@tawny-signal/core/show/moment-name';
import { base64Of } from '@tawny-signal/core/base64';
import { count } from '@tawny-signal/core/plural';
import { contentOf, type MidiFileRow } from '@tawny-signal/core/show/midi-file';
import type { Show } from '@tawny-signal/core/show';
import { RemoveButton } from '../show/removing';
import { useAddRow, useChangeRow, useShow } from '../show/show';
import { FileButton } from '../ui/file-button';
import { Page } from '../ui/page';
import { TypedField } from '../ui/typed-field';
import { Tabs } from './tabs';
import { notify } from '../ui/notice';

/** `Harbour bells` of `harbour_bells.mid` */
const nameOf = (file: File): string => {
  const plain = file.name
    .replace(/\.(mid|midi|smf)$/i, '')
    .replaceAll(/[_-]+/g, ' ')
    .trim();
  return cutText(plain.charAt(0).toUpperCase() + plain.slice(1), 60) || 'MIDI file';
};

export function FilesPage() {
  const show = useShow();
  return (
    <Page title="Running order" aside={<Tabs at="MIDI files" />} actions={<AddFile />}>
      <p className="border-b border-rule pb-2 text-sm text-ink-2">
        A moment plays one on a line: its tracks, at its tempo or another, as often as you say. The files are
        saved in the show.
      </p>
      {show.midiFiles.length === 0 && (
        <p className="py-3 text-ink-2">There are no MIDI files yet. Add one, then choose it in a moment.</p>
      )}
      <ul aria-label="MIDI files" className="min-h-0 flex-1 overflow-y-auto">
        {show.midiFiles.map((row) => (
          <FileRow key={row.id} row={row} show={show} />
        ))}
      </ul>
    </Page>
  );
}

function AddFile() {
  const add = useAddRow('midiFiles');
  async function take(file: File): Promise<void> {
    const data = base64Of(new Uint8Array(await file.arrayBuffer()));
    add.mutate(
      { name: nameOf(file), data },
      { onError: (error) => notify(`${file.name}: ${error.message}`, { look: 'fault' }) },
    );
  }
  return (
    <FileButton
      needs="edit"
      words="Add a MIDI file"
      accept=".mid,.midi,.smf,audio/midi"
      main
      take={(file) => void take(file)}
    />
  );
}

function FileRow({ row, show }: { row: MidiFileRow; show: Show }) {
  const change = useChangeRow('midiFiles');
  const content = contentOf(row);
  const used = show.moments
    .filter(({ sends }) => sends.some((one) => one.kind === 'file' && one.fileId === row.id))
    .map(momentName)
    .join(', ');
  return (
    <li data-file={row.id} className="flex items-start gap-4 border-b border-rule py-2 max-lg:flex-wrap">
      <div className="w-90 max-w-full lg:shrink-0">
        <TypedField
          label="MIDI file"
          value={row.name}
          commit={(name) => change.mutateAsync({ id: row.id, change: { name } })}
        />
        <p className="pl-24 text-xs text-ink-3">
          {used === '' ? 'No moment plays it.' : `Played by ${used}.`}
        </p>
      </div>
      <div className="min-w-0 flex-1 pt-1 text-sm">
        {content ? (
          <>
            <p className="font-mono">
              {(content.durationMs / 1000).toFixed(1)} s · begins at {Number(content.tempo.toFixed(1))} beats
              a minute · {content.events.length} messages
            </p>
            {content.notPlayed > 0 && (
              <p className="text-straw">
                {count(content.notPlayed, 'system-exclusive message')} in parts or without an end: not played.
              </p>
            )}
            <ol className="flex flex-wrap gap-x-4 text-ink-2">
              {content.trackNames.map((name, track) => (
                <li key={track}>
                  <span className="font-mono text-ink-3">{track + 1}</span> {name || 'no name'}{' '}
                  <span className="text-ink-3">
                    {content.events.filter((one) => one.track === track).length}
                  </span>
                </li>
              ))}
            </ol>
          </>
        ) : (
          <p className="text-brick">This file can’t be read. Add it again.</p>
        )}
      </div>
      <RemoveButton table="midiFiles" row={row} />
    </li>
  );
}
