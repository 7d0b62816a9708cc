/** Tabs for the pages of a place, each with its own address. */
import { NavLink } from 'react-router';

interface PlaceTabsProps {
  label: string;
  tabs: readonly { path: string; words: string }[];
  /** The tab of the current page. */
  at: string;
}

export function PlaceTabs({ label, tabs, at }: PlaceTabsProps) {
  return (
    <nav aria-label={label} className="flex gap-1 print:hidden">
      {tabs.map(({ path, words }) => (
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
