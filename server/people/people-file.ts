/**
 * What is kept of who may in: a file of this machine, apart from the shows. So people can sign in while the database is away, and neither a show's file
 * nor a backup holds a secret.
 */
import { existsSync, readFileSync, renameSync } from 'node:fs';
import { open, rename } from 'node:fs/promises';
import { join } from 'node:path';
import { z } from 'zod';
import { openingSchema } from '@tawny-signal/core/people/people';
import { roleSchema } from '@tawny-signal/core/people/roles';
import { keptSecretSchema } from './secrets.js';

const sessionSchema = z.object({
  id: z.string(),
  token: z.string(),
  name: z.string(),
  role: roleSchema,
  address: z.string(),
  browser: z.string(),
  since: z.number(),
  until: z.number(),
});
export type Session = z.infer<typeof sessionSchema>;

const fileSchema = z.object({
  version: z.literal(1),
  opening: openingSchema,
  passphrases: z.partialRecord(roleSchema, keptSecretSchema),
  people: z.array(z.object({ name: z.string(), role: roleSchema, secret: keptSecretSchema })),
  sessions: z.array(sessionSchema),
});
export type KeptPeople = z.infer<typeof fileSchema>;

export interface PeopleFile {
  kept: KeptPeople;
  /** Writes what is in `kept` now. @throws if it can't be written */
  save(): Promise<void>;
}

const NOTHING: KeptPeople = {
  version: 1,
  opening: { listen: [], hereToo: false, tls: false, announce: false, sessionDays: 1 },
  passphrases: {},
  people: [],
  sessions: [],
};

function read(path: string, broken: (why: string) => void): KeptPeople {
  if (!existsSync(path)) return structuredClone(NOTHING);
  try {
    return fileSchema.parse(JSON.parse(readFileSync(path, 'utf8')));
  } catch (error) {
    renameSync(path, `${path}.broken`);
    broken(error instanceof Error ? error.message : String(error));
    return structuredClone(NOTHING);
  }
}

/** @param broken called where the file can't be read: it is put aside, and nobody is known any more */
export function openPeopleFile(folder: string, broken: (why: string) => void): PeopleFile {
  const path = join(folder, 'people.json');
  const kept = read(path, broken);
  let writing: Promise<void> = Promise.resolve();

  async function write(): Promise<void> {
    // Only this user may read it, and a power cut leaves the old one or the new one.
    const file = await open(`${path}.new`, 'w', 0o600);
    try {
      await file.writeFile(JSON.stringify(kept, null, 1));
      await file.sync();
    } finally {
      await file.close();
    }
    await rename(`${path}.new`, path);
  }

  return {
    kept,
    save: () => (writing = writing.catch(() => undefined).then(write)),
  };
}
