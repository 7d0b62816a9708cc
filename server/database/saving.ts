/** Whether what is changed can be saved: it can as long as the last write worked. Everything that reaches the database goes through here. */
import { HttpException, Inject, Injectable, Logger, type OnApplicationShutdown } from '@nestjs/common';
import type { Pool } from 'pg';
import { NotKept, NotSaved } from '../http/problems.js';
import { POOL } from './database.js';

/** How often a small write is tried while all is well, and while it is not. */
const CHECK_MS = 1000;
const AGAIN_MS = 200;
/** A write that takes longer has not worked. */
const CHECK_LIMIT_MS = 2000;

/** Why nothing can be saved, as it goes on after “Not saved: ”. */
const NOT_ANSWERING = 'the database is not answering';
const WORDS: Record<string, string> = {
  '25006': 'the database can only be read',
  '53100': 'the disk of the database is full',
  '53200': 'the database has no memory left',
  '42501': 'the database does not let us write',
};

interface DatabaseError {
  code?: string;
  message?: string;
}

/** Drizzle wraps what the database said. */
const saidBy = (error: unknown): DatabaseError =>
  ((error instanceof Error && (error.cause as DatabaseError | undefined)) || error) as DatabaseError;

/** Classes of SQLSTATE that are about the data of one statement, and not about the database (PostgreSQL, Appendix A). */
export const isAboutData = (error: unknown): boolean => /^2[23]/.test(saidBy(error)?.code ?? '');

@Injectable()
export class Saving implements OnApplicationShutdown {
  private readonly log = new Logger('database');
  private why: string | null = NOT_ANSWERING;
  private timer: NodeJS.Timeout | null = null;
  private closing = false;
  /** It can be saved, or can't be any more. */
  changed: () => void = () => undefined;

  constructor(@Inject(POOL) private readonly pool: Pool) {}

  get works(): boolean {
    return this.why === null;
  }

  /** Why it can't be saved; null where it can. */
  get trouble(): string | null {
    return this.why;
  }

  /** The database has just answered: from now on it is looked whether it does. */
  start(): void {
    this.is(null);
    this.plan();
  }

  /** @throws NotSaved at once where the last write did not work */
  wanted(): void {
    if (this.why !== null) throw new NotSaved(this.why);
  }

  /** Asks the database. @throws NotSaved where it can't, at once while it does not answer; NotKept where it can't take just this */
  async reaching<T>(query: () => PromiseLike<T>): Promise<T> {
    // Whether it answers again is found out by the check: nobody else waits for that.
    if (this.timer && this.why === NOT_ANSWERING) throw new NotSaved(NOT_ANSWERING);
    try {
      return await query();
    } catch (error) {
      if (error instanceof HttpException) throw error;
      const said = saidBy(error);
      this.log.error(`the database refused: ${said?.message ?? String(error)}`);
      if (isAboutData(error)) throw new NotKept();
      this.is(WORDS[said?.code ?? ''] ?? NOT_ANSWERING);
      throw new NotSaved(this.why!);
    }
  }

  onApplicationShutdown(): void {
    this.closing = true;
    if (this.timer) clearTimeout(this.timer);
  }

  private is(why: string | null): void {
    if (why === this.why) return;
    this.why = why;
    this.changed();
  }

  private async check(): Promise<void> {
    await this.write().then(
      () => this.is(null),
      (error: unknown) => this.is(WORDS[saidBy(error)?.code ?? ''] ?? NOT_ANSWERING),
    );
    this.plan();
  }

  private plan(): void {
    if (!this.closing) this.timer = setTimeout(() => void this.check(), this.works ? CHECK_MS : AGAIN_MS);
  }

  /** While all is well a write that needs no room; after a failure one that needs a page and more, which a full disk has not. */
  private async write(): Promise<void> {
    const pad = this.works
      ? 'health.pad'
      : `(select string_agg(md5(random()::text), '') from generate_series(1, 300))`;
    const text = `insert into health (id) values (1) on conflict (id) do update set at = now(), pad = ${pad}`;
    // `query_timeout` is the package's own, and missing in its types for one query.
    await this.pool.query({ text, query_timeout: CHECK_LIMIT_MS } as { text: string });
  }
}
