/** The versions of the open show: named states to look at, compare and go back to. */
import { randomUUID } from 'node:crypto';
import { Inject, Injectable } from '@nestjs/common';
import { opsTo } from '@tawny-signal/core/compare/ops';
import { compareShows, type RowDifference } from '@tawny-signal/core/compare/rows';
import type { Show } from '@tawny-signal/core/show';
import { DATABASE, type Database } from '../database/database.js';
import { Saving } from '../database/saving.js';
import { BadInput, NotThere } from '../http/problems.js';
import { showAsNow } from './show-store.js';
import { ShowService } from './show.service.js';
import {
  findVersion,
  insertVersion,
  listVersions,
  removeVersion,
  renameVersion,
  type ListedVersion,
} from './shows-store.js';

/** The most versions of one show. */
const MOST_VERSIONS = 100;
/** The most rows that are listed of what differs. */
const MOST_ROWS = 500;

/** The name that stands for the show as it is now. */
export const NOW = 'now';

export interface Comparison {
  before: { id: string; name: string; at: Date | null };
  after: { id: string; name: string; at: Date | null };
  rows: RowDifference[];
  /** How many more rows differ. */
  more: number;
}

@Injectable()
export class VersionsService {
  constructor(
    @Inject(DATABASE) private readonly db: Database,
    private readonly saving: Saving,
    private readonly show: ShowService,
  ) {}

  list(): Promise<ListedVersion[]> {
    return this.reaching(() => listVersions(this.db, this.show.showId));
  }

  /** Keeps the show as it is now. */
  async add(name: string): Promise<ListedVersion> {
    await this.refuseUsed(name);
    const { showId } = this.show;
    const body = this.show.current.placed.show;
    return this.reaching(() => insertVersion(this.db, showId, { id: randomUUID(), name, body }));
  }

  async rename(id: string, name: string): Promise<void> {
    await this.refuseUsed(name, id);
    if (!(await this.reaching(() => renameVersion(this.db, this.show.showId, id, name)))) throw gone();
  }

  async remove(id: string): Promise<void> {
    if (!(await this.reaching(() => removeVersion(this.db, this.show.showId, id)))) throw gone();
  }

  /** Says what differs from a version to another one, or to the show as it is now. @param to an id, or `NOW` */
  async compare(id: string, to: string): Promise<Comparison> {
    const [before, after] = [await this.find(id), await this.find(to)];
    const rows = compareShows(before.show, after.show);
    const named = ({ name, at }: typeof before, of: string) => ({ id: of, name, at });
    return {
      before: named(before, id),
      after: named(after, to),
      rows: rows.slice(0, MOST_ROWS),
      more: Math.max(0, rows.length - MOST_ROWS),
    };
  }

  /** Goes back to a version: one edit, which Undo takes back. The name of the show stays. @returns the label of the edit */
  async restore(id: string): Promise<string> {
    const { name, show } = await this.find(id);
    const label = `Go back to ${name}`;
    await this.show.edit(label, (placed) => {
      const settings = { ...show.settings, name: placed.show.settings.name };
      return { ops: opsTo(placed, { ...show, settings }), result: null };
    });
    return label;
  }

  /** Returns a version, by today's schemas. @throws NotThere */
  async find(id: string): Promise<{ name: string; at: Date | null; show: Show }> {
    if (id === NOW) return { name: 'the show now', at: null, show: this.show.current.placed.show };
    const version = await this.reaching(() => findVersion(this.db, this.show.showId, id));
    if (!version) throw gone();
    return { name: version.name, at: version.at, show: this.withBanksAsNow(showAsNow(version.body)) };
  }

  /** Which banks are on is live state: it is no difference, and stays when somebody goes back. */
  private withBanksAsNow(show: Show): Show {
    const now = new Map(this.show.current.placed.show.banks.map(({ id, on }) => [id, on]));
    return { ...show, banks: show.banks.map((bank) => ({ ...bank, on: now.get(bank.id) ?? bank.on })) };
  }

  private async refuseUsed(name: string, but = ''): Promise<void> {
    const list = await this.list();
    if (list.some((one) => one.id !== but && one.name.toLowerCase() === name.toLowerCase()))
      throw new BadInput([
        { field: 'name', message: `A version “${name}” exists already. Choose another name.` },
      ]);
    if (but === '' && list.length >= MOST_VERSIONS)
      throw new BadInput([
        {
          field: 'name',
          message: `This show has ${MOST_VERSIONS} versions, which is the most. Remove one first.`,
        },
      ]);
  }

  private reaching<T>(query: () => PromiseLike<T>): Promise<T> {
    return this.saving.reaching(query);
  }
}

const gone = (): NotThere => new NotThere('This version', 'Load the list again.');
