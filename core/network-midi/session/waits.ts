/** When things of a session are due, in ms. */

/** Until a call is repeated that nobody has answered, or that was refused; the last one again and again. */
const CALLS_MS = [250, 500, 1000, 2000, 4000];
export const callAgainMs = (tries: number): number => CALLS_MS[Math.min(tries, CALLS_MS.length - 1)]!;
/** A machine that has refused us is asked again so late. */
export const REFUSED_MS = 3000;

/** Clocks are compared often at first, and then every ten seconds. */
const FIRST_SYNCS = 6;
const FIRST_SYNC_MS = 500;
const SYNC_MS = 10_000;
/** Until a question about the clock is asked again. */
export const ASK_AGAIN_MS = 500;
export const syncAgainMs = (done: number): number => (done < FIRST_SYNCS ? FIRST_SYNC_MS : SYNC_MS);
/** Questions in a row without an answer, until a participant is gone. */
export const MOST_MISSES = 5;
/** A participant that is silent for so long is gone. */
export const SILENT_MS = 60_000;
/** A participant that is silent for so long holds nothing any more: whoever called compares the clocks every ten seconds. */
export const QUIET_MS = 15_000;
/** What was played and not confirmed for so long makes us ask whether somebody is there. */
export const UNCONFIRMED_MS = 500;

/** A packet without commands follows the last one after so long, as long as it is not confirmed; the last one again and again. */
const GUARDS_MS = [10, 20, 40, 80, 160, 320, 640, 1000];
export const guardMs = (sent: number): number => GUARDS_MS[Math.min(sent, GUARDS_MS.length - 1)]!;
/** What was heard is confirmed so soon. */
export const FEEDBACK_MS = 50;

/** An invitation that was accepted on one port has to come on the other so soon. */
export const HALF_OPEN_MS = 10_000;
/** Until we call again where the other machine calls us. */
export const GIVE_WAY_MS = 2000;
