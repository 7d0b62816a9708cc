/** Says traffic records in words. */
import { decodeSignals } from '@tawny-signal/core/bytes';
import { senderControl } from '@tawny-signal/core/layout/control-name';
import { momentName } from '@tawny-signal/core/show/moment-name';
import { CARRIES } from '@tawny-signal/core/show/line';
import { mappingName } from '@tawny-signal/core/mapping/words';
import type { Signal } from '@tawny-signal/core/signal';
import type { Show } from '@tawny-signal/core/show';
import { describeSignal } from '@tawny-signal/core/words';
import type { Passing, TrafficView } from '../live/traffic-log';

export const lineName = (show: Show, id: string): string =>
  show.lines.find((line) => line.id === id)?.name ?? 'a removed line';

/** Returns the signals in the bytes of a record; none if they cannot be read, or were too long to be stored. */
export function signalsIn(record: Passing, show: Show): Signal[] {
  if (record.direction === 'bad') return [];
  const line = show.lines.find((candidate) => candidate.id === record.lineId);
  return line ? decodeSignals(CARRIES[line.kind], record.bytes) : [];
}

export function wordsOf(record: Passing, show: Show): string {
  if (record.direction === 'bad') return record.reason;
  const signals = signalsIn(record, show);
  if (signals.length === 0) return `${record.length} bytes`;
  return signals.map((signal) => signalWords(record, signal, show)).join(' · ');
}

/** `Pad 12: note 47 (B2) ch 10 pressed, force 71` where a layout names the control. */
function signalWords({ direction, lineId }: Passing, signal: Signal, { layouts, settings }: Show): string {
  const words = describeSignal(signal, settings.middleC);
  const control = direction === 'in' ? senderControl(layouts, lineId, signal) : null;
  return control === null ? words : `${control}: ${words}`;
}

/** Returns the sender of a record: the name of a mapping, the source of a route; null if there is none. */
export function senderName(show: Show, id: string | null): string | null {
  if (id === null) return null;
  const mapping = show.mappings.find((candidate) => candidate.id === id);
  if (mapping) return mappingName(mapping);
  const moment = show.moments.find((candidate) => candidate.id === id);
  if (moment) return `moment ${momentName(moment)}`;
  if (show.timeOutputs.some((candidate) => candidate.id === id)) return 'the position';
  const motion = show.motions.find((candidate) => candidate.id === id);
  if (motion) return `motion ${motion.name}`;
  const route = show.routes.find((candidate) => candidate.id === id);
  return route ? `route from ${lineName(show, route.fromId ?? '')}` : null;
}

export const hexOf = (record: Passing): string => {
  const hex = [...record.bytes].map((byte) => byte.toString(16).toUpperCase().padStart(2, '0')).join(' ');
  return record.length > record.bytes.length ? `${hex} … ${record.length} bytes in all` : hex;
};

/** Time of day with milliseconds. @param at milliseconds since 1970 */
export function clockWords(at: number): string {
  const time = new Date(at);
  const two = (n: number): string => String(n).padStart(2, '0');
  const ms = String(time.getMilliseconds()).padStart(3, '0');
  return `${two(time.getHours())}:${two(time.getMinutes())}:${two(time.getSeconds())}.${ms}`;
}

/** Returns the `seq` of the message that a record belongs to: itself, or its cause. */
export const rootOf = ({ seq, cause }: Passing): number => (cause === 0 ? seq : cause);

/** The number of records that are searched for the effects of a message. */
const LOOK_FOR_SENT = 20_000;

/** Returns what was sent because of a message. */
export function sentFor(view: TrafficView, heard: Passing): Passing[] {
  const sent: Passing[] = [];
  for (let n = view.end - 1; n >= Math.max(view.first, view.end - LOOK_FOR_SENT); n--) {
    const record = view.at(n);
    if (record.seq === heard.seq && record.at === heard.at) break;
    if (record.cause === heard.seq) sent.unshift(record);
  }
  return sent;
}

/** Returns whether a record tells the time, which is sent many times a second. */
export const isTime = ({ timeOutputs }: Show, { senderId }: Passing): boolean =>
  timeOutputs.some(({ id }) => id === senderId);

/** Returns whether a record is feedback of a mapping to its lamp or motor fader. */
export function isFeedback({ mappings }: Show, { direction, senderId, lineId }: Passing): boolean {
  if (direction === 'in' || senderId === null) return false;
  const mapping = mappings.find(({ id }) => id === senderId);
  return mapping?.answer?.lineId === lineId && mapping.sends.every((send) => send.lineId !== lineId);
}
