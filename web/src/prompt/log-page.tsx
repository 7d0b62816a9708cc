/** The log of the show: what was called, when, by whom, what each line was sent, and the gaps beside those of another performance. */
import { Download, Trash2 } from 'lucide-react';
import { lazy, Suspense, useMemo, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { compareGaps, LOG_WORDS, type LogEntry, type Performance } from '@tawny-signal/core/cues/log';
import { useLogEntries, usePerformances, useRemovePerformance } from '../show/order-edits';
import { IconButton } from '../ui/button';
import { Choice } from '../ui/choice';
import { Page } from '../ui/page';
import { lengthWords } from './clocks';

// Loaded later, because charts are large and no show is run on this page.
const GapsChart = lazy(async () => ({ default: (await import('./gaps-chart')).GapsChart }));

const DAY = new Intl.DateTimeFormat('en-GB', { dateStyle: 'medium' });
const TIME = new Intl.DateTimeFormat('en-GB', { timeStyle: 'medium' });
/** The most entries that are shown. The saved table has all of them. */
const MOST = 400;

export function LogPage() {
  const { performanceId } = useParams();
  const log = usePerformances();
  const chosen = log?.performances.find(({ id }) => id === performanceId) ?? log?.performances[0];
  return (
    <Page
      editsShow={false}
      title="Log of the show"
      aside={
        <Link to="/prompt" className="text-tawny-2 underline underline-offset-2">
          Back to the prompt desk
        </Link>
      }
    >
      {log && !chosen && (
        <p className="border-t border-rule py-6 text-ink-2">
          No performance was written down yet. One begins with the first moment that is called, or on the
          prompt desk.
        </p>
      )}
      {log && chosen && (
        <div className="grid min-h-0 flex-1 grid-cols-[230px_minmax(0,1fr)] gap-5 border-t border-rule">
          <Performances list={log.performances} chosen={chosen} />
          <Entries key={chosen.id} performance={chosen} others={log.performances} />
        </div>
      )}
    </Page>
  );
}

function Performances({ list, chosen }: { list: Performance[]; chosen: Performance }) {
  return (
    <nav aria-label="Performances" className="overflow-y-auto border-r border-rule py-2 pr-3">
      <ul>
        {list.map((one) => (
          <li key={one.id}>
            <Link
              to={`/prompt/log/${one.id}`}
              aria-current={one.id === chosen.id ? 'page' : undefined}
              className={`block rounded px-2 py-1.5 ${one.id === chosen.id ? 'bg-bark-2' : 'hover:bg-bark'}`}
            >
              <span className="block truncate">{one.name}</span>
              <span className="block text-xs text-ink-3">
                {DAY.format(one.begunAt)} ·{' '}
                {one.endedAt === null ? (
                  <span className="text-moss">runs</span>
                ) : (
                  lengthWords(one.endedAt - one.begunAt)
                )}
              </span>
            </Link>
          </li>
        ))}
      </ul>
    </nav>
  );
}

function Entries({ performance, others }: { performance: Performance; others: Performance[] }) {
  const go = useNavigate();
  const remove = useRemovePerformance();
  const entries = useLogEntries(performance.id, performance.endedAt === null);
  const earlier = others.filter(({ id }) => id !== performance.id);
  const last = earlier.find(({ begunAt }) => begunAt < performance.begunAt) ?? earlier[0];
  const [other, compareWith] = useState(last?.id ?? null);
  return (
    <div className="flex min-h-0 flex-col overflow-y-auto py-2">
      <div className="flex items-center gap-2">
        <h2 className="text-lg font-semibold">{performance.name}</h2>
        <a
          href={`/api/log/${performance.id}/table.csv`}
          download
          className="ml-auto inline-flex min-h-8 items-center gap-1.5 rounded border border-rule px-2.5 text-sm hover:bg-bark-2"
        >
          <Download size={14} aria-hidden /> Export CSV
        </a>
        <IconButton
          needs="operator"
          label={`Remove ${performance.name}`}
          onClick={() => remove.mutate(performance.id, { onSuccess: () => void go('/prompt/log') })}
        >
          <Trash2 size={15} aria-hidden className="text-brick" />
        </IconButton>
      </div>
      {entries && <Gaps entries={entries} other={other} others={earlier} choose={compareWith} />}
      {entries?.length === 0 && <p className="py-3 text-ink-2">Nothing has happened in it yet.</p>}
      {entries && entries.length > 0 && <EntryTable entries={entries} />}
    </div>
  );
}

interface GapsProps {
  entries: LogEntry[];
  other: string | null;
  others: Performance[];
  choose: (id: string) => void;
}

function Gaps({ entries, other, others, choose }: GapsProps) {
  const before = useLogEntries(other, false);
  const gaps = useMemo(() => compareGaps(entries, before ?? []), [entries, before]);
  if (gaps.length === 0) return null;
  return (
    <section aria-label="Seconds between calls" className="border-b border-rule py-2">
      <div className="flex items-center gap-4">
        <h3 className="text-sm text-ink-2">Seconds from each call to the next</h3>
        {others.length > 0 && (
          <div className="w-80">
            <Choice
              label="Beside"
              value={other}
              options={others.map(({ id, name }) => ({ value: id, words: name }))}
              choose={choose}
            />
          </div>
        )}
      </div>
      <Suspense fallback={<p className="h-52 text-ink-3">Drawing …</p>}>
        <GapsChart gaps={gaps} />
      </Suspense>
    </section>
  );
}

function EntryTable({ entries }: { entries: LogEntry[] }) {
  const shown = entries.toReversed().slice(0, MOST);
  return (
    <table className="w-full text-left text-sm">
      <thead className="text-ink-3">
        <tr className="border-b border-rule">
          <th className="w-22 py-1.5 font-normal">time</th>
          <th className="w-32 font-normal">what</th>
          <th className="w-40 font-normal">moment</th>
          <th className="w-44 font-normal">by, or why</th>
          <th className="font-normal">lines</th>
        </tr>
      </thead>
      <tbody>
        {shown.map((entry) => (
          <tr key={entry.id} className="border-b border-rule/60 align-baseline [&>td]:py-1">
            <td className="font-mono text-ink-2">{TIME.format(entry.at)}</td>
            <td className={entry.what === 'lineTrouble' || entry.what === 'panic' ? 'text-brick' : ''}>
              {LOG_WORDS[entry.what]}
            </td>
            <td className="pr-2">
              <span className="font-mono text-ink-3">{entry.cue}</span> {entry.name}
            </td>
            <td className="pr-2 text-ink-2">{entry.askedBy}</td>
            <td>
              {entry.lines.map(({ line, sent, heldBack, failed }) => (
                <span key={line} className="mr-3 inline-block">
                  {line} <span className="font-mono text-ink-2">{sent}</span>
                  {heldBack > 0 && <span className="text-straw"> {heldBack} withheld</span>}
                  {failed > 0 && <span className="text-brick"> {failed} failed</span>}
                </span>
              ))}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
