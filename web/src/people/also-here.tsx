/** Says at the top of a page who else has the same one open, so that two people do not change one thing unawares. */
import { useLocation } from 'react-router';
import { hereName } from '@tawny-signal/core/people/here';
import { useHere } from './here';

const MOST = 2;

export function AlsoHere() {
  const { pathname } = useLocation();
  const { all, me } = useHere();
  // Onlookers change nothing.
  const others = all.filter(
    (one) => one.id !== me && one.path === pathname && !one.hidden && one.role !== 'onlooker',
  );
  if (others.length === 0) return null;
  const words = others
    .slice(0, MOST)
    .map((one) => hereName(one) + (one.field === null ? ' is here too' : ` writes in “${one.field}”`));
  const more = others.length - MOST;
  return (
    // It hangs from the top edge, where it moves nothing when it comes and goes.
    <p
      role="status"
      className="absolute top-0 left-3 z-10 max-w-[calc(100%-1.5rem)] truncate rounded-b border border-t-0 border-dusk bg-bark px-2 text-xs leading-4 text-dusk lg:left-4.5 print:hidden"
    >
      {words.join(', ')}
      {more > 0 && `, and ${more} more`}
    </p>
  );
}
