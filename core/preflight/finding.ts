/** What preflight finds. */
import type { Signal } from '../signal.js';

/** A row that a finding leads to. */
export interface Place {
  table: 'mappings' | 'routes' | 'lines' | 'moments';
  id: string;
  name: string;
}

export interface Finding {
  rule: string;
  /** A fault will go wrong; a warning may be meant. */
  weight: 'fault' | 'warning';
  words: string;
  places: Place[];
}

/** What is known from what passed, beside the show. */
export interface SeenLately {
  heard: readonly { lineId: string; signal: Signal }[];
  /** Bytes a second that leave each line. */
  outBytes: Readonly<Record<string, number>>;
}
