/** The error of what is written in a cell of the running order. */
import type { Typed } from './range.js';

/** What was written in a cell cannot be read. The message says why. */
export class BadCell extends Error {}

/** @throws BadCell with the reason */
export function must<T>(read: Typed<T>): T {
  if (!read.ok) throw new BadCell(read.reason);
  return read.value;
}
