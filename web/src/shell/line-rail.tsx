/** The list of lines on the left of every page. */
import { NavLink } from 'react-router';
import { lineKindWords } from '../lines/kinds';
import { useLineView } from '../lines/line-view';
import { useShow } from '../show/show';
import { Eyes } from '../ui/eyes';
import { useWhyNot } from '../ui/read-only';
import type { Line } from '@tawny-signal/core/show/line';

export function LineRail() {
  const { lines } = useShow();
  const mayAdd = useWhyNot('edit') === undefined;
  return (
    <nav
      aria-label="Lines"
      className="flex w-53 shrink-0 print:hidden flex-col overflow-y-auto border-r border-rule bg-raised py-2.5"
    >
      <div className="flex justify-between px-3.5 pb-1.5 text-sm text-ink-3" aria-hidden>
        <span>Lines</span>
        <span>in · out</span>
      </div>
      <ul>
        {lines.map((line) => (
          <RailLine key={line.id} line={line} />
        ))}
      </ul>
      {mayAdd && (
        <NavLink to="/lines/new" className="px-3.5 py-2.5 text-sm font-semibold text-ink-2 hover:text-ink">
          + Add a line
        </NavLink>
      )}
    </nav>
  );
}

function RailLine({ line }: { line: Line }) {
  const view = useLineView(line);
  return (
    <li>
      <NavLink
        to={`/lines/${line.id}`}
        title={view.trouble || lineKindWords(line)}
        className={({ isActive }) =>
          `grid min-h-10.5 grid-cols-[26px_1fr_auto] items-center gap-x-2 border-l-3 py-1 pr-3.5 pl-2.5 hover:bg-bark ${isActive ? 'border-tawny bg-bark' : 'border-transparent'}`
        }
      >
        <Eyes {...view.eyes} />
        <span className="min-w-0">
          <span className="block truncate text-sm leading-4">{line.name}</span>
          <span className={`block truncate text-xs ${view.trouble ? 'text-brick' : 'text-ink-3'}`}>
            {view.trouble ? view.shortTrouble : lineKindWords(line)}
          </span>
        </span>
        <span className="font-mono text-xs text-ink-2">{view.rateWords}</span>
      </NavLink>
    </li>
  );
}
