/** The open show: kept in memory and saved in PostgreSQL. All changes go through `edit`. */
import { Inject, Injectable, Logger, type OnApplicationShutdown } from '@nestjs/common';
import { eq } from 'drizzle-orm';
import { applyOps, inverseOf, type Op, type PlacedShow } from '@tawny-signal/core/edits';
import { emptyShow, type Show } from '@tawny-signal/core/show';
import { withLive, type LiveShow } from '@tawny-signal/core/show/live';
import type { ShowMark } from '@tawny-signal/core/link/messages';
import { CONFIG, type Config } from '../config.js';
import { DATABASE, type Database } from '../database/database.js';
import { Saving } from '../database/saving.js';
import { shows, type KeptState } from '../database/schema.js';
import { changedSince, isSame, type LiveState } from './live-rows.js';
import { EditHistory, type PastEdit, type SavedEdit, type UndoLabels } from './edit-history.js';
import { Locked, NotKept, NotSaved, NotThere } from '../http/problems.js';
import { loadAtStart } from './opening.js';
import {
  dropEdit,
  findEdit,
  loadShow,
  markOpened,
  NotTheShow,
  saveEdit,
  saveLiveRows,
  type LoadedShow,
  type NewEdit,
} from './show-store.js';

/** How often the banks and the state of the running order are written, if they changed. */
const KEEP_MS = 1000;

@Injectable()
export class ShowService implements OnApplicationShutdown {
  private readonly log = new Logger('show');
  private id = '';
  private rev = 0;
  placed: PlacedShow = { show: emptyShow(''), position: {} };
  private readonly history: EditHistory;
  private readonly followers = new Set<(edit: SavedEdit) => void>();
  /** The queue of edits. Each one sees the result of the one before it. */
  private queue: Promise<unknown> = Promise.resolve();
  /** The revision of a save that broke off and may have been saved all the same. The database is read again before the next edit. */
  private unsureOf: number | null = null;
  private opened = false;
  armedAtStart = true;
  standingBy: string | null = null;
  locked = false;
  /** The last saved state, to restart from. */
  kept: KeptState | null = null;
  /** The state that was written last. */
  private written: LiveState | null = null;
  private timer: NodeJS.Timeout | null = null;
  private closing = false;

  constructor(
    @Inject(DATABASE) private readonly db: Database,
    @Inject(CONFIG) private readonly config: Config,
    private readonly saving: Saving,
  ) {
    this.history = new EditHistory(db, (query) => this.reaching(query));
  }

  /**
   * Opens the show; if there is none, `first` becomes the show. A database that does not answer is tried again and again.
   * @param waitMs the longest time to wait. @returns whether the show is open
   */
  async open(first: Show, waitMs: number): Promise<boolean> {
    const opening = this.openSometime(first);
    let late: NodeJS.Timeout | null = null;
    const waited = new Promise<void>((done) => (late = setTimeout(done, waitMs)));
    await Promise.race([opening, waited]);
    if (late) clearTimeout(late);
    return this.opened;
  }

  private async openSometime(first: Show): Promise<void> {
    const loaded = await loadAtStart(this.db, this.config.databaseUrl, first, () => this.closing);
    if (loaded) this.opens(loaded);
  }

  private opens(loaded: LoadedShow): void {
    const before = this.opened || this.rev > 0 || this.id !== '';
    this.takeWhole(loaded);
    this.opened = true;
    this.locked = loaded.locked;
    this.log.log(`opened “${this.placed.show.settings.name}”, ${this.placed.show.mappings.length} mappings`);
    this.saving.start();
    this.timer = setInterval(() => void this.keepWhatChanged(), KEEP_MS);
    if (before) this.tellFollowers({ rev: this.rev, label: 'Read from the database', ops: null });
    this.whenOpen();
  }

  /** Takes over a show with the state that it was left in. */
  private takeWhole(loaded: LoadedShow): void {
    this.take(loaded);
    this.armedAtStart = loaded.armed;
    this.standingBy = loaded.standingBy;
    this.kept = loaded.kept;
    this.written = { placed: loaded.placed, standingBy: loaded.standingBy, kept: loaded.kept };
  }

  /**
   * Opens another show in place of this one. The running order stands where it stood there, armed or safe stays as it is, and no levels are sent.
   * @throws Locked, NotThere
   */
  async openAnother(id: string, armed: boolean): Promise<void> {
    await this.keepWhatChanged();
    await this.inTurn(async () => {
      if (this.locked) throw new Locked();
      const loaded = await this.reaching(() => loadShow(this.db, id));
      if (!loaded) throw new NotThere('This show', 'Load the list again.');
      await this.reaching(() => markOpened(this.db, id, armed));
      this.takeWhole({ ...loaded, armed, kept: null });
      this.tellFollowers({ rev: this.rev, label: `Opened ${this.placed.show.settings.name}`, ops: null });
    });
  }

  /** Called when the show is open. */
  whenOpen: () => void = () => undefined;

  /** Takes over the show that the engine plays while the database cannot be reached. It can be seen but not edited. */
  takeFromEngine({ showId, rev }: ShowMark, placed: PlacedShow): void {
    if (this.opened) return;
    this.id = showId;
    this.rev = rev;
    this.placed = placed;
    this.tellFollowers({ rev, label: 'As the engine plays it', ops: null });
  }

  get isOpen(): boolean {
    return this.opened;
  }

  get mark(): ShowMark {
    return { showId: this.id, rev: this.rev };
  }

  async onApplicationShutdown(): Promise<void> {
    this.closing = true;
    if (this.timer) clearInterval(this.timer);
    await this.keepWhatChanged();
  }

  get current(): { rev: number; placed: PlacedShow } {
    return { rev: this.rev, placed: this.placed };
  }

  follow(follower: (edit: SavedEdit) => void): void {
    this.followers.add(follower);
  }

  /**
   * Changes the show: the ops that `make` returns are saved in one transaction, and take effect after that.
   * @param make gets the current show when its turn comes, and throws what the person has to be told
   * @param live true if it is part of running the show, and allowed while the show is locked
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

  /** Undoes the last edit that is not undone yet. @returns its label; null if there is none */
  undo = (): Promise<string | null> => this.stepBack('undo');
  /** Redoes the edit that was undone last. */
  redo = (): Promise<string | null> => this.stepBack('redo');

  undoLabels = (): Promise<UndoLabels> => this.history.labels();
  /** @param most of the last edits */
  edits = (most: number): Promise<PastEdit[]> => this.history.last(this.id, most);

  /** Takes over the banks that signals have switched. This is no edit, and is saved soon. */
  keepLive(live: LiveShow): void {
    this.placed = withLive(this.placed, live);
  }

  /** Sets what stands by, to restart from. */
  keepStandingBy(id: string | null): void {
    if (id !== null) this.standingBy = id;
  }

  /** Sets what is running, and the levels of the lines, to restart from. */
  keepState(kept: KeptState): void {
    this.kept = kept;
  }

  get showId(): string {
    return this.id;
  }

  /** Writes what changed since it was written last. */
  private async keepWhatChanged(): Promise<void> {
    if (!this.saving.works || !this.written || isSame(changedSince(this, this.written))) return;
    try {
      await this.inTurn(async () => {
        const { placed, standingBy, kept } = this;
        await this.reaching(() => saveLiveRows(this.db, this.id, placed, changedSince(this, this.written!)));
        this.written = { placed, standingBy, kept };
      });
    } catch {
      return; // said already, and tried again
    }
  }

  keepArmed(armed: boolean): Promise<void> {
    return this.set({ armed: armed ? 1 : 0 });
  }

  /** Locks the show at once, even if that cannot be saved for a restart. */
  lock(locked: boolean): Promise<void> {
    this.locked = locked;
    return this.set({ locked: locked ? 1 : 0 });
  }

  private async set(values: { armed?: number; locked?: number }): Promise<void> {
    await this.reaching(() => this.db.update(shows).set(values).where(eq(shows.id, this.id)));
  }

  private async stepBack(kind: 'undo' | 'redo'): Promise<string | null> {
    return this.inTurn(async () => {
      if (this.locked) throw new Locked();
      const of = this.history.state()[kind];
      if (of === null) return null;
      const edit = await this.reaching(() => findEdit(this.db, of));
      const ops = kind === 'undo' ? edit!.inverse : edit!.ops;
      await this.save({ kind, of, label: edit!.label, ops, inverse: inverseOf(this.placed, ops) });
      return edit!.label;
    });
  }

  private async save(edit: NewEdit): Promise<void> {
    const rev = this.rev + 1;
    this.unsureOf = rev;
    const saving = saveEdit(this.db, this.id, rev, edit).catch((error: unknown) => {
      // The database works, but has a different version of the show. It is read again before the next edit.
      if (error instanceof NotTheShow) throw new NotSaved('the show in the database is another than here');
      throw error;
    });
    const id = await this.reaching(() => saving).catch((error: unknown) => {
      // The database has refused the edit, so it was not saved.
      if (error instanceof NotKept) this.unsureOf = null;
      throw error;
    });
    this.unsureOf = null;
    this.rev = rev;
    this.placed = applyOps(this.placed, edit.ops);
    // An edit writes what it changes, with all that is live in it.
    if (this.written) this.written.placed = applyOps(this.written.placed, edit.ops);
    this.history.add({ id, kind: edit.kind, of: edit.of }, edit.label);
    const words =
      edit.kind === 'do' ? edit.label : `${edit.kind === 'undo' ? 'Undone' : 'Redone'}: ${edit.label}`;
    this.tellFollowers({ rev, label: words, ops: edit.ops });
  }

  private tellFollowers(edit: SavedEdit): void {
    for (const follower of this.followers) follower(edit);
  }

  private take(loaded: LoadedShow): void {
    this.id = loaded.id;
    this.rev = loaded.rev;
    this.placed = loaded.placed;
    this.history.load(loaded.marks);
  }

  /** After a save that broke off: the edit was refused, so it is removed if it was saved all the same. */
  private async becomeSure(): Promise<void> {
    if (this.unsureOf === null) return;
    const refused = this.unsureOf;
    let loaded = await this.reaching(() => loadShow(this.db, this.id));
    if (loaded?.rev === refused) {
      await this.reaching(() => dropEdit(this.db, this.id, refused));
      loaded = await this.reaching(() => loadShow(this.db, this.id));
    }
    this.unsureOf = null;
    if (!loaded || loaded.rev === this.rev) return;
    this.take(loaded);
    this.tellFollowers({ rev: this.rev, label: 'Read again from the database', ops: null });
  }

  private inTurn<T>(act: () => Promise<T>): Promise<T> {
    const turn = this.queue
      .then(() => this.saving.wanted())
      .then(() => this.becomeSure())
      .then(act);
    this.queue = turn.catch(() => undefined);
    return turn;
  }

  private reaching<T>(query: () => PromiseLike<T>): Promise<T> {
    return this.saving.reaching(query);
  }
}
