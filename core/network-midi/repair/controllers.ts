/** Makes good the controllers of a channel (RFC 6295, appendices A.3.2 and A.3.3). */
import { isOn, type ChannelHistory } from '../history/channel-history.js';
import { isData } from '../history/parameter-history.js';
import type { ControllerLog } from '../journal/channel-chapters.js';
import { chooseNone } from './parameters.js';
import type { Repairs } from './repairs.js';

/** One control change as it is told, by one to three logs. */
interface Told {
  number: number;
  count: number | null;
  value: number | null;
  toggles: number | null;
}

const ORDER = { count: 0, value: 1, toggle: 2 } as const;
const FIELD = { count: 'count', value: 'value', toggle: 'toggles' } as const;
const COUNTS = 64;
/** What is counted is ahead of us if it is less than half of the way round. */
const AHEAD = COUNTS / 2;
const ON = 127;
const OFF = 0;

/** Logs of one command stand together, in a fixed order of the tools. */
function commandsOf(logs: readonly ControllerLog[]): Told[] {
  const commands: Told[] = [];
  let before: ControllerLog | null = null;
  for (const log of logs) {
    const goesOn = before?.number === log.number && ORDER[before.tool] < ORDER[log.tool];
    if (!goesOn) commands.push({ number: log.number, count: null, value: null, toggles: null });
    commands.at(-1)![FIELD[log.tool]] = log.value;
    before = log;
  }
  return commands;
}

/** Of a controller that is told by several commands, only the first one has to be counted (the enhanced encoding). */
function counted(commands: readonly Told[]): Told[] {
  const counts = new Map<number, number>();
  return commands.map((told) => {
    const before = counts.get(told.number);
    const count = told.count ?? (before === undefined ? null : (before + 1) % COUNTS);
    if (count !== null) counts.set(told.number, count);
    return { ...told, count };
  });
}

function isLost(channel: ChannelHistory, { number, count, value, toggles }: Told): boolean {
  const said = channel.controllers.get(number);
  if (!said) return true;
  if (count !== null) {
    const ahead = (count - said.count + COUNTS * COUNTS) % COUNTS;
    return ahead > 0 && ahead <= AHEAD;
  }
  return (value !== null && value !== said.value) || (toggles !== null && toggles !== said.toggles % COUNTS);
}

function makeGood(repairs: Repairs, channel: ChannelHistory, status: number, told: Told): void {
  const { number, count, toggles } = told;
  const said = channel.controllers.get(number);
  const value = told.value ?? (said && toggles !== null ? (said.on ? OFF : ON) : OFF);
  // A switch that is as it was, and was switched in between, is switched twice.
  if (toggles !== null && said && said.on === isOn(value)) repairs.play(status, number, said.on ? OFF : ON);
  repairs.play(status, number, value);
  const now = channel.controllers.get(number);
  if (!now) return;
  if (count !== null) now.count = count;
  if (toggles !== null) now.switched = now.toggles = toggles;
}

export function repairControllers(
  repairs: Repairs,
  channel: ChannelHistory,
  status: number,
  logs: readonly ControllerLog[],
): void {
  for (const told of counted(commandsOf(logs))) {
    if (!isLost(channel, told)) continue;
    // Here it was told as a controller, so no parameter was chosen when it was sent.
    if (isData(told.number)) chooseNone(repairs, channel, status);
    makeGood(repairs, channel, status, told);
  }
}
