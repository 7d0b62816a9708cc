/** The interface of the switchboard to everything but lines: the web server, the saved files, the copy of the ledger, and the turns of lines. */
import type { FromEngine } from '@tawny-signal/core/link/messages';
import type { Intakes } from './intake.js';
import type { KeptLive } from './kept-state.js';
import type { LedgerPipe } from './ledger-pipe.js';

export interface Outside {
  /** Sends a message to the server, if one is connected. */
  tell(message: FromEngine): void;
  batch(bytes: Uint8Array): void;
  /** Sends bytes to a port of a browser or stand-in. Copies them. */
  portBytes(carrier: number, port: number, bytes: Uint8Array): void;
  /** Returns whether a server is connected. */
  isHeard(): boolean;
  /** The sACN component identifier, in hexadecimal. It is the same after a restart. */
  cid: string;
  keeper: Keeper;
  ledger: LedgerPipe;
  /** The queues of the lines' input. */
  intakes: Intakes;
}

/** Saves the state for a restart, without delaying signals. */
export interface Keeper {
  /** @param json the server's message with rows of a show, as it came: passing a text to a thread costs far less than passing a show */
  rows(json: string): void;
  /** @param json the server's message with the show, as it came, after those with its rows */
  show(json: string): void;
  /** @param json the server's message with the edit, as it came */
  ops(json: string): void;
  live(live: KeptLive): void;
}
