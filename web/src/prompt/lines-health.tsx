/** The state of all lines, readable at arm's length: one line of text if all are well, and each line that is not by its name. */
import type { Line } from '@tawny-signal/core/show/line';
import { useLive, useLiveValue } from '../live/live';
import { useShow } from '../show/show';

export function LinesHealth() {
  const { lines } = useShow();
  const { store } = useLive();
  useLiveValue('lines', (live) => lines.map(({ id }) => live.lineState(id)?.state ?? '').join(), 250);
  const isWell = (line: Line): boolean => line.muted || store.lineState(line.id)?.state === 'open';
  const troubled = lines.filter((line) => !isWell(line));
  const muted = lines.filter((line) => line.muted);
  return (
    <section aria-label="Lines now" className="text-lg">
      {troubled.length === 0 ? (
        <p>
          <span aria-hidden className="mr-2 inline-block size-2.5 rounded-full bg-moss" />
          All {lines.length} lines are well.
        </p>
      ) : (
        <p className="text-brick">
          ! {troubled.length} of {lines.length} lines: {troubled.map(({ name }) => name).join(', ')}
        </p>
      )}
      {muted.length > 0 && <p className="text-straw">Muted: {muted.map(({ name }) => name).join(', ')}</p>}
    </section>
  );
}
