/** What has to hear that a control is let go: a send that sounds until then, and a motion that runs while its control is held. */
import { HEARS, type Hear, type HearMessage } from '../hears.js';
import { SENDS, type Send } from '../sends.js';

/** The message that hears the release too, in the place of one that never does; undefined for none. */
const heldInstead = (message: HearMessage): HearMessage | undefined =>
  (HEARS[message].neverLetGo?.instead ?? undefined) as HearMessage | undefined;

const runsWhileHeld = (send: Send): boolean => send.kind === 'motion' && send.act === 'press';
const waitsForRelease = (send: Send): boolean => SENDS[send.kind].holds || runsWhileHeld(send);

/** The hear for these sends: one that hears releases too, where a send waits for them and there is such a message. */
export function hearFor(hear: Hear, sends: readonly Send[]): Hear {
  const held = heldInstead(hear.message);
  return held && sends.some(waitsForRelease) ? ({ ...hear, message: held } as Hear) : hear;
}

/** A send for a moment, which never lets go: what would run while it is held is started. */
export const forMoment = (send: Send): Send =>
  runsWhileHeld(send) ? ({ ...send, act: 'start' } as Send) : send;

/** The place of the first send that would run its motion for ever, since nothing says that its control was let go; -1 for none. */
export const neverLetGo = (hear: Pick<Hear, 'message'>, sends: readonly Send[]): number =>
  HEARS[hear.message].neverLetGo ? sends.findIndex(runsWhileHeld) : -1;

/** What is wrong then, and what mends it. */
export function neverLetGoWords({ message }: Pick<Hear, 'message'>): string {
  const held = heldInstead(message);
  const instead = held ? `Choose “${HEARS[held].words}” there, or` : 'Choose';
  return `This runs while its control is held, but “${HEARS[message].words}” never says that it was let go. ${instead} “start, or trigger again” here.`;
}
