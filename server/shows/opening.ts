/** Finds the show to open at the start. A database that does not answer is tried again and again. */
import { randomUUID } from 'node:crypto';
import { Logger } from '@nestjs/common';
import type { Show } from '@tawny-signal/core/show';
import { migrateDatabase, type Database } from '../database/database.js';
import { insertShow, loadShow, type LoadedShow } from './show-store.js';

/** How often a database that can't be opened is tried again. */
const OPEN_AGAIN_MS = 500;
const log = new Logger('show');

/**
 * Returns the show that was opened last. If there is none, `first` becomes the show.
 * @param ends says whether to give up. @returns null if it did
 */
export async function loadAtStart(
  db: Database,
  databaseUrl: string,
  first: Show,
  ends: () => boolean,
): Promise<LoadedShow | null> {
  for (;;) {
    try {
      await migrateDatabase(databaseUrl);
      const loaded = await loadShow(db);
      if (loaded) return loaded;
      await insertShow(db, randomUUID(), first);
    } catch (error) {
      if (ends()) return null;
      log.error(`the show can’t be opened yet: ${String(error)}`);
      await new Promise((done) => setTimeout(done, OPEN_AGAIN_MS));
    }
  }
}
