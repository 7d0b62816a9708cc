/** The versions of the open show: named states to compare with, go back to, or open as shows. */
import { GitCompareArrows, Pencil, Trash2 } from 'lucide-react';
import { useState } from 'react';
import { Link } from 'react-router';
import { call } from '../show/api';
import { useListEdit, useVersions, type ListedVersion } from '../show/shows';
import { SaveLink } from '../files/save-link';
import { AskDialog } from '../ui/ask-dialog';
import { IconButton } from '../ui/button';
import { NotOfTheShow } from '../ui/read-only';
import { TypedField } from '../ui/typed-field';
import { RestoreButton } from './restore-button';

const WHEN = new Intl.DateTimeFormat('en-GB', { dateStyle: 'medium', timeStyle: 'short' });

export function VersionList({ showName }: { showName: string }) {
  const versions = useVersions();
  const add = useListEdit((name: string) => call('POST', 'versions', { name }));
  return (
    <section aria-label="Versions">
      <h2 className="pb-1 text-lg font-semibold">Versions of {showName}</h2>
      <NotOfTheShow needs="operator">
        <div className="max-w-120">
          <TypedField
            label="Keep as"
            value=""
            placeholder="like After the dress rehearsal"
            hint="Keeps the show as it is now, under this name. Press Enter."
            commit={(name) => add.mutateAsync(name)}
          />
        </div>
        <ul className="pt-2">
          {versions?.map((version) => (
            <VersionRow key={version.id} version={version} />
          ))}
        </ul>
      </NotOfTheShow>
      {versions?.length === 0 && (
        <p className="border-t border-rule py-3 text-ink-2">
          No version yet. Keep one before a rehearsal, and see afterwards what was changed.
        </p>
      )}
    </section>
  );
}

function VersionRow({ version: { id, name, at } }: { version: ListedVersion }) {
  const [renames, setRenames] = useState(false);
  const [asks, setAsks] = useState(false);
  const rename = useListEdit((next: string) => call('PATCH', `versions/${id}`, { name: next }));
  const remove = useListEdit(() => call('DELETE', `versions/${id}`));
  return (
    <li
      data-version={name}
      className="flex flex-wrap items-center gap-x-4 gap-y-1 border-t border-rule py-2 pl-3.5"
    >
      <div className="min-w-56 flex-1">
        {renames ? (
          <TypedField
            label="Name"
            value={name}
            commit={async (next) => {
              await rename.mutateAsync(next);
              setRenames(false);
            }}
          />
        ) : (
          <p className="font-semibold">{name}</p>
        )}
        <p className="text-xs text-ink-2">{WHEN.format(new Date(at))}</p>
      </div>
      <div className="flex flex-wrap items-center gap-1">
        <Link
          to={`/shows/versions/${id}`}
          className="inline-flex min-h-8 items-center gap-1.5 rounded border border-rule px-3 hover:bg-bark-2"
        >
          <GitCompareArrows size={15} aria-hidden /> Compare
        </Link>
        <RestoreButton id={id} name={name} />
        <SaveLink href={`/api/versions/${id}/file`}>Download</SaveLink>
        <IconButton needs="operator" label={`Rename ${name}`} onClick={() => setRenames(!renames)}>
          <Pencil size={15} aria-hidden />
        </IconButton>
        <IconButton needs="operator" label={`Remove ${name}`} onClick={() => setAsks(true)}>
          <Trash2 size={15} aria-hidden className="text-brick" />
        </IconButton>
      </div>
      <AskDialog
        open={asks}
        title={`Remove the version ${name}?`}
        words="The show stays as it is. The version can’t be brought back; download it first if you may need it."
        yes="Remove it"
        no="Cancel"
        answer={(yes) => {
          setAsks(false);
          if (yes) remove.mutate(undefined);
        }}
      />
    </li>
  );
}
