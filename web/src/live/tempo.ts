/** The tempo that is played now: as the show opens with until the engine has said it. */
import { useShow } from '../show/show';
import { useLiveValue } from './live';

export function useTempo(): number {
  const { tempo } = useShow().settings;
  return useLiveValue('transport', (live) => live.transport()?.bpm ?? tempo);
}
