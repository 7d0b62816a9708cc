/** What a message did to the show itself, in words: `bank Storm on`, `tapped: 97.3`, `called 4`. A send that leaves on a line is seen there. */
import { callersOf, momentOfCaller } from '../cues/callers.js';
import type { WhyStep } from '../live/messages.js';
import { compileSend, saidSend, SENDS, type Send } from '../sends.js';
import type { Done } from '../sends/kind.js';
import type { Show } from '../show.js';
import type { Mapping } from '../show/mapping.js';
import { ownRange } from './compiled.js';
import { byHand } from './heard.js';

const isAct = ({ kind }: Send): boolean => SENDS[kind].protocol === null;

/** Whether anything of the show hears this line and does something to the show itself. */
export const mayAct = ({ mappings, moments }: Show, lineId: string): boolean =>
  mappings.some(({ hear, sends }) => hear.lineId === lineId && sends.some(isAct)) ||
  moments.some(({ callers }) => callers.some((hear) => hear.lineId === lineId));

function rowOf({ mappings, moments }: Show, id: string): Mapping | undefined {
  const moment = moments.find((one) => one.id === momentOfCaller(id));
  return moment ? callersOf(moment).find((row) => row.id === id) : mappings.find((row) => row.id === id);
}

/**
 * Says what the mappings and callers that heard a message did to the show itself, in the order in which they did it.
 * @param steps what each did with the message. @param now how the show is after it
 */
export function doneBy(show: Show, steps: readonly WhyStep[], now: Done): string[] {
  return steps.flatMap(({ mappingId, outcome, heard, shaped }) => {
    const row = outcome === 'fired' ? rowOf(show, mappingId) : undefined;
    return (row?.sends ?? []).filter(isAct).flatMap((send) => {
      const value = ownRange(row!.shape.out, send.range)(shaped);
      const { fill, act } = compileSend(send);
      if (act === null || fill(value, byHand(heard, 0)) === 'nothing') return [];
      return [SENDS[send.kind].done?.(send, value, show, now) ?? saidSend(send, value, show)];
    });
  });
}
