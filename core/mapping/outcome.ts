/** What a mapping did with a message that matched it. Recorded when it happens, for Why? */

export const OUTCOMES = {
  fired: 'it fired',
  released: 'it let go',
  nothingHeld: 'a release, of nothing that it held',
  alsoHeld: 'it was held already, and goes on',
  waiting: 'it fires once it has been held for long enough',
  bankOff: 'its bank was off',
  whileBank: 'the bank that it wants on was off',
  value: 'another value than it wants',
  device: 'meant for another device',
  shift: 'the pad that must be held was up',
  unchanged: 'the same value as before',
  notCrossed: 'the value did not cross the mark',
  notTwice: 'the first of the two that it wants',
  tooSoon: 'too soon after the one before',
  deadband: 'a change within the deadband',
  pickUp: 'the control has not come to where the value was',
  buttonUp: 'a button coming up: only presses count',
  noText: 'a text that is not in its table',
  noResult: 'its formula had no result',
  noPlace: 'a number that leads past the last place',
  echo: 'what its own lamp or motor had just been told',
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
