/** The kinds of send of each line. */
import { SENDS, type SendKind } from '@tawny-signal/core/sends';
import type { Protocol } from '@tawny-signal/core/show/line';

/** @param protocol the protocol of the line; null for sends that act on the show itself */
export const kindsOf = (protocol: Protocol | null): SendKind[] =>
  (Object.keys(SENDS) as SendKind[]).filter((kind) => SENDS[kind].protocol === protocol);
