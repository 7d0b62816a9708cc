import type { Show } from '@tawny-signal/core/show';
import type { Shape } from '@tawny-signal/core/show/shape';
import type { Mapping } from '@tawny-signal/core/show/mapping';

/** The props of the three parts of an open mapping. */
export interface PartProps {
  mapping: Mapping;
  show: Show;
  /** Saves a change of the mapping. Rejects with an error that is shown at the field. */
  save: (change: Partial<Mapping>) => Promise<unknown>;
}

/** Changes members of a shape. */
export type ChangeShape = (values: Partial<Shape>) => Promise<unknown>;
