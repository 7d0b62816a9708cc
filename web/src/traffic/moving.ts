/** Finds what moves by itself before anything is touched: dust in a fader, a score that plays. */
import { controlOf, controlWords, writeControl } from '@tawny-signal/core/control/control';
import type { Show } from '@tawny-signal/core/show';
import type { Signal } from '@tawny-signal/core/signal';
import type { TrafficView } from '../live/traffic-log';
import { lineName, signalsIn } from './words';

const LATELY_MS = 2000;
/** A line with more moving controls than this is assumed to be played by a program. */
const PLAYED = 4;

export interface Moving {
  /** Returns whether a signal belongs to what moved before. */
  has(lineId: string, signal: Signal): boolean;
  /** Says what moves: `slot 12 on Deck desk`, `all of Score player`; empty for nothing. */
  words: string;
}

/** @param now milliseconds since 1970 */
export function movingNow(view: TrafficView, show: Show, now: number): Moving {
  const lines = new Map<string, Map<string, string>>();
  for (let n = view.end - 1; n >= view.first; n--) {
    const record = view.at(n);
    if (record.at < now - LATELY_MS) break;
    if (record.direction !== 'in') continue;
    for (const signal of signalsIn(record, show)) {
      const control = controlOf(signal)?.control;
      if (!control) continue;
      const moved = lines.get(record.lineId) ?? new Map<string, string>();
      lines.set(
        record.lineId,
        moved.set(writeControl(control), controlWords(control, show.settings.middleC)),
      );
    }
  }
  const words = [...lines].flatMap(([id, moved]) =>
    moved.size >= PLAYED
      ? [`all of ${lineName(show, id)}`]
      : [...moved.values()].map((control) => `${control} on ${lineName(show, id)}`),
  );
  return {
    has(lineId, signal) {
      const moved = lines.get(lineId);
      if (!moved) return false;
      const control = controlOf(signal)?.control;
      return moved.size >= PLAYED || (control !== undefined && moved.has(writeControl(control)));
    },
    words: words.join(', '),
  };
}
