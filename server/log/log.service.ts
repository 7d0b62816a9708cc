/**
 * The log of the show: what was called, when, by whom or what, what each line was sent for it, and what failed. Kept in memory at once and in
 * PostgreSQL as soon as it answers; a performance begins by hand, or with the first moment that is called.
 */
import { randomUUID } from 'node:crypto';
import { Inject, Injectable, Logger, type OnApplicationShutdown } from '@nestjs/common';
import { momentOfCaller } from '@tawny-signal/core/cues/callers';
import type { LineTally, LogEntry, LogWhat, Performance } from '@tawny-signal/core/cues/log';
import type { AskedBy, OrderEvent } from '@tawny-signal/core/cues/order';
import { momentName } from '@tawny-signal/core/show/moment-name';
import { hearTitle } from '@tawny-signal/core/hears';
import { mappingName } from '@tawny-signal/core/mapping/words';
import { DATABASE, type Database } from '../database/database.js';
import type { MomentTally } from '@tawny-signal/core/link/messages';
import { isAboutData, Saving } from '../database/saving.js';
import { NotThere } from '../http/problems.js';
import { ShowService } from '../shows/show.service.js';
import { loadEntries, loadPerformances, removePerformance, saveLog } from './log-store.js';

const DATE = new Intl.DateTimeFormat('en-GB', { dateStyle: 'medium', timeStyle: 'short' });
const SAVE_MS = 500;
const AGAIN_MS = 2000;
/** A performance ends after this long without an event. */
const STALE_MS = 8 * 3600_000;
/** The events after which the sends of a moment are counted again. */
const STARTS: readonly LogWhat[] = ['called', 'ran', 'tried'];
/** The most entries that wait while the database does not answer. */
const MOST_WAITING = 20_000;

@Injectable()
export class LogService implements OnApplicationShutdown {
  /** Entries that were made since the start. */
  private written = 0;
  private readonly log = new Logger('log');
  private now: Performance | null = null;
  private lastAt = 0;
  /** The show that each performance is of: entries may be written after another one was opened. */
  private readonly showOf = new WeakMap<Performance, string>();
  /** The last entry of each moment, to which what it sends is counted. */
  private readonly latest = new Map<string, LogEntry>();
  /** Performances with the entries that are not written yet. */
  private readonly waiting = new Map<Performance, Map<string, LogEntry>>();
  private timer: NodeJS.Timeout | null = null;
  private closing = false;
  /** Called when another performance has begun or ended. */
  changed: () => void = () => undefined;

  constructor(
    @Inject(DATABASE) private readonly db: Database,
    private readonly show: ShowService,
    private readonly saving: Saving,
  ) {}

  /** Called after the show was opened. A performance that was running when the server stopped continues. */
  async open(): Promise<void> {
    this.end();
    this.latest.clear();
    const { showId } = this.show;
    const [last] = await loadPerformances(this.db, showId);
    if (!last || last.endedAt !== null) return;
    this.now = last;
    this.showOf.set(last, showId);
    const entries = await loadEntries(this.db, last.id);
    this.lastAt = entries.at(-1)?.at ?? last.begunAt;
    for (const entry of entries)
      if (entry.momentId !== null && STARTS.includes(entry.what)) this.latest.set(entry.momentId, entry);
  }

  /** Called before another show is opened: ends the performance, and writes all that is known of this show. */
  async leave(): Promise<void> {
    this.end();
    await this.reaching(() => this.save());
  }

  /** The current performance; null for none. */
  get current(): Performance | null {
    return this.now;
  }

  begin(name = ''): Performance {
    const at = Date.now();
    this.end();
    this.now = {
      id: randomUUID(),
      name: name.trim() || `Performance of ${DATE.format(at)}`,
      begunAt: at,
      endedAt: null,
    };
    this.lastAt = at;
    this.showOf.set(this.now, this.show.showId);
    this.latest.clear();
    this.keep(this.now, null);
    this.changed();
    return this.now;
  }

  end(at = Date.now()): void {
    if (!this.now) return;
    this.now.endedAt = at;
    this.keep(this.now, null);
    this.now = null;
    this.changed();
  }

  /** Ends an abandoned performance at the time of its last event. */
  private endStale(at: number): void {
    if (this.now && at - this.lastAt > STALE_MS) this.end(this.lastAt);
  }

  /** Processes what the engine reports. The tallies belong to the time before the events. */
  hear(tallies: readonly MomentTally[], events: readonly OrderEvent[]): void {
    for (const tally of tallies) this.count(tally);
    for (const { at, what, id, by } of events) {
      this.endStale(at);
      // A performance begins with a call. What is tried before it does not count.
      if (!this.now && what !== 'called') continue;
      const moment = this.show.current.placed.show.moments.find((row) => row.id === id);
      const entry = this.add(what, {
        at,
        momentId: id,
        cue: moment?.cue ?? '',
        name: moment?.name ?? '',
        askedBy: this.wordsOf(by),
      });
      if (id !== null && STARTS.includes(what)) this.latest.set(id, entry);
    }
  }

  /** Records an event of the whole show or of a line. */
  note(what: LogWhat, name = '', askedBy = ''): void {
    const at = Date.now();
    this.endStale(at);
    if (this.now) this.add(what, { at, momentId: null, cue: '', name, askedBy });
  }

  async performances(): Promise<Performance[]> {
    return this.reaching(async () => {
      await this.save();
      return loadPerformances(this.db, this.show.showId);
    });
  }

  async entries(id: string): Promise<LogEntry[]> {
    return this.reaching(async () => {
      await this.save();
      return loadEntries(this.db, id);
    });
  }

  /** Ids grow, so that what happens in the same millisecond stays in its order. */
  private nextId(): string {
    const count = String(this.written++).padStart(9, '0');
    return `${String(Date.now()).padStart(15, '0')}-${count}-${randomUUID().slice(0, 8)}`;
  }

  async remove(id: string): Promise<void> {
    if (this.now?.id === id) this.end();
    return this.reaching(async () => {
      await this.save();
      const known = await loadPerformances(this.db, this.show.showId);
      if (!known.some((one) => one.id === id)) throw new NotThere('This performance');
      await removePerformance(this.db, id);
    });
  }

  async onApplicationShutdown(): Promise<void> {
    this.closing = true;
    if (this.timer) clearTimeout(this.timer);
    await this.save().catch(() => undefined);
  }

  private add(what: LogWhat, given: Omit<LogEntry, 'id' | 'what' | 'lines'>): LogEntry {
    const { at } = given;
    const performance = this.now ?? this.begin();
    this.lastAt = at;
    const entry: LogEntry = { id: this.nextId(), what, ...given, lines: [] };
    this.keep(performance, entry);
    return entry;
  }

  private count({ momentId, lineId, sent, heldBack, failed }: MomentTally): void {
    const entry = this.latest.get(momentId);
    if (!entry || !this.now) return;
    const { lines } = this.show.current.placed.show;
    const line = lines.find(({ id }) => id === lineId)?.name ?? 'no line';
    let tally = entry.lines.find((one): one is LineTally => one.line === line);
    if (!tally) {
      tally = { line, sent: 0, heldBack: 0, failed: 0 };
      entry.lines.push(tally);
    }
    tally.sent += sent;
    tally.heldBack += heldBack;
    tally.failed += failed;
    this.keep(this.now, entry);
  }

  private wordsOf(by: AskedBy): string {
    const { moments, mappings, motions } = this.show.current.placed.show;
    switch (by.of) {
      case 'desk':
        return by.name === '' ? 'by hand' : `by hand at ${by.name}`;
      case 'follow':
        return 'follows';
      case 'timecode':
        return 'by timecode';
      case 'moment': {
        const moment = moments.find(({ id }) => id === by.id);
        return `by moment ${moment ? momentName(moment) : '(removed)'}`;
      }
      case 'motion':
        return `by motion ${motions.find(({ id }) => id === by.id)?.name ?? '(removed)'}`;
      case 'mapping': {
        const called = moments.find(({ id }) => id === momentOfCaller(by.id));
        const caller = called?.callers[Number(by.id.slice(by.id.lastIndexOf(' ') + 1))];
        if (caller) return `by ${hearTitle(caller)}`;
        const mapping = mappings.find(({ id }) => id === by.id);
        return `by mapping ${mapping ? mappingName(mapping) : '(removed)'}`;
      }
    }
  }

  private keep(performance: Performance, entry: LogEntry | null): void {
    const entries = this.waiting.get(performance) ?? new Map<string, LogEntry>();
    this.waiting.set(performance, entries);
    if (entry && entries.size < MOST_WAITING) entries.set(entry.id, entry);
    this.saveIn(SAVE_MS);
  }

  private saveIn(ms: number): void {
    if (this.timer || this.closing) return;
    this.timer = setTimeout(() => {
      this.timer = null;
      this.save().catch(() => this.saveIn(AGAIN_MS));
    }, ms);
    this.timer.unref();
  }

  private async save(): Promise<void> {
    for (const [performance, entries] of [...this.waiting]) {
      this.waiting.delete(performance);
      try {
        await this.saveEntries(performance, [...entries.values()]);
      } catch (error) {
        // Nothing is lost: entries that were added meanwhile are newer.
        const since = this.waiting.get(performance) ?? new Map<string, LogEntry>();
        this.waiting.set(performance, new Map([...entries, ...since]));
        throw error;
      }
    }
  }

  /** Writes entries one by one, so that one that the database refuses does not block the others. */
  private async saveEntries(performance: Performance, entries: readonly LogEntry[]): Promise<void> {
    try {
      await saveLog(this.db, this.showOf.get(performance) ?? this.show.showId, performance, entries);
    } catch (error) {
      if (!isAboutData(error)) throw error;
      if (entries.length <= 1) {
        this.log.error(`left out of the log, since it can’t be kept: ${JSON.stringify(entries)}`);
        return;
      }
      for (const entry of entries) await this.saveEntries(performance, [entry]);
    }
  }

  private reaching<T>(query: () => Promise<T>): Promise<T> {
    return this.saving.reaching(query);
  }
}
