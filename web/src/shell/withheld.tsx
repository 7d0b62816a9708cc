/** Why something was not sent, or not heard: the show is safe, or a line is muted; with the button that changes that. */
import type { Show } from '@tawny-signal/core/show';
import { useLiveValue } from '../live/live';
import type { Passing } from '../live/traffic-log';
import { useArm, useChangeRow } from '../show/show';
import { Button } from '../ui/button';

export type HeldBackBy = { safe: true } | { safe: false; lineId: string; name: string };

/** Returns what holds messages back now, of those that are given. @param armed whether the show is */
export function heldBackBy(show: Show, passed: readonly Passing[], armed: boolean): HeldBackBy[] {
  const held = passed.filter(({ direction }) => direction === 'heldBack');
  const muted = show.lines.filter(
    (line) => line.muted && passed.some(({ lineId, direction }) => lineId === line.id && direction !== 'out'),
  );
  return [
    ...(held.length > 0 && !armed ? [{ safe: true } as const] : []),
    ...muted.map(({ id, name }) => ({ safe: false, lineId: id, name }) as const),
  ];
}

export const heldBackWords = (by: HeldBackBy): string =>
  by.safe ? 'the show is safe' : `${by.name} is muted`;

/** @param passed what came in, and what was to be sent for it */
export function Withheld({ show, passed }: { show: Show; passed: readonly Passing[] }) {
  const armed = useLiveValue('desk', (store) => store.desk()?.armed ?? true);
  const arm = useArm();
  const changeLine = useChangeRow('lines');
  const reasons = heldBackBy(show, passed, armed);
  const wasHeld = passed.some(({ direction }) => direction === 'heldBack');
  if (reasons.length === 0)
    return wasHeld ? <p className="pb-2 text-straw">It was withheld. Nothing withholds it now.</p> : null;
  return (
    <ul className="pb-2">
      {reasons.map((by) => (
        <li key={by.safe ? '' : by.lineId} className="flex flex-wrap items-center gap-2 py-0.5">
          <span className="text-straw">
            {wasHeld ? 'Withheld' : 'Not heard'}: {heldBackWords(by)}.
          </span>
          {by.safe ? (
            <Button needs="operator" onClick={() => arm.mutate(true)}>
              Arm the show
            </Button>
          ) : (
            <Button
              needs="edit"
              onClick={() => changeLine.mutate({ id: by.lineId, change: { muted: false } })}
            >
              Unmute {by.name}
            </Button>
          )}
        </li>
      ))}
    </ul>
  );
}
