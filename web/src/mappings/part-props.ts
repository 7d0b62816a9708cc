import type { Show } from '@tawny-signal/core/show';
import type { Shape } from '@tawny-signal/core/show/shape';
import type { Mapping } from '@tawny-signal/core/show/mapping';

/** What each of the three parts of an open mapping is given. */
export interface PartProps {
  mapping: Mapping;
  show: Show;
  /** Saves a change of the mapping; rejects with what is to be said at the field. */
  save: (change: Partial<Mapping>) => Promise<unknown>;
}

/** Changes the named members of a shape. */
export type ChangeShape = (values: Partial<Shape>) => Promise<unknown>;
