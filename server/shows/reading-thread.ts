/** Reads a file in a thread of its own, so that nobody waits for it. Told what to read, it says how far it is and what is in it, and ends. */
import { parentPort, workerData } from 'node:worker_threads';
import { readBankFile, readLayoutFile, readShowFile } from '@tawny-signal/core/files/json';
import { readMappings } from '@tawny-signal/core/files/mappings-csv';
import { readMoments } from '@tawny-signal/core/files/moments-csv';
import type { SayPart } from '@tawny-signal/core/files/table';
import type { Show } from '@tawny-signal/core/show';

export const READERS = {
  show: readShowFile,
  bank: readBankFile,
  layout: readLayoutFile,
  mappings: readMappings,
  moments: readMoments,
} satisfies Record<string, (text: string, show: Show, said: SayPart) => unknown>;
export type FileKind = keyof typeof READERS;

export interface ReadTask {
  kind: FileKind;
  bytes: Uint8Array;
  /** What the file is read for: its lines and what else it names. */
  show: Show;
}

/** How much was read, 0–1, or what is in the file. */
export type ReadSaid = { part: number } | { found: unknown };

// Tests of what is read import this file without a thread.
const port = parentPort;
if (port) {
  const say = (said: ReadSaid): void => port.postMessage(said);
  const { kind, bytes, show } = workerData as ReadTask;
  const text = new TextDecoder().decode(bytes);
  say({ found: READERS[kind](text, show, (part) => say({ part })) });
}
