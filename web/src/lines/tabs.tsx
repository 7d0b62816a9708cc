/** Lines and their routes: two pages of one place. */
import { NavLink } from 'react-router';

const TABS = [
  { path: '/lines', words: 'Lines' },
  { path: '/lines/routes', words: 'Routes' },
];

/** @param at which of them this page is */
export function Tabs({ at }: { at: 'Lines' | 'Routes' }) {
  return (
    <nav aria-label="Lines and routes" className="flex gap-1">
      {TABS.map(({ path, words }) => (
        <NavLink
          key={path}
          to={path}
          aria-current={words === at ? 'page' : undefined}
          className={`flex min-h-8 items-center rounded px-2.5 text-sm ${words === at ? 'bg-bark-2 font-semibold text-ink' : 'text-ink-2 hover:bg-bark'}`}
        >
          {words}
        </NavLink>
      ))}
    </nav>
  );
}
