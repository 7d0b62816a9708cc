/** The findings of preflight. */
import type { Signal } from '../signal.js';

/** A row that a finding refers to. */
export interface Place {
  table: 'mappings' | 'routes' | 'lines' | 'moments' | 'tempoMarks' | 'motions';
  id: string;
  name: string;
}

export interface Finding {
  rule: string;
  /** A fault will go wrong; a warning may be intended. */
  weight: 'fault' | 'warning';
  words: string;
  places: Place[];
}

/** What was observed while the show ran. */
export interface SeenLately {
  heard: readonly { lineId: string; signal: Signal }[];
  /** Bytes a second that each line sends. */
  outBytes: Readonly<Record<string, number>>;
}
