/** Returns the current tempo; until the engine has reported it, the tempo that the show opens with. */
import { useShow } from '../show/show';
import { useLiveValue } from './live';

export function useTempo(): number {
  const { tempo } = useShow().settings;
  return useLiveValue('transport', (live) => live.transport()?.bpm ?? tempo);
}
