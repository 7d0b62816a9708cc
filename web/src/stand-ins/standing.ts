/** What all stand-ins report over the live connection. */
import { useLiveValue } from '../live/live';

/** Something that a stand-in received. */
export type Received<T> = T & { seq: number; at: number; understood: boolean };

/** The state of a stand-in; null while it is not running. */
export function useStandIn<T>(name: string): T | null {
  return useLiveValue('standIns', (store) => store.standIn(name)) as T | null;
}
