/** Which kinds of message a line can be sent. */
import { SENDS, type SendKind } from '@tawny-signal/core/sends';
import type { Protocol } from '@tawny-signal/core/show/line';

/** @param protocol what the line carries; null for what is done to the show itself */
export const kindsOf = (protocol: Protocol | null): SendKind[] =>
  (Object.keys(SENDS) as SendKind[]).filter((kind) => SENDS[kind].protocol === protocol);
