/** Makes good the parameters of a channel (RFC 6295, appendix A.4). */
import type { ChannelHistory } from '../history/channel-history.js';
import {
  choosing,
  DATA_LSB,
  DATA_MSB,
  keyOf,
  STEP_DOWN,
  STEP_UP,
  type ParameterName,
} from '../history/parameter-history.js';
import type { ParameterChapter, ParameterLog } from '../journal/parameters.js';
import type { Repairs } from './repairs.js';

const NULL_PARAMETER: ParameterName = { registered: true, number: 0x3fff };

function choose(repairs: Repairs, status: number, { registered, number }: ParameterName): void {
  const { msb, lsb } = choosing(registered);
  repairs.play(status, msb, number >> 7);
  repairs.play(status, lsb, number & 0x7f);
}

/** Chooses no parameter, so that data entry and its steps are controllers like any other. */
export function chooseNone(repairs: Repairs, channel: ChannelHistory, status: number): void {
  const { chosen, pending } = channel.parameters;
  if (chosen || pending) choose(repairs, status, NULL_PARAMETER);
}

const isSame = (one: ParameterName | null, other: ParameterName | null): boolean =>
  one === other || (one !== null && other !== null && keyOf(one) === keyOf(other));

function repairLog(repairs: Repairs, channel: ChannelHistory, status: number, told: ParameterLog): void {
  if (!told.tellsValue) return;
  const said = channel.parameters.logs.get(keyOf(told));
  const [msb, lsb] = [told.msb?.value ?? null, told.lsb?.value ?? null];
  const differs =
    (msb !== null && (msb !== said?.msb?.value || (lsb === null && said.lsb !== null))) ||
    (lsb !== null && lsb !== said?.lsb?.value);
  const steps = (told.buttons?.value ?? 0) - (differs ? 0 : (said?.buttons?.value ?? 0));
  if (!differs && steps === 0) return;
  choose(repairs, status, told);
  if (differs && msb !== null) repairs.play(status, DATA_MSB, msb);
  if (differs && lsb !== null) repairs.play(status, DATA_LSB, lsb);
  repairs.playOften(Math.abs(steps), status, steps > 0 ? STEP_UP : STEP_DOWN, 0);
}

export function repairParameters(
  repairs: Repairs,
  channel: ChannelHistory,
  status: number,
  { logs, open, pending }: ParameterChapter,
): void {
  const { parameters } = channel;
  for (const told of logs) repairLog(repairs, channel, status, told);
  // The one that is chosen was told last.
  const chosen = open || pending ? (logs.at(-1) ?? parameters.chosen) : null;
  const isBehind = parameters.pending !== null && pending === null;
  if (!isSame(chosen, parameters.chosen) || isBehind) choose(repairs, status, chosen ?? NULL_PARAMETER);
  if (!pending) return;
  const { registered, msb } = pending;
  if (parameters.pending?.registered !== registered || parameters.pending.msb !== msb)
    repairs.play(status, choosing(registered).msb, msb);
}
