/** Chooses the line of a source or an output. On a line that cannot carry what the row had, the row has the first way that it can. */
import type { Show } from '@tawny-signal/core/show';
import {
  TIME_WAYS,
  type TimeKind,
  type TimeOf,
  type TimeOutput,
  type TimeSource,
} from '@tawny-signal/core/time/ways';
import { Choice } from '../ui/choice';
import { linesFor } from './source-list';

export function LineChoice({
  show,
  of,
  row,
  save,
}: {
  show: Show;
  of: TimeOf;
  row: TimeSource | TimeOutput;
  save: (change: { lineId: string; kind?: TimeKind }) => Promise<unknown>;
}) {
  const lines = linesFor(show, of);
  return (
    <Choice
      label="Line"
      value={row.lineId}
      options={lines.map(({ id, name }) => ({ value: id, words: name }))}
      choose={(lineId) => {
        const line = show.lines.find(({ id }) => id === lineId)!;
        if (TIME_WAYS[row.kind].fits(line.kind)) return save({ lineId });
        return save({ lineId, kind: lines.find(({ id }) => id === lineId)!.kind });
      }}
    />
  );
}
