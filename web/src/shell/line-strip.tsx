/** The lines on a narrow screen: a row of eyes, with the trouble of a line in words. */
import { Link } from 'react-router';
import type { Line } from '@tawny-signal/core/show/line';
import { useLineView } from '../lines/line-view';
import { useTroubledLines } from '../lines/use-troubled-lines';
import { useShow } from '../show/show';
import { Eyes } from '../ui/eyes';

export function LineStrip() {
  const { lines } = useShow();
  const troubled = useTroubledLines();
  const [first, ...more] = troubled;
  return (
    <nav
      aria-label="Lines"
      className="flex shrink-0 items-center gap-1 overflow-x-auto border-b border-rule bg-raised px-2 print:hidden"
    >
      <ul className="flex">
        {lines.map((line) => (
          <StripLine key={line.id} line={line} />
        ))}
      </ul>
      {first && (
        <Link
          to={`/lines/${first.id}`}
          className="flex min-h-8 shrink-0 items-center px-1 text-xs text-brick"
        >
          ! {first.name}: <Trouble line={first} />
          {more.length > 0 && `, and ${more.length} more`}
        </Link>
      )}
    </nav>
  );
}

function Trouble({ line }: { line: Line }) {
  return <span className="pl-1">{useLineView(line).shortTrouble}</span>;
}

function StripLine({ line }: { line: Line }) {
  const view = useLineView(line);
  return (
    <li>
      <Link
        to={`/lines/${line.id}`}
        aria-label={`${line.name}${view.trouble ? `, ${view.shortTrouble}` : ''}`}
        title={view.trouble || line.name}
        className="flex h-9 min-w-8 items-center justify-center"
      >
        <Eyes {...view.eyes} />
      </Link>
    </li>
  );
}
