/** The lines that are not open and not muted, as they change. */
import type { Line } from '@tawny-signal/core/show/line';
import { useLive, useLiveValue } from '../live/live';
import { useShow } from '../show/show';

export function useTroubledLines(): Line[] {
  const { lines } = useShow();
  const { store } = useLive();
  useLiveValue('lines', (live) => lines.map(({ id }) => live.lineState(id)?.state ?? '').join(), 250);
  return lines.filter((line) => !line.muted && store.lineState(line.id)?.state !== 'open');
}
