/** The pages that are connected: who sits there, where they are, what is plugged in and how long the way is. */
import { Link } from 'react-router';
import { hereName, type HereSeen } from '@tawny-signal/core/people/here';
import { useShow } from '../show/show';
import { useEverybodyHere, whereWords } from './here';

/** @param went called when somebody goes to where another is */
export function HereList({ went }: { went?: () => void }) {
  const { all, count, me } = useEverybodyHere();
  const more = count - all.length;
  return (
    <ul>
      {all.map((one) => (
        <OneHere key={one.id} one={one} mine={one.id === me} went={went} />
      ))}
      {more > 0 && <li className="border-t border-rule py-1.5 text-ink-2">and {more} more</li>}
    </ul>
  );
}

function OneHere({ one, mine, went }: { one: HereSeen; mine: boolean; went: (() => void) | undefined }) {
  const show = useShow();
  const where = whereWords(show, one.path);
  return (
    <li data-here={hereName(one)} className="border-t border-rule py-1.5">
      <div className="flex flex-wrap items-baseline gap-x-2">
        <span className="font-semibold">{hereName(one)}</span>
        <span className="text-ink-2">{mine ? `${one.role}, you` : one.role}</span>
        <span
          className="ml-auto font-mono text-xs text-ink-2"
          title="How long a question and its answer take"
        >
          {one.tripMs === null ? '' : `${one.tripMs} ms`}
        </span>
      </div>
      <div className="flex flex-wrap items-center gap-x-2 text-ink-2">
        <span className="min-w-0 flex-1">
          {one.hidden ? `Not in sight: ${where}` : where}
          {one.field !== null && `, writes in “${one.field}”`}
        </span>
        {!mine && (
          <Link
            to={one.path}
            {...(went && { onClick: went })}
            aria-label={`Go to where ${hereName(one)} is`}
            className="inline-flex min-h-8 items-center text-tawny-2 underline underline-offset-2"
          >
            Go there
          </Link>
        )}
      </div>
      <p className="text-xs text-ink-3">
        {one.browser}
        {one.from === '' ? ', the server’s machine' : <span className="font-mono">, {one.from}</span>}
        {one.ports.length > 0 && ` · plugged in: ${one.ports.join(', ')}`}
      </p>
    </li>
  );
}
