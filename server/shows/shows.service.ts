/** The list of shows: new ones, copies, names, and the archive. The open show itself is in show.service.ts. */
import { randomUUID } from 'node:crypto';
import { Inject, Injectable } from '@nestjs/common';
import { freeName } from '@tawny-signal/core/files/json';
import { emptyShow, settingsSchema, type Show } from '@tawny-signal/core/show';
import type { TableName } from '@tawny-signal/core/show/tables';
import { DATABASE, type Database } from '../database/database.js';
import { Saving } from '../database/saving.js';
import { DeskService } from '../desk/desk.service.js';
import { BadInput, Locked, NotThere, problemsOf } from '../http/problems.js';
import { insertShow, loadShow, saveEdit } from './show-store.js';
import { ShowService } from './show.service.js';
import { listShows, setArchived, type ListedShow } from './shows-store.js';

/** What a new show may take over: what belongs to the house and not to the show. */
const OF_THE_HOUSE: readonly TableName[] = ['lines', 'layouts', 'groups'];
/** The most shows that are kept. */
const MOST_SHOWS = 200;

@Injectable()
export class ShowsService {
  constructor(
    @Inject(DATABASE) private readonly db: Database,
    private readonly saving: Saving,
    private readonly show: ShowService,
    private readonly desk: DeskService,
  ) {}

  list(): Promise<ListedShow[]> {
    return this.reaching(() => listShows(this.db));
  }

  open(id: string): Promise<void> {
    return this.desk.openShow(id);
  }

  /** Makes an empty show and opens it. @param withLines true to take over lines, layouts and groups of the open show */
  async begin(name: string, withLines: boolean): Promise<string> {
    const { show } = this.show.current.placed;
    const next = emptyShow(name);
    if (withLines) for (const table of OF_THE_HOUSE) Object.assign(next, { [table]: show[table] });
    if (withLines) next.settings = { ...show.settings, name };
    return this.addAndOpen(next);
  }

  /** Adds a show, and opens it. @returns its id. @throws Locked before anything is added */
  async addAndOpen(next: Show): Promise<string> {
    if (this.show.locked) throw new Locked();
    const id = await this.add(next);
    await this.open(id);
    return id;
  }

  /** Adds a copy of a show to the list. It is not opened. */
  async copy(id: string): Promise<string> {
    const loaded = await this.load(id);
    const name = freeName(await this.list(), loaded.placed.show.settings.name);
    const { show } = loaded.placed;
    return this.add({ ...show, settings: { ...show.settings, name } });
  }

  async rename(id: string, name: string): Promise<void> {
    await this.refuseUsed(name, id);
    if (id === this.show.showId) {
      await this.show.edit(`Rename the show to ${name}`, ({ show }) => ({
        ops: [{ op: 'settings', settings: { ...show.settings, name } }],
        result: null,
      }));
      return;
    }
    const { placed, rev } = await this.load(id);
    const { settings } = placed.show;
    await this.reaching(() =>
      saveEdit(this.db, id, rev + 1, {
        kind: 'do',
        of: null,
        label: `Rename the show to ${name}`,
        ops: [{ op: 'settings', settings: { ...settings, name } }],
        inverse: [{ op: 'settings', settings }],
      }),
    );
  }

  async archive(id: string, archived: boolean): Promise<void> {
    if (archived && id === this.show.showId)
      throw new BadInput([
        { field: 'archived', message: 'The open show can’t be archived. Open another one first.' },
      ]);
    await this.load(id);
    await this.reaching(() => setArchived(this.db, id, archived));
  }

  private async add(next: Show): Promise<string> {
    const { name } = next.settings;
    const parsed = settingsSchema.safeParse(next.settings);
    if (!parsed.success) throw new BadInput(problemsOf(parsed.error.issues));
    const list = await this.refuseUsed(name);
    if (list.length >= MOST_SHOWS)
      throw new BadInput([
        { field: 'name', message: `There are ${MOST_SHOWS} shows already, which is the most.` },
      ]);
    const id = randomUUID();
    await this.reaching(() => insertShow(this.db, id, next));
    return id;
  }

  /** @throws BadInput if another show has the name */
  private async refuseUsed(name: string, but = ''): Promise<ListedShow[]> {
    const list = await this.list();
    const same = list.find((one) => one.id !== but && one.name.toLowerCase() === name.toLowerCase());
    if (!same) return list;
    const where = same.archivedAt ? ' in the archive' : '';
    throw new BadInput([
      { field: 'name', message: `A show “${same.name}” exists already${where}. Choose another name.` },
    ]);
  }

  private async load(id: string): Promise<NonNullable<Awaited<ReturnType<typeof loadShow>>>> {
    const loaded = await this.reaching(() => loadShow(this.db, id));
    if (!loaded) throw new NotThere('This show', 'Load the list again.');
    return loaded;
  }

  private reaching<T>(query: () => PromiseLike<T>): Promise<T> {
    return this.saving.reaching(query);
  }
}
