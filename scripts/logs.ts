/** Writes the logs of processes. A full file is rotated, and only the last ones are kept. */
import type { ChildProcess } from 'node:child_process';
import { fstatSync } from 'node:fs';
import { basename, dirname } from 'node:path';
import { createStream } from 'rotating-file-stream';

const FILE_SIZE = '5M';
const FILES = 10;

export interface Log {
  /** Writes the output of a process. */
  take(child: ChildProcess): void;
  close(): Promise<void>;
}

/** Whether what we say goes to the journal of systemd, which then gets the logs too (systemd.exec(5), `$JOURNAL_STREAM`). */
function isJournal(): boolean {
  try {
    const { dev, ino } = fstatSync(1);
    return process.env['JOURNAL_STREAM'] === `${dev}:${ino}`;
  } catch {
    return false;
  }
}

/** The most bytes that wait for a slow or full disk. Further output is dropped. */
const BEHIND_BYTES = 4 << 20;

/**
 * @param path of the newest file; older ones have a number after their name
 * @param size of a file, in bytes with a unit: `5M`
 * @param files the most files that are kept
 */
export function openLog(path: string, size = FILE_SIZE, files = FILES): Log {
  const name = basename(path);
  const out = createStream((at) => (at ? `${name}.${String(at)}` : name), {
    path: dirname(path),
    size,
    rotate: files - 1,
  });
  let failed = false;
  const toJournal = isJournal();
  out.on('error', () => (failed = true));
  // The output is always read, because a process with a full pipe blocks, and the engine must not.
  const write = (bytes: Buffer): void => {
    if (!failed && out.writableLength < BEHIND_BYTES) out.write(bytes);
    if (toJournal && process.stdout.writableLength < BEHIND_BYTES) process.stdout.write(bytes);
  };
  return {
    take(child) {
      child.stdout!.on('data', write);
      child.stderr!.on('data', write);
    },
    close: () => (failed ? Promise.resolve() : new Promise((done) => out.end(() => done()))),
  };
}
