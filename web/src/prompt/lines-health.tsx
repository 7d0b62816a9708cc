/** The state of all lines, readable at arm's length: one line of text if all are well, and each line that is not by its name. */
import { useTroubledLines } from '../lines/use-troubled-lines';
import { useLineView } from '../lines/line-view';
import type { Line } from '@tawny-signal/core/show/line';
import { useShow } from '../show/show';

export function LinesHealth() {
  const { lines } = useShow();
  const troubled = useTroubledLines();
  const muted = lines.filter((line) => line.muted);
  return (
    <section aria-label="Lines now" className="text-lg">
      {troubled.length === 0 ? (
        <p>
          <span aria-hidden className="mr-2 inline-block size-2.5 rounded-full bg-moss" />
          All {lines.length} lines OK
        </p>
      ) : (
        <ul aria-label="Lines in trouble">
          {troubled.map((line) => (
            <Troubled key={line.id} line={line} />
          ))}
        </ul>
      )}
      {muted.length > 0 && <p className="text-straw">Muted: {muted.map(({ name }) => name).join(', ')}</p>}
    </section>
  );
}

function Troubled({ line }: { line: Line }) {
  const view = useLineView(line);
  return (
    <li className="text-brick">
      <b>{line.name}</b>: {view.shortTrouble}
    </li>
  );
}
