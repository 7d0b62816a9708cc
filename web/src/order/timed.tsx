/** What timecode says of a moment: how long until it calls it, or why it passed without calling it. Rendered for itself. */
import type { PassedWhy } from '@tawny-signal/core/time/position';
import { useLiveValue } from '../live/live';
import type { LiveStore } from '../live/store';
import { PASSED_WORDS, spanWords } from '../time/words';
import { useNow } from './use-order';

/** The instant of the call moves a little as a source trembles; it is told in steps of so many ms. */
const STEP_MS = 50;

/** When the position calls a moment next, in milliseconds since 1970, if it runs towards it. */
function dueAt(store: LiveStore, id: string): number | null {
  const position = store.transport()?.position;
  if (position?.next?.id !== id || position.motion.speed <= 0) return null;
  const { ms, at, speed } = position.motion;
  return Math.round((at + (position.next.ms - ms) / speed) / STEP_MS) * STEP_MS;
}

function passedWhy(store: LiveStore, id: string): PassedWhy | null {
  return store.transport()?.position.passed.findLast((one) => one.id === id)?.why ?? null;
}

export function Timed({ id }: { id: string }) {
  const due = useLiveValue('transport', (store) => dueAt(store, id));
  const why = useLiveValue('transport', (store) => passedWhy(store, id));
  if (due !== null) return <Due at={due} />;
  return why && <span className="text-straw">{PASSED_WORDS[why]} · </span>;
}

function Due({ at }: { at: number }) {
  const now = useNow(true);
  return <span className="text-tawny-2">in {spanWords(at - now)} by timecode · </span>;
}
