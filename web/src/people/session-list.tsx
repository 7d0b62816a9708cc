/** The browsers that have signed in, and wrong passphrases. */
import { SESSION_DAYS, type Opening, type PeopleSeen } from '@tawny-signal/core/people/people';
import { count } from '@tawny-signal/core/plural';
import { useNow } from '../order/use-order';
import { Button } from '../ui/button';
import { Choice } from '../ui/choice';
import { useEndSession, useOpen } from './people';

const TIME = new Intl.DateTimeFormat('en-GB', { timeStyle: 'short' });
const DAY = new Intl.DateTimeFormat('en-GB', { dateStyle: 'medium', timeStyle: 'short' });
const DAY_MS = 24 * 3600_000;

/** The time alone for what was in the last day. */
const sinceWords = (since: number, now: number): string => (now - since < DAY_MS ? TIME : DAY).format(since);

const LASTS: Record<Opening['sessionDays'], string> = { 1: 'a day', 7: 'a week', 30: 'a month' };

export function Sessions({ people: { sessions, guesses, opening } }: { people: PeopleSeen }) {
  const end = useEndSession();
  const open = useOpen();
  const now = useNow(false);
  return (
    <section aria-label="Signed in">
      <h2 className="flex items-center gap-4 pb-1 font-semibold">
        Signed in
        {sessions.length > 1 && (
          <Button className="ml-auto font-normal" onClick={() => end.mutate(null)}>
            End all {sessions.some(({ mine }) => mine) && 'others'}
          </Button>
        )}
      </h2>
      <div className="max-w-lg">
        <Choice
          label="Lasts"
          value={String(opening.sessionDays)}
          options={SESSION_DAYS.map((days) => ({ value: String(days), words: LASTS[days] }))}
          hint="For those who sign in from now on."
          choose={(days) =>
            open.mutateAsync({ ...opening, sessionDays: SESSION_DAYS.find((one) => String(one) === days)! })
          }
        />
      </div>
      {sessions.length === 0 && <p className="text-ink-2">Nobody yet.</p>}
      <ul>
        {sessions.map((one) => (
          <li
            key={one.id}
            data-session={one.name}
            className="flex flex-wrap items-center gap-x-4 border-t border-rule py-1"
          >
            <span className="w-44 truncate font-semibold">
              {one.name} {one.mine && <span className="font-normal text-ink-2">(you)</span>}
            </span>
            <span className="w-20">{one.role}</span>
            <span className={`w-24 ${one.here ? 'text-moss' : 'text-ink-3'}`}>
              {one.here ? 'connected' : 'away'}
            </span>
            <span className="min-w-48 flex-1 text-sm text-ink-2">
              {one.browser}, <span className="font-mono">{one.address}</span>, since{' '}
              {sinceWords(one.since, now)}
            </span>
            <Button aria-label={`End the session of ${one.name}`} onClick={() => end.mutate(one.id)}>
              End
            </Button>
          </li>
        ))}
      </ul>
      {guesses.length > 0 && (
        <>
          <h2 className="pt-6 pb-1 font-semibold text-straw">Wrong passphrases</h2>
          <ul>
            {guesses.map(({ address, wrong, at }) => (
              <li key={address} className="border-t border-rule py-1">
                <span className="font-mono">{address}</span>: {count(wrong, 'wrong one')}, the last at{' '}
                {TIME.format(at)}. It has to wait longer each time.
              </li>
            ))}
          </ul>
        </>
      )}
    </section>
  );
}
