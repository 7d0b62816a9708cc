/** The list of shows: what is in each, and when it was played. A row opens, copies, renames or archives its show. */
import { Archive, Copy, FolderOpen, Pencil } from 'lucide-react';
import { useState } from 'react';
import { count } from '@tawny-signal/core/plural';
import { useLiveValue } from '../live/live';
import { call } from '../show/api';
import { rowsWords, useListEdit, useOpenShow, type ListedShow } from '../show/shows';
import { AskDialog } from '../ui/ask-dialog';
import { Button, IconButton } from '../ui/button';
import { TypedField } from '../ui/typed-field';

const WHEN = new Intl.DateTimeFormat('en-GB', { dateStyle: 'medium', timeStyle: 'short' });
const when = (at: string): string => WHEN.format(new Date(at));

export function ShowList({ openId, shows }: { openId: string; shows: ListedShow[] }) {
  const [asked, setAsked] = useState<ListedShow | null>(null);
  const open = useOpenShow();
  const ends = useWhatEnds();
  const listed = shows.filter(({ archivedAt }) => archivedAt === null);
  const archived = shows.filter(({ archivedAt }) => archivedAt !== null);
  const wish = (show: ListedShow): void => (ends === '' ? open.mutate(show.id) : setAsked(show));
  return (
    <section aria-label="All shows">
      <ul>
        {listed.map((show) => (
          <ShowRow key={show.id} show={show} isOpen={show.id === openId} open={() => wish(show)} />
        ))}
      </ul>
      {archived.length > 0 && (
        <details className="pt-3">
          <summary className="min-h-8 cursor-pointer text-ink-2">Archived ({archived.length})</summary>
          <ul>
            {archived.map((show) => (
              <ShowRow key={show.id} show={show} isOpen={false} open={() => wish(show)} />
            ))}
          </ul>
        </details>
      )}
      <AskDialog
        open={asked !== null}
        title={`Open ${asked?.name ?? ''}?`}
        words={`${ends} The lines of the other show are opened instead of these.`}
        yes="Open it"
        no="Cancel"
        answer={(yes) => {
          if (yes && asked) open.mutate(asked.id);
          setAsked(null);
        }}
      />
    </section>
  );
}

/** What ends if another show is opened; empty if nothing is going on. */
function useWhatEnds(): string {
  const running = useLiveValue('order', (store) => store.order()?.running.length ?? 0);
  const performance = useLiveValue('desk', (store) => store.desk()?.performance?.name ?? null);
  return [
    running > 0 && `${count(running, 'moment is', 'moments are')} running, and will end.`,
    performance !== null && `${performance} is being logged, and will end.`,
  ]
    .filter(Boolean)
    .join(' ');
}

interface ShowRowProps {
  show: ListedShow;
  isOpen: boolean;
  open: () => void;
}

function ShowRow({ show, isOpen, open }: ShowRowProps) {
  const { id, name, rows, playedAt, changedAt, createdAt, archivedAt } = show;
  const [renames, setRenames] = useState(false);
  const copy = useListEdit(() => call('POST', `shows/${id}/copy`));
  const change = useListEdit((to: { name?: string; archived?: boolean }) => call('PATCH', `shows/${id}`, to));
  return (
    <li
      data-show={name}
      className={`flex flex-wrap items-center gap-x-4 gap-y-1 border-t border-rule py-2 ${isOpen ? 'border-l-3 border-l-tawny bg-bark pl-3' : 'pl-3.5'}`}
    >
      <div className="min-w-56 flex-1">
        {renames ? (
          <TypedField
            label="Name"
            value={name}
            commit={async (next) => {
              await change.mutateAsync({ name: next });
              setRenames(false);
            }}
          />
        ) : (
          <p>
            <span className="font-semibold">{name}</span>
            {isOpen && <span className="pl-2 text-xs text-tawny-2">open</span>}
          </p>
        )}
        <p className="text-sm text-ink-2">{rowsWords(rows)}</p>
      </div>
      <p className="w-52 text-xs text-ink-2">
        {playedAt ? `Last played ${when(playedAt)}` : 'Never played'}
        <br />
        {changedAt ? `Changed ${when(changedAt)}` : `Made ${when(createdAt)}`}
      </p>
      <div className="flex items-center gap-1">
        <Button needs="edit" onClick={open} disabled={isOpen}>
          <FolderOpen size={15} aria-hidden /> Open
        </Button>
        <IconButton needs="operator" label={`Copy ${name}`} onClick={() => copy.mutate(undefined)}>
          <Copy size={15} aria-hidden />
        </IconButton>
        <IconButton needs="operator" label={`Rename ${name}`} onClick={() => setRenames(!renames)}>
          <Pencil size={15} aria-hidden />
        </IconButton>
        {archivedAt === null ? (
          <IconButton
            needs="operator"
            label={isOpen ? 'The open show can’t be archived' : `Archive ${name}`}
            disabled={isOpen}
            onClick={() => change.mutate({ archived: true })}
          >
            <Archive size={15} aria-hidden />
          </IconButton>
        ) : (
          <Button needs="operator" look="bare" onClick={() => change.mutate({ archived: false })}>
            Back to the list
          </Button>
        )}
      </div>
    </li>
  );
}
