/** What a mapping did with a message that matched it. Recorded when it happens, for Why? */

export const OUTCOMES = {
  fired: 'it fired',
  released: 'it released',
  nothingHeld: 'a release of something it did not hold',
  alsoHeld: 'it was held already',
  waiting: 'it fires after being held long enough',
  bankOff: 'its bank was off',
  whileBank: 'its condition’s bank was off',
  value: 'a different value',
  device: 'meant for another device',
  shift: 'the pad that must be held was up',
  unchanged: 'the same value as before',
  notCrossed: 'the value did not cross the threshold',
  notTwice: 'the first of two quick presses',
  tooSoon: 'too soon after the previous one',
  deadband: 'a change within the deadband',
  pickUp: 'soft takeover: the control has not reached the value',
  buttonUp: 'a button released: only presses count',
  noText: 'a text that is not in its table',
  noResult: 'its formula had no result',
  noPlace: 'a number beyond the last target',
  echo: 'the echo of its own feedback',
} as const;
export type Outcome = keyof typeof OUTCOMES;
export const OUTCOME_NAMES = Object.keys(OUTCOMES) as Outcome[];

/** What each matching mapping did with a message: parallel lists, of which the first `count` entries are valid. Overwritten by the next message. */
export interface Trace {
  count: number;
  /** Ids of the mappings. */
  mapping: string[];
  outcome: Outcome[];
  heard: number[];
  shaped: number[];
}

export const createTrace = (): Trace => ({ count: 0, mapping: [], outcome: [], heard: [], shaped: [] });
