/** Keeps the sound lines of the show open in this browser, whichever page is shown. */
import { useEffect, useMemo } from 'react';
import { useLive } from '../live/live';
import { useShow } from '../show/show';
import type { SoundLine } from './deck';

export function SoundOfTheShow() {
  const { sound } = useLive();
  const { lines } = useShow();
  const ours = useMemo(
    () => lines.filter((line): line is SoundLine => line.kind === 'sound-browser'),
    [lines],
  );
  useEffect(() => sound.setLines(ours), [sound, ours]);
  return null;
}
