/** Writes the times of moments by playing: while it is on, each moment that is called gets the position of its call. */
import { useEffect, useRef, useState } from 'react';
import { momentName } from '@tawny-signal/core/show/moment-name';
import type { Show } from '@tawny-signal/core/show';
import { positionAt } from '@tawny-signal/core/time/position';
import { writePosition } from '@tawny-signal/core/timecode/timecode';
import { useLive } from '../live/live';
import { useChangeRow, usePosition } from '../show/show';
import { Button } from '../ui/button';
import { NotOfTheShow } from '../ui/read-only';

export interface TimeWriting {
  on: boolean;
  begin: () => void;
  end: () => void;
  /** What was written last; null for nothing yet. */
  last: string | null;
}

export function useTimeWriting(show: Show): TimeWriting {
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

export function WritingBar({ writing }: { writing: TimeWriting }) {
  return (
    <NotOfTheShow>
      {writing.on && (
        <p role="status" className="text-sm text-straw">
          {writing.last
            ? `Wrote ${writing.last}.`
            : 'Play the position, and call each moment. Its time is written.'}
        </p>
      )}
      <Button aria-pressed={writing.on} onClick={writing.on ? writing.end : writing.begin}>
        {writing.on ? 'Stop writing times' : 'Write times by playing'}
      </Button>
    </NotOfTheShow>
  );
}
