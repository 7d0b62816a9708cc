/** What differs between a version and the show as it is now, or another version, row by row. */
import { beginning } from '@tawny-signal/core/show/text';
import { FolderOpen } from 'lucide-react';
import { useState } from 'react';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import type { RowDifference } from '@tawny-signal/core/compare/rows';
import { count } from '@tawny-signal/core/plural';
import { TABLES } from '@tawny-signal/core/show/tables';
import { call } from '../show/api';
import { NOW, useComparison, useOpening, useVersions } from '../show/shows';
import { useShow } from '../show/show';
import { Button } from '../ui/button';
import { Choice } from '../ui/choice';
import { Page } from '../ui/page';
import { Pop } from '../ui/pop';
import { NotOfTheShow } from '../ui/read-only';
import { TypedField } from '../ui/typed-field';
import { RestoreButton } from './restore-button';

const WHEN = new Intl.DateTimeFormat('en-GB', { dateStyle: 'medium', timeStyle: 'short' });

export function VersionPage() {
  const { versionId = '' } = useParams();
  const [query, setQuery] = useSearchParams();
  const to = query.get('to') ?? NOW;
  const versions = useVersions();
  const { data, error } = useComparison(versionId, to);
  const others = versions?.filter(({ id }) => id !== versionId) ?? [];
  return (
    <Page
      title={data ? data.before.name : 'Version'}
      aside={
        <Link to="/shows" className="text-tawny-2 underline underline-offset-2">
          All shows and versions
        </Link>
      }
      actions={
        data && (
          <>
            <AsShow id={versionId} name={data.before.name} />
            <RestoreButton id={versionId} name={data.before.name} />
          </>
        )
      }
    >
      <div className="min-h-0 flex-1 overflow-y-auto border-t border-rule pt-2 pb-6">
        {error && <p className="py-4 text-brick">{error.message}</p>}
        {data && (
          <>
            <NotOfTheShow>
              <div className="max-w-120">
                <Choice
                  label="Compare to"
                  value={to}
                  options={[
                    { value: NOW, words: 'The show as it is now' },
                    ...others.map(({ id, name }) => ({ value: id, words: name })),
                  ]}
                  hint={
                    data.before.at
                      ? `This version was kept on ${WHEN.format(new Date(data.before.at))}.`
                      : undefined
                  }
                  choose={(next) => setQuery(next === NOW ? {} : { to: next })}
                />
              </div>
            </NotOfTheShow>
            <p role="status" className="py-2">
              {data.rows.length === 0
                ? 'Nothing differs.'
                : `Since then ${count(data.rows.length + data.more, 'row')} changed.`}
            </p>
            <Differences rows={data.rows} />
            {data.more > 0 && <p className="border-t border-rule py-2 text-ink-2">{data.more} more.</p>}
          </>
        )}
      </div>
    </Page>
  );
}

const SIGNS: Record<RowDifference['what'], { sign: string; words: string; colour: string }> = {
  added: { sign: '+', words: 'added since', colour: 'text-moss' },
  removed: { sign: '−', words: 'removed since', colour: 'text-brick' },
  changed: { sign: '~', words: 'changed', colour: 'text-tawny-2' },
  moved: { sign: '↕', words: 'moved', colour: 'text-ink-2' },
};

function Differences({ rows }: { rows: RowDifference[] }) {
  return (
    <ul>
      {rows.map(({ table, id, name, what, members }) => {
        const { sign, words, colour } = SIGNS[what];
        return (
          <li
            key={`${table} ${id}`}
            data-difference={name}
            className="grid grid-cols-[1.5rem_minmax(0,1fr)] gap-x-2 border-t border-rule py-1.5 sm:grid-cols-[1.5rem_minmax(0,16rem)_minmax(0,1fr)]"
          >
            <span aria-hidden className={`text-center font-mono ${colour}`}>
              {sign}
            </span>
            <span>
              <span className="text-xs text-ink-2">
                {table === 'settings' ? 'show' : TABLES[table].called}
              </span>{' '}
              <span className="font-semibold">{name}</span>{' '}
              <span className={`text-xs ${colour}`}>{words}</span>
            </span>
            <span className="min-w-0 text-sm max-sm:col-start-2">
              {members.map(({ member, before, after }) => (
                <span key={member} className="block break-words">
                  <span className="text-ink-2">{member}</span>{' '}
                  <span className="font-mono text-xs">
                    {before} → {after}
                  </span>
                </span>
              ))}
            </span>
          </li>
        );
      })}
    </ul>
  );
}

/** Opens a version as a show of its own, to look at all of it. */
function AsShow({ id, name }: { id: string; name: string }) {
  const { settings } = useShow();
  const go = useNavigate();
  const [open, setOpen] = useState(false);
  const make = useOpening((called: string) => call('POST', `versions/${id}/show`, { name: called }));
  const [called, setCalled] = useState(beginning(`${settings.name}, ${name}`, 60));
  return (
    <Pop
      align="end"
      width="w-96"
      open={open}
      setOpen={setOpen}
      trigger={
        <Button needs="edit">
          <FolderOpen size={15} aria-hidden /> Open as a show
        </Button>
      }
    >
      <p className="pb-2">A copy of this version becomes a show in the list, and is opened.</p>
      <TypedField label="Name" value={called} commit={setCalled} />
      <div className="flex gap-2 pt-3">
        <Button
          look="main"
          disabled={make.isPending}
          onClick={() => make.mutate(called, { onSuccess: () => void go('/mappings') })}
        >
          Make it and open it
        </Button>
        <Button onClick={() => setOpen(false)}>Cancel</Button>
      </div>
    </Pop>
  );
}
