import type { InputOf } from '@tawny-signal/core/engine/input';
import type { ToEngine } from '@tawny-signal/core/link/messages';
import { rangeOf } from '@tawny-signal/core/sends';

/** Returns the input for a send that is tried on a line: at the top of its range, if no value is given. */
export const triedSend = ({
  send,
  lineId,
  pressed,
  value = rangeOf(send)[1],
}: Extract<ToEngine, { t: 'tryLine' }>): InputOf<'trySend'> => ({
  t: 'trySend',
  send: { ...send, lineId },
  pressed,
  value,
});
