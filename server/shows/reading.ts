/** Reads files that people give, beside everything else: one at a time, for so long, with so much memory; it ends when nobody waits for it any more. */
import type { Request } from 'express';
import { HttpException, HttpStatus } from '@nestjs/common';
import pLimit from 'p-limit';
import { Worker } from 'node:worker_threads';
import type { Show } from '@tawny-signal/core/show';
import { BadInput } from '../http/problems.js';
import { pageOfAsker } from '../people/asking.js';
import type { FileKind, READERS, ReadSaid, ReadTask } from './reading-thread.js';

const THREAD = new URL('./reading-thread.js', import.meta.url);
/** The most files that wait while one is read. */
const MOST_WAITING = 4;
const LONGEST_MS = 60_000;
const ROOM_MB = 1024;

/** 429: other files are being read. */
export class TooManyFiles extends HttpException {
  constructor() {
    const message = 'Other files are being read just now. Try again in a moment.';
    super({ message, fields: [{ field: 'file', message }] }, HttpStatus.TOO_MANY_REQUESTS);
  }
}

const refused = (message: string): BadInput => new BadInput([{ field: 'file', message }]);

const inTurn = pLimit(1);

/** How much was read of the file of each page that waits for one, 0–1, by the id of the page. */
const parts = new Map<string, number>();

/** How much was read of the file that the page that asks has sent, 0–1; null if none of its files is being read. */
export const partRead = (): number | null => parts.get(pageOfAsker()) ?? null;

function inThread(task: ReadTask, request: Request, page: string): Promise<unknown> {
  return new Promise((done, fail) => {
    if (request.socket.destroyed) return fail(refused('The request ended before its file was read.'));
    const worker = new Worker(THREAD, {
      workerData: task,
      resourceLimits: { maxOldGenerationSizeMb: ROOM_MB },
    });
    const end = (error: BadInput): void => {
      fail(error);
      void worker.terminate();
    };
    const gone = (): void => end(refused('Stopped: nothing was read.'));
    const late = setTimeout(
      () => end(refused('This file takes too long to read. Divide it into smaller ones.')),
      LONGEST_MS,
    );
    request.socket.once('close', gone);
    worker.on('message', (said: ReadSaid) => {
      if ('found' in said) done(said.found);
      else parts.set(page, said.part);
    });
    worker.once('error', (error: NodeJS.ErrnoException) =>
      fail(error.code === 'ERR_WORKER_OUT_OF_MEMORY' ? refused('This file is too large to be read.') : error),
    );
    worker.once('exit', () => {
      clearTimeout(late);
      request.socket.off('close', gone);
      fail(refused('This file could not be read.'));
    });
  });
}

/**
 * Reads a file in a thread of its own.
 * @param request ends the reading when it is given up
 * @throws BadInput, TooManyFiles
 */
export async function readFile<K extends FileKind>(
  kind: K,
  bytes: Uint8Array,
  show: Show,
  request: Request,
): Promise<ReturnType<(typeof READERS)[K]>> {
  if (inTurn.activeCount + inTurn.pendingCount > MOST_WAITING) throw new TooManyFiles();
  // Mappings are most of a show, and no file names one.
  const task: ReadTask = { kind, bytes, show: { ...show, mappings: [] } };
  const page = pageOfAsker();
  parts.set(page, 0);
  try {
    return (await inTurn(() => inThread(task, request, page))) as ReturnType<(typeof READERS)[K]>;
  } finally {
    parts.delete(page);
  }
}
