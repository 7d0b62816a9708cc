/** Computes what every line would have after the moments above were played, without anything that only sounds. */
import { lengthAt } from '../time/span.js';
import type { FileEvent } from '../midi/file.js';
import { placeOnLine, slotPlace } from '../place.js';
import { leavesBehind, makeSend, type Send } from '../sends.js';
import { makeMomentSend, type MomentSendOf } from '../show/moment.js';
import { delayOf, type Expanded } from './expand.js';
import { SUSTAIN } from './file-player.js';

/** A send that leaves a state behind. */
type Kept = Exclude<Expanded, { kind: 'file' }>;

const slotOnLine = (lineId: string | null, slot: number): string => placeOnLine(lineId, slotPlace(slot));

/** Returns the places that a send leaves in a state. */
const placesOf = (given: Kept): string[] =>
  given.kind === 'levels'
    ? given.levels.map(([slot]) => slotOnLine(given.lineId, slot))
    : leavesBehind(given.send);

/** Nobody knows what a system-exclusive message leaves behind: it is not sent again. */
function sendOfEvent({ signal }: FileEvent, lineId: string | null): [Send, number] | null {
  if (signal.kind === 'sysex') return null;
  const { kind, channel, number, value } = signal;
  switch (kind) {
    case 'controlChange':
      // Sustain is released at the end of a file.
      return [makeSend({ kind: 'control', lineId, channel, number }), number === SUSTAIN ? 0 : value];
    case 'programChange':
      return [makeSend({ kind: 'program', lineId, channel }), number];
    case 'pitchBend':
      return [makeSend({ kind: 'bend', lineId, channel }), value];
    default:
      return null;
  }
}

/** When it begins after the call, in ms. Only the order counts, so beats are taken at any tempo. */
const startOf = (given: Expanded): number => lengthAt(delayOf(given), 120);

/** Returns what a file leaves behind: controllers, programs and bends. */
function partsOf(given: Extract<Expanded, { kind: 'file' }>): Timed[] {
  const { lineId, events, lengthMs, times } = given;
  const begins = startOf(given) + Math.max(0, times - 1) * lengthMs;
  return events.flatMap((event): Timed[] => {
    const made = sendOfEvent(event, lineId);
    if (!made) return [];
    const [send, value] = made;
    return [
      {
        at: begins + event.atMs,
        given: makeMomentSend({ kind: 'send', send, value }) as MomentSendOf<'send'>,
      },
    ];
  });
}

/** Returns the send without its delay, and with this fade instead of its own. */
function overTime(given: Kept, fadeMs: number): Kept {
  return given.kind === 'levels'
    ? { ...given, delayMs: 0, delayBeats: null, fadeMs, fadeBeats: null }
    : { ...given, fadeMs, fadeBeats: null, send: { ...given.send, delayMs: 0, delayBeats: null } };
}

/** Returns the part of a send whose places no later send has set; null if nothing is left. */
function restOf(given: Kept, taken: ReadonlySet<string>): Kept | null {
  if (given.kind === 'levels') {
    const levels = given.levels.filter(([slot]) => !taken.has(slotOnLine(given.lineId, slot)));
    return levels.length > 0 ? { ...given, levels } : null;
  }
  const places = placesOf(given);
  return places.length > 0 && places.some((place) => !taken.has(place)) ? given : null;
}

interface Timed {
  at: number;
  given: Kept;
}

/** Returns the sends of a moment in the order of their delays: the later one stays. */
function inOrder(sends: readonly Expanded[]): Kept[] {
  return sends
    .flatMap((given): Timed[] => (given.kind === 'file' ? partsOf(given) : [{ at: startOf(given), given }]))
    .sort((a, b) => a.at - b.at)
    .map(({ given }) => given);
}

/**
 * @param played what the played moments do, in order and without parked ones. @returns what has to be sent, in the order in which it was last set.
 * All switched banks are kept, since one may switch another off. @param fadeMs how long levels and ramps take
 */
export function catchUp(played: readonly (readonly Expanded[])[], fadeMs = 0): Expanded[] {
  const taken = new Set<string>();
  const kept: Kept[] = [];
  for (const given of played.flatMap(inOrder).toReversed()) {
    const isBank = given.kind === 'send' && given.send.kind === 'bank';
    const rest = isBank ? given : restOf(given, taken);
    if (!rest) continue;
    for (const place of placesOf(given)) taken.add(place);
    kept.unshift(overTime(rest, fadeMs));
  }
  return kept;
}
