/** What has to hear that a control is let go: a send that sounds until then, and a motion that runs while its control is held. */
import { HEARS, type Hear, type HearMessage } from '../hears.js';
import { SENDS, type Send } from '../sends.js';

/** What hears the release too, instead of the press alone. */
const HELD_INSTEAD: Partial<Record<HearMessage, HearMessage>> = { pressed: 'held', keyPressed: 'keyHeld' };
/** These have neither a release nor a value that comes back to its low end. */
const NEVER_LET_GO: readonly HearMessage[] = [
  'pressed',
  'released',
  'keyPressed',
  'program',
  'sysex',
  'showControl',
];

const runsWhileHeld = (send: Send): boolean => send.kind === 'motion' && send.act === 'press';
const waitsForRelease = (send: Send): boolean => SENDS[send.kind].holds || runsWhileHeld(send);

/** The hear for these sends: one that hears releases too, where a send waits for them and there is such a message. */
export function hearFor(hear: Hear, sends: readonly Send[]): Hear {
  const held = HELD_INSTEAD[hear.message];
  return held && sends.some(waitsForRelease) ? ({ ...hear, message: held } as Hear) : hear;
}

/** A send for a moment, which never lets go: what would run while it is held is started. */
export const forMoment = (send: Send): Send =>
  runsWhileHeld(send) ? ({ ...send, act: 'start' } as Send) : send;

/** The place of the first send that would run its motion for ever, since nothing says that its control was let go; -1 for none. */
export const neverLetGo = (hear: Pick<Hear, 'message'>, sends: readonly Send[]): number =>
  NEVER_LET_GO.includes(hear.message) ? sends.findIndex(runsWhileHeld) : -1;

/** What is wrong then, and what mends it. */
export function neverLetGoWords({ message }: Pick<Hear, 'message'>): string {
  const held = HELD_INSTEAD[message];
  const instead = held ? `Choose “${HEARS[held].words}” there, or` : 'Choose';
  return `This runs while its control is held, but “${HEARS[message].words}” never says that it was let go. ${instead} “start, or trigger again” here.`;
}
