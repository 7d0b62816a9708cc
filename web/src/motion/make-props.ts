import type { Motion } from '@tawny-signal/core/show/motion';
import type { Show } from '@tawny-signal/core/show';

/** The props of the form of what makes values. */
export interface MakeProps<M> {
  makes: M;
  motion: Motion;
  show: Show;
  save: (makes: M) => Promise<unknown>;
}
