/** The open show: in memory for everybody, in PostgreSQL for tomorrow. All changes to it go through `edit`. */
import { randomUUID } from 'node:crypto';
import { Inject, Injectable, Logger } from '@nestjs/common';
import { desc, eq, sql } from 'drizzle-orm';
import {
  applyOps,
  inverseOf,
  undoState,
  type EditMark,
  type Op,
  type PlacedShow,
} from '@tawny-signal/core/edits';
import { emptyShow, type Show } from '@tawny-signal/core/show';
import { withLive, type LiveShow } from '@tawny-signal/core/show/live';
import { DATABASE, type Database } from '../database/database.js';
import { edits, shows, type KeptState } from '../database/schema.js';
import { Locked, NotSaved } from '../http/problems.js';
import {
  findEdit,
  insertShow,
  loadShow,
  saveEdit,
  saveLiveRows,
  type LoadedShow,
  type NewEdit,
} from './show-store.js';

/** An edit that was saved, for those who follow the show. */
export interface SavedEdit {
  rev: number;
  label: string;
  /** Null: more than is known here may have changed; read the show anew. */
  ops: Op[] | null;
}

/** How long after a failure what signals made of the show is written again. */
const KEEP_AGAIN_MS = 1000;

/** What Undo and Redo would do now; null where there is nothing. */
export interface UndoLabels {
  undo: string | null;
  redo: string | null;
}

@Injectable()
export class ShowService {
  private readonly log = new Logger('show');
  private id = '';
  private rev = 0;
  private placed: PlacedShow = { show: emptyShow(''), position: {} };
  private marks: EditMark[] = [];
  private readonly labels = new Map<number, string>();
  private readonly followers = new Set<(edit: SavedEdit) => void>();
  /** Edits one after another, so that each sees what the one before it did. */
  private queue: Promise<unknown> = Promise.resolve();
  /** A save broke off, and may yet have arrived: what the database has is read again before the next. */
  private unsure = false;
  armedAtStart = true;
  standingBy: string | null = null;
  locked = false;
  /** What a restart goes on from, as it was kept last. */
  kept: KeptState | null = null;
  /** Banks or the tempo are to be written. */
  private liveToKeep = false;

  constructor(@Inject(DATABASE) private readonly db: Database) {}

  /** Loads the show, or makes `first` the show if there is none. Waits for a database that is just starting. */
  async open(first: Show): Promise<void> {
    let loaded = await loadShow(this.db);
    if (!loaded) {
      await insertShow(this.db, randomUUID(), first);
      loaded = await loadShow(this.db);
    }
    this.take(loaded!);
    this.armedAtStart = loaded!.armed;
    this.standingBy = loaded!.standingBy;
    this.locked = loaded!.locked;
    this.kept = loaded!.kept;
    this.log.log(`opened “${this.placed.show.settings.name}”, ${this.placed.show.mappings.length} mappings`);
  }

  get current(): { rev: number; placed: PlacedShow } {
    return { rev: this.rev, placed: this.placed };
  }

  follow(follower: (edit: SavedEdit) => void): void {
    this.followers.add(follower);
  }

  /**
   * Changes the show: what `make` gives is saved in one transaction, and only then true.
   * @param make is given the show as it is when its turn comes; it throws what is to be said to the person.
   * @param live it belongs to running the show, and is made though the show is locked
   */
  async edit<T>(
    label: string,
    make: (placed: PlacedShow) => { ops: Op[]; result: T },
    live = false,
  ): Promise<T> {
    return this.inTurn(async () => {
      if (this.locked && !live) throw new Locked();
      const { ops, result } = make(this.placed);
      if (ops.length > 0)
        await this.save({ kind: 'do', of: null, label, ops, inverse: inverseOf(this.placed, ops) });
      return result;
    });
  }

  /** Takes back the last edit that is not taken back yet. @returns its label, or null if there is none. */
  undo = (): Promise<string | null> => this.stepBack('undo');
  /** Brings back the edit that was taken back last. */
  redo = (): Promise<string | null> => this.stepBack('redo');

  async undoLabels(): Promise<UndoLabels> {
    const { undo, redo } = undoState(this.marks);
    return { undo: await this.labelOf(undo), redo: await this.labelOf(redo) };
  }

  async history(most: number): Promise<{ id: number; at: Date; kind: string; label: string }[]> {
    const { id, at, kind, label } = edits;
    return this.reaching(() =>
      this.db
        .select({ id, at, kind, label })
        .from(edits)
        .where(eq(edits.showId, this.id))
        .orderBy(desc(edits.id))
        .limit(most),
    );
  }

  /**
   * What signals made of the show: which banks are on, and the tempo. It is true at once and is no edit; the database is told as soon as
   * it answers.
   */
  keepLive(live: LiveShow): void {
    this.placed = withLive(this.placed, live);
    this.keepSoon();
  }

  /** Where the running order stands, to restart into. */
  keepStandingBy(id: string | null): void {
    if (id === null || id === this.standingBy) return;
    this.standingBy = id;
    this.keepSoon();
  }

  /** What runs, and the levels of the lines, to restart into. */
  keepState(kept: KeptState): void {
    this.kept = kept;
    this.keepSoon();
  }

  /** The id under which everything of this show is kept. */
  get showId(): string {
    return this.id;
  }

  private keepSoon(): void {
    if (this.liveToKeep) return;
    this.liveToKeep = true;
    void this.saveLive();
  }

  private async saveLive(): Promise<void> {
    try {
      await this.inTurn(() => {
        this.liveToKeep = false;
        const { standingBy, kept } = this;
        return this.reaching(() => saveLiveRows(this.db, this.id, this.placed, { standingBy, kept }));
      });
    } catch {
      // Said already, by the check whether the database answers.
      this.liveToKeep = true;
      setTimeout(() => void this.saveLive(), KEEP_AGAIN_MS).unref();
    }
  }

  async keepArmed(armed: boolean): Promise<void> {
    await this.reaching(() =>
      this.db
        .update(shows)
        .set({ armed: armed ? 1 : 0 })
        .where(eq(shows.id, this.id)),
    );
  }

  /** Locked at once, whether or not it can be kept for a restart. */
  async lock(locked: boolean): Promise<void> {
    this.locked = locked;
    await this.reaching(() =>
      this.db
        .update(shows)
        .set({ locked: locked ? 1 : 0 })
        .where(eq(shows.id, this.id)),
    );
  }

  /** Whether the database answers. */
  async isSaving(): Promise<boolean> {
    try {
      await this.db.execute(sql`select 1`);
      return true;
    } catch {
      return false;
    }
  }

  private async stepBack(kind: 'undo' | 'redo'): Promise<string | null> {
    return this.inTurn(async () => {
      if (this.locked) throw new Locked();
      const of = undoState(this.marks)[kind];
      if (of === null) return null;
      const edit = await this.reaching(() => findEdit(this.db, of));
      const ops = kind === 'undo' ? edit!.inverse : edit!.ops;
      await this.save({ kind, of, label: edit!.label, ops, inverse: inverseOf(this.placed, ops) });
      return edit!.label;
    });
  }

  private async save(edit: NewEdit): Promise<void> {
    const rev = this.rev + 1;
    this.unsure = true;
    const id = await this.reaching(() => saveEdit(this.db, this.id, rev, edit));
    this.unsure = false;
    this.rev = rev;
    this.placed = applyOps(this.placed, edit.ops);
    this.marks.push({ id, kind: edit.kind, of: edit.of });
    if (edit.kind === 'do') this.labels.set(id, edit.label);
    const words =
      edit.kind === 'do' ? edit.label : `${edit.kind === 'undo' ? 'Undone' : 'Done again'}: ${edit.label}`;
    for (const follower of this.followers) follower({ rev, label: words, ops: edit.ops });
  }

  private take(loaded: LoadedShow): void {
    this.id = loaded.id;
    this.rev = loaded.rev;
    this.placed = loaded.placed;
    this.marks = loaded.marks;
  }

  private async becomeSure(): Promise<void> {
    if (!this.unsure) return;
    const loaded = await this.reaching(() => loadShow(this.db));
    this.unsure = false;
    if (!loaded || loaded.rev === this.rev) return;
    this.take(loaded);
    for (const follower of this.followers)
      follower({ rev: this.rev, label: 'Read again from the database', ops: null });
  }

  private async labelOf(id: number | null): Promise<string | null> {
    if (id === null) return null;
    const known = this.labels.get(id);
    if (known !== undefined) return known;
    const label = (await this.reaching(() => findEdit(this.db, id)))?.label ?? '';
    this.labels.set(id, label);
    return label;
  }

  private inTurn<T>(act: () => Promise<T>): Promise<T> {
    const turn = this.queue.then(() => this.becomeSure()).then(act);
    this.queue = turn.catch(() => undefined);
    return turn;
  }

  private async reaching<T>(query: () => PromiseLike<T>): Promise<T> {
    try {
      return await query();
    } catch (error) {
      this.log.error(
        `the database refused: ${String(error instanceof Error ? (error.cause ?? error) : error)}`,
      );
      throw new NotSaved();
    }
  }
}
