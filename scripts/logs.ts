/** The logs of processes: files that are begun anew when they are full, and of which the last ones are kept. */
import type { ChildProcess } from 'node:child_process';
import { basename, dirname } from 'node:path';
import { createStream } from 'rotating-file-stream';

const FILE_SIZE = '5M';
const FILES = 10;

export interface Log {
  /** Writes what a process says. */
  take(child: ChildProcess): void;
  close(): Promise<void>;
}

/** What a full or slow disk has not taken yet; more is not kept. */
const BEHIND_BYTES = 4 << 20;

/**
 * @param path of the newest file; older ones have a number behind their name
 * @param size of a file, in bytes with a unit: `5M`
 * @param files how many there are at most
 */
export function openLog(path: string, size = FILE_SIZE, files = FILES): Log {
  const name = basename(path);
  const out = createStream((at) => (at ? `${name}.${String(at)}` : name), {
    path: dirname(path),
    size,
    rotate: files - 1,
  });
  let failed = false;
  out.on('error', () => (failed = true));
  // What a process says is always read: one whose pipe is full stands still in the middle of its next word, and the engine is one.
  const write = (bytes: Buffer): void => {
    if (!failed && out.writableLength < BEHIND_BYTES) out.write(bytes);
  };
  return {
    take(child) {
      child.stdout!.on('data', write);
      child.stderr!.on('data', write);
    },
    close: () => (failed ? Promise.resolve() : new Promise((done) => out.end(() => done()))),
  };
}
