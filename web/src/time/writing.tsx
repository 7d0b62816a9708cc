/** Writes the times of moments by playing: while it is on, each moment that is called gets the position of its call. */
import { createContext, useContext, useEffect, useRef, useState, type ReactNode } from 'react';
import { useLocation } from 'react-router';
import { momentName } from '@tawny-signal/core/show/moment-name';
import type { Show } from '@tawny-signal/core/show';
import { positionAt } from '@tawny-signal/core/time/position';
import { writePosition } from '@tawny-signal/core/timecode/timecode';
import { useLive } from '../live/live';
import { useChangeRow, usePosition, useShow } from '../show/show';
import { Button } from '../ui/button';
import { NotOfTheShow } from '../ui/read-only';

export interface TimeWriting {
  on: boolean;
  begin: () => void;
  end: () => void;
  /** What was written last; null for nothing yet. */
  last: string | null;
}

function useWriting(show: Show): TimeWriting {
  const { store } = useLive();
  const change = useChangeRow('moments');
  const act = usePosition();
  const [on, setOn] = useState(false);
  const [last, setLast] = useState<string | null>(null);
  /** The last call that was looked at. */
  const seen = useRef<number>(0);
  const latest = useRef(show);
  useEffect(() => {
    latest.current = show;
  });
  const { mutate } = change;
  useEffect(() => {
    if (!on) return;
    seen.current = store.order()?.called?.at ?? 0;
    return store.subscribe('order', () => {
      const called = store.order()?.called;
      const position = store.transport()?.position;
      if (!called || !position || called.at === seen.current) return;
      seen.current = called.at;
      const { moments, settings } = latest.current;
      const moment = moments.find(({ id }) => id === called.id);
      if (!moment) return;
      const timecode = writePosition(positionAt(position.motion, called.at), settings.timecode.frameRate);
      mutate({ id: moment.id, change: { timecode } });
      setLast(`${momentName(moment)} at ${timecode}`);
    });
  }, [on, store, mutate]);
  const turn = (next: boolean): void => {
    // What is written must not be called at the same time.
    act.mutate({ do: 'calls', on: !next });
    setLast(null);
    setOn(next);
  };
  return { on, last, begin: () => turn(true), end: () => turn(false) };
}

const WritingContext = createContext<TimeWriting | null>(null);

/** Writing goes on while another place is open, such as the prompt desk: it lives above the pages. */
export function TimeWritingProvider({ children }: { children: ReactNode }) {
  const writing = useWriting(useShow());
  return <WritingContext value={writing}>{children}</WritingContext>;
}

function useTimeWriting(): TimeWriting {
  const writing = useContext(WritingContext);
  if (!writing) throw new Error('useTimeWriting is used outside of a TimeWritingProvider');
  return writing;
}

/** The button on the Time place, with what was written last. */
export function WritingBar() {
  const { on, last, begin, end } = useTimeWriting();
  return (
    <NotOfTheShow needs="operator">
      {on && <Said last={last} />}
      <Button needs="operator" aria-pressed={on} onClick={on ? end : begin}>
        {on ? 'Stop writing times' : 'Write times by playing'}
      </Button>
    </NotOfTheShow>
  );
}

function Said({ last }: { last: string | null }) {
  return (
    <p role="status" className="text-sm text-straw">
      {last ? `Wrote ${last}.` : 'Play the position, and call each moment. Its time is written.'}
    </p>
  );
}

/** The same on every other page. */
export function WritingElsewhere() {
  const { on, last, end } = useTimeWriting();
  const { pathname } = useLocation();
  if (!on || pathname === '/time' || /^\/time\/(?!tempo|ltc)/.test(pathname)) return null;
  return (
    <div className="flex items-center justify-between gap-3 px-3 pt-2 lg:px-4.5">
      <Said last={last} />
      <Button needs="operator" onClick={end}>
        Stop writing times
      </Button>
    </div>
  );
}
