/** The history of edits, for Undo, Redo and the list of edits. */
import { desc, eq } from 'drizzle-orm';
import { undoState, type EditMark, type Op } from '@tawny-signal/core/edits';
import type { Database } from '../database/database.js';
import { edits } from '../database/schema.js';
import { findEdit } from './show-store.js';

/** The labels of the edits that Undo and Redo would act on; null for none. */
export interface UndoLabels {
  undo: string | null;
  redo: string | null;
}

/** An edit that was saved, for the followers of the show. */
export interface SavedEdit {
  rev: number;
  label: string;
  /** Null if the show must be read again. */
  ops: Op[] | null;
}

export interface PastEdit {
  id: number;
  at: Date;
  kind: string;
  label: string;
  by: string;
}

export class EditHistory {
  private marks: EditMark[] = [];
  private readonly labelOf = new Map<number, string>();

  /** @param reaching makes a query, and sees whether the database works */
  constructor(
    private readonly db: Database,
    private readonly reaching: <T>(query: () => PromiseLike<T>) => Promise<T>,
  ) {}

  load(marks: EditMark[]): void {
    this.marks = marks;
  }

  add(mark: EditMark, label: string): void {
    this.marks.push(mark);
    if (mark.kind === 'do') this.labelOf.set(mark.id, label);
  }

  /** The ids of the edits that Undo and Redo would act on; null for none. */
  state(): ReturnType<typeof undoState> {
    return undoState(this.marks);
  }

  async labels(): Promise<UndoLabels> {
    const { undo, redo } = this.state();
    return { undo: await this.find(undo), redo: await this.find(redo) };
  }

  /** The last edits of a show, the newest first. */
  last(showId: string, most: number): Promise<PastEdit[]> {
    const { id, at, kind, label, by } = edits;
    return this.reaching(() =>
      this.db
        .select({ id, at, kind, label, by })
        .from(edits)
        .where(eq(edits.showId, showId))
        .orderBy(desc(edits.id))
        .limit(most),
    );
  }

  private async find(id: number | null): Promise<string | null> {
    if (id === null) return null;
    const known = this.labelOf.get(id);
    if (known !== undefined) return known;
    const label = (await this.reaching(() => findEdit(this.db, id)))?.label ?? '';
    this.labelOf.set(id, label);
    return label;
  }
}
