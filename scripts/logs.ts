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

/** @param path of the newest file; older ones have a number behind their name */
export function openLog(path: string): Log {
  const name = basename(path);
  const out = createStream((at) => (at ? `${name}.${String(at)}` : name), {
    path: dirname(path),
    size: FILE_SIZE,
    rotate: FILES - 1,
  });
  // A full disk stops no process.
  out.on('error', () => undefined);
  return {
    take(child) {
      child.stdout!.pipe(out, { end: false });
      child.stderr!.pipe(out, { end: false });
    },
    close: () => new Promise((done) => out.end(() => done())),
  };
}
