/** The browsers that have signed in, and wrong passphrases. */
import type { PeopleSeen } from '@tawny-signal/core/people/people';
import { count } from '@tawny-signal/core/plural';
import { Button } from '../ui/button';
import { useEndSession } from './people';

const TIME = new Intl.DateTimeFormat('en-GB', { timeStyle: 'short' });

export function Sessions({ people: { sessions, guesses } }: { people: PeopleSeen }) {
  const end = useEndSession();
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
              {one.browser}, <span className="font-mono">{one.address}</span>, since {TIME.format(one.since)}
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
