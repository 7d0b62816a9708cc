/** Jumping into the middle: what every line would have by now from the moments above, and nothing that only sounds. */
import { targetOf } from '../mapping/overlap.js';
import type { Moment, MomentSend } from '../show/moment.js';

/** Kinds that leave a state behind. Notes, keys, show control, system-exclusive and acts on the show but banks do not. */
function placesOf(given: MomentSend): string[] {
  if (given.kind === 'levels')
    return given.levels.flatMap(({ slots: [from, to] }) =>
      Array.from({ length: to - from + 1 }, (_, at) => `${given.lineId} slot ${from + at}`),
    );
  const { send } = given;
  switch (send.kind) {
    case 'osc':
    case 'control':
    case 'control14':
    case 'slot':
      return [targetOf(send)].filter((target) => target !== null);
    case 'bend':
    case 'program':
      return [`${send.lineId} ${send.kind} ${send.channel}`];
    case 'parameter':
      return [`${send.lineId} parameter ${send.channel} ${send.registered} ${send.number}`];
    case 'bank':
      return [`bank ${send.bankId}`];
    default:
      return [];
  }
}

/** The same, at once: what is caught up is there. */
function atOnce(given: MomentSend): MomentSend {
  return given.kind === 'levels'
    ? { ...given, delayMs: 0, fadeMs: 0 }
    : { ...given, fadeMs: 0, send: { ...given.send, delayMs: 0 } };
}

/** What a thing leaves of its places, where later things take others of them; null for nothing. */
function restOf(given: MomentSend, taken: ReadonlySet<string>): MomentSend | null {
  const places = placesOf(given);
  if (given.kind !== 'levels')
    return places.length > 0 && places.every((place) => !taken.has(place)) ? given : null;
  const levels = given.levels.flatMap(({ slots: [from, to], level }) =>
    Array.from({ length: to - from + 1 }, (_, at) => from + at)
      .filter((slot) => !taken.has(`${given.lineId} slot ${slot}`))
      .map((slot) => ({ slots: [slot, slot] as [number, number], level })),
  );
  return levels.length > 0 ? { ...given, levels } : null;
}

/**
 * @param moments those that were played, in their order. @returns what has to be sent, in the order in which it was last set; a switched
 * bank is kept in order with the others, since one may switch another off
 */
export function catchUp(moments: readonly Moment[]): MomentSend[] {
  const played = moments.filter(({ parked }) => !parked).flatMap(inOrder);
  const taken = new Set<string>();
  const kept: MomentSend[] = [];
  for (const given of played.toReversed()) {
    const isBank = given.kind === 'send' && given.send.kind === 'bank';
    const rest = isBank ? given : restOf(given, taken);
    if (!rest) continue;
    for (const place of placesOf(given)) taken.add(place);
    kept.unshift(atOnce(rest));
  }
  return kept;
}

/** What a moment does, in the order of its delays: what leaves later is what stays. */
function inOrder({ sends }: Moment): MomentSend[] {
  const delayOf = (given: MomentSend): number =>
    given.kind === 'levels' ? given.delayMs : given.send.delayMs;
  return [...sends].sort((a, b) => delayOf(a) - delayOf(b));
}
