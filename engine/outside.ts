/** What the switchboard speaks to besides lines: the web server, the files that a restart goes on from, the ledger's copy, and the turns of the lines. */
import type { LedgerCopy } from '@tawny-signal/core/ledger';
import type { Op, PlacedShow } from '@tawny-signal/core/edits';
import type { FromEngine, ShowMark } from '@tawny-signal/core/link/messages';
import type { Intakes } from './intake.js';
import type { KeptLive } from './kept-state.js';

export interface Outside {
  /** Tells the server; where none is connected, nobody. */
  tell(message: FromEngine): void;
  batch(bytes: Uint8Array): void;
  /** To a port that a browser or stand-in carries. Copies the bytes. */
  portBytes(carrier: number, port: number, bytes: Uint8Array): void;
  /** Whether a server is connected. */
  isHeard(): boolean;
  /** By which those who hear sACN know us, in hexadecimal: the same after a restart. */
  cid: string;
  keeper: Keeper;
  ledger: LedgerCopy;
  /** How long each line is served in a turn. */
  intakes: Intakes;
}

/** Writes what a restart goes on from, off the way of signals. */
export interface Keeper {
  show(mark: ShowMark, placed: PlacedShow): void;
  ops(mark: ShowMark, ops: Op[]): void;
  live(live: KeptLive): void;
}
