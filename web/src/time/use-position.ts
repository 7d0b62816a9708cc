/** The position as it is now, for components. */
import { useEffect, useRef, type RefObject } from 'react';
import { STANDING } from '@tawny-signal/core/time/position';
import { seenPositionAt, type PositionSeen } from '@tawny-signal/core/time/transport';
import { frameAt, writeTimecode } from '@tawny-signal/core/timecode/timecode';
import type { FrameRate } from '@tawny-signal/core/timecode/frame-rate';
import { useLive, useLiveValue } from '../live/live';
import { serverNow } from '../live/server-clock';
import type { LiveStore } from '../live/store';

/** Returns what is known of the position; null until the engine has told it. Renders again a few times a second while it runs. */
export function usePositionSeen(): PositionSeen | null {
  return useLiveValue('transport', (store) => store.transport()?.position ?? null);
}

/** The position in ms; where it was last, while nobody can say how it is. */
export function positionNow(store: LiveStore, now: number): number {
  const position = store.transport()?.position;
  if (!position) return STANDING.ms;
  return isKnown(store) ? seenPositionAt(position, now) : position.motion.ms;
}

export const isKnown = (store: LiveStore): boolean => store.connected() && (store.desk()?.engine ?? false);

/** Calls `draw` once a frame of the screen, without rendering. */
export function useEachFrame(draw: (positionMs: number, now: number) => void): void {
  const { store } = useLive();
  const latest = useRef(draw);
  useEffect(() => {
    latest.current = draw;
  });
  useEffect(() => {
    let frame = requestAnimationFrame(function next() {
      const now = serverNow();
      latest.current(positionNow(store, now), now);
      frame = requestAnimationFrame(next);
    });
    return () => cancelAnimationFrame(frame);
  }, [store]);
}

/** Keeps the text of an element at the current timecode. */
export function useTimecodeText(rate: FrameRate): RefObject<HTMLSpanElement | null> {
  const element = useRef<HTMLSpanElement>(null);
  useEachFrame((ms) => {
    const text = writeTimecode(frameAt(ms, rate), rate);
    if (element.current && element.current.textContent !== text) element.current.textContent = text;
  });
  return element;
}
