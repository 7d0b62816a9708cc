/**
 * What a stream has said of registered and non-registered parameters on one channel (RFC 6295, appendices A.3.4 and A.4). It decides which control
 * changes belong to a parameter, and which are controllers like any other.
 */
import type { Said } from './said.js';

/** A parameter: registered or not, and its number from 0 to 16382. */
export interface ParameterName {
  registered: boolean;
  number: number;
}

export interface ParameterSaid extends Said, ParameterName {
  /** Data entry, its first and second octet; null for what was not said since. `reset`: all controllers were reset afterwards. */
  msb: { value: number; reset: boolean } | null;
  lsb: { value: number; reset: boolean } | null;
  /** Steps up less steps down since the last data entry: -16383–16383; null for none. */
  buttons: { value: number; reset: boolean } | null;
  /** The same since all controllers were reset. */
  buttonsSince: number;
}

export interface ParameterHistory {
  /** The parameter that data entry changes; null for none. */
  chosen: ParameterName | null;
  /** A first octet of a number whose second has not come. */
  pending: { registered: boolean; msb: number } | null;
  /** The last packet in which a number was chosen; -1 for none. */
  packet: number;
  /** The last first octets, for numbers that are sent without one. */
  msbs: { registered: number; other: number };
  /** By `keyOf`, the oldest change first. */
  logs: Map<number, ParameterSaid>;
}

const NULL_PARAMETER = 0x3fff;
const MOST_STEPS = 16_383;
/** Parameters that are kept on a channel, the youngest ones: many more than a journal tells of. */
export const MOST_PARAMETERS = 512;
export const DATA_MSB = 6;
export const DATA_LSB = 38;
export const STEP_UP = 96;
export const STEP_DOWN = 97;
/** The two octets of a number that is not registered, and of one that is. */
const OTHER_LSB = 98;
const OTHER_MSB = 99;
const REGISTERED_LSB = 100;
const REGISTERED_MSB = 101;

/** Data entry and its steps: a parameter is changed by them while one is chosen. */
export const isData = (controller: number): boolean =>
  controller === DATA_MSB || controller === DATA_LSB || controller === STEP_UP || controller === STEP_DOWN;

/** The controllers that choose a parameter of a sort. */
export const choosing = (registered: boolean): { msb: number; lsb: number } =>
  registered ? { msb: REGISTERED_MSB, lsb: REGISTERED_LSB } : { msb: OTHER_MSB, lsb: OTHER_LSB };

export const keyOf = ({ registered, number }: ParameterName): number => number + (registered ? 0 : 0x4000);

export const createParameterHistory = (): ParameterHistory => ({
  chosen: null,
  pending: null,
  packet: -1,
  msbs: { registered: 0, other: 0 },
  logs: new Map(),
});

/** The log of a parameter, which becomes the youngest. */
function touch(history: ParameterHistory, name: ParameterName, packet: number): ParameterSaid {
  const key = keyOf(name);
  const log = history.logs.get(key) ?? {
    registered: name.registered,
    number: name.number,
    msb: null,
    lsb: null,
    buttons: null,
    buttonsSince: 0,
    packet,
  };
  log.packet = packet;
  history.logs.delete(key);
  history.logs.set(key, log);
  if (history.logs.size > MOST_PARAMETERS) {
    const [oldest] = history.logs.keys();
    history.logs.delete(oldest!);
  }
  return log;
}

function choose(history: ParameterHistory, name: ParameterName, packet: number): void {
  history.pending = null;
  history.chosen = name.number === NULL_PARAMETER ? null : name;
  if (history.chosen) touch(history, name, packet);
}

function chooseBy(history: ParameterHistory, controller: number, value: number, packet: number): void {
  const registered = controller >= REGISTERED_LSB;
  history.packet = packet;
  const which = registered ? 'registered' : 'other';
  if (controller === REGISTERED_MSB || controller === OTHER_MSB) {
    history.pending = { registered, msb: value };
    history.msbs[which] = value;
    return;
  }
  choose(history, { registered, number: history.msbs[which] * 128 + value }, packet);
}

const limited = (steps: number): number => Math.max(-MOST_STEPS, Math.min(MOST_STEPS, steps));

/** Takes a control change. @returns false if it belongs to no parameter */
export function takeParameter(
  history: ParameterHistory,
  controller: number,
  value: number,
  packet: number,
): boolean {
  if (controller >= OTHER_LSB && controller <= REGISTERED_MSB) {
    chooseBy(history, controller, value, packet);
    return true;
  }
  if (!isData(controller)) return false;
  // A number without its second octet has 0 there (A.1, the type 3 variant).
  if (history.pending) {
    const { registered, msb } = history.pending;
    choose(history, { registered, number: msb * 128 }, packet);
  }
  if (!history.chosen) return false;
  const log = touch(history, history.chosen, packet);
  if (controller === DATA_MSB || controller === DATA_LSB) {
    const said = { value, reset: false };
    if (controller === DATA_MSB) log.msb = said;
    log.lsb = controller === DATA_MSB ? null : said;
    log.buttons = null;
    log.buttonsSince = 0;
    return true;
  }
  const step = controller === STEP_UP ? 1 : -1;
  log.buttons = { value: limited((log.buttons?.value ?? 0) + step), reset: false };
  log.buttonsSince = limited(log.buttonsSince + step);
  return true;
}

/** All controllers were reset: no parameter is chosen any more; their values stay. */
export function resetParameters(history: ParameterHistory): void {
  history.chosen = null;
  history.pending = null;
  history.msbs = { registered: 0, other: 0 };
  for (const log of history.logs.values()) {
    for (const field of [log.msb, log.lsb, log.buttons]) if (field) field.reset = true;
    log.buttonsSince = 0;
  }
}
