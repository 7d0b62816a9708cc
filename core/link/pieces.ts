/**
 * A large show on the link, in pieces: rows first, some of a table with each message, then the show without them. Reading one message of megabytes
 * would hold up every signal.
 */
import { placeKey, type PlacedShow } from '../edits.js';
import { TABLE_NAMES, type RowOf, type TableName } from '../show/tables.js';
import type { RowsPiece, ToEngine } from './messages.js';

type ShowMessage = Extract<ToEngine, { t: 'show' }>;

/** Rows in a piece: about a millisecond to read. A MIDI file is as long as hundreds of other rows. */
const ROWS_IN_A_PIECE = 50;
const FILES_IN_A_PIECE = 1;

/** Splits the message with a show. @returns its pieces, and then the message with what is left; only the message for a small show */
export function inPieces(message: ShowMessage): (RowsPiece | ShowMessage)[] {
  const { placed } = message;
  const show = { ...placed.show };
  const told = new Set<string>();
  const pieces: RowsPiece[] = [];
  for (const table of TABLE_NAMES) {
    const rows = placed.show[table] as RowOf[TableName][];
    const most = table === 'midiFiles' ? FILES_IN_A_PIECE : ROWS_IN_A_PIECE;
    if (rows.length <= most) continue;
    for (let at = 0; at < rows.length; at += most) {
      const some = rows.slice(at, at + most);
      const position: PlacedShow['position'] = {};
      for (const { id } of some) {
        const key = placeKey(table, id);
        const place = placed.position[key];
        if (place !== undefined) position[key] = place;
        told.add(key);
      }
      pieces.push({ t: 'rows', number: pieces.length, table, rows: some, position });
    }
    Object.assign(show, { [table]: [] });
  }
  const position = Object.fromEntries(Object.entries(placed.position).filter(([key]) => !told.has(key)));
  if (pieces.length === 0) return [message];
  return [...pieces, { ...message, placed: { show, position }, pieces: pieces.length }];
}

export interface Pieces {
  /** Takes a piece. With number 0 a show begins: pieces of one that was never told to its end are forgotten. */
  add(piece: RowsPiece): void;
  /** Puts a show together with its pieces, and forgets them. @returns null if some of them are missing: then it must be told again */
  whole(message: ShowMessage): PlacedShow | null;
}

export function createPieces(): Pieces {
  let known: {
    count: number;
    rows: Map<TableName, RowOf[TableName][]>;
    position: PlacedShow['position'];
  } | null = null;
  return {
    add({ number, table, rows, position }) {
      if (number === 0 || !known) known = { count: 0, rows: new Map(), position: {} };
      known.count++;
      const before = known.rows.get(table);
      if (before) before.push(...rows);
      else known.rows.set(table, rows);
      Object.assign(known.position, position);
    },
    whole({ placed: rest, pieces = 0 }) {
      const found = known;
      known = null;
      if (pieces === 0) return rest;
      if (found?.count !== pieces) return null;
      return {
        show: { ...rest.show, ...Object.fromEntries(found.rows) },
        position: Object.assign(found.position, rest.position),
      };
    },
  };
}
