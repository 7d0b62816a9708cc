/** Computes messages and bytes a second of each line from totals. */
import type { LineTotals } from '@tawny-signal/core/live/batch';

export interface LineRate {
  /** Messages a second over the last second. */
  in: number;
  out: number;
  /** Bytes a second over the last second. */
  inBytes: number;
  outBytes: number;
  /** When something last came in or went out, in the caller's milliseconds; -Infinity for never. */
  inAt: number;
  outAt: number;
}

/** The totals of a line at a time. */
interface Sample {
  at: number;
  in: number;
  out: number;
  inBytes: number;
  outBytes: number;
}

type Totals = Pick<LineTotals, 'inCount' | 'outCount' | 'inBytes' | 'outBytes'>;

const SILENT: LineRate = { in: 0, out: 0, inBytes: 0, outBytes: 0, inAt: -Infinity, outAt: -Infinity };
const WINDOW_MS = 1000;
/** An eye stays open this long after a message. */
export const EYE_MS = 180;

export interface Rates {
  of(id: string): LineRate;
  note(id: string, totals: Totals, now: number): void;
  /** Lets rates fall if nothing arrives. @returns whether any has changed */
  fade(now: number): boolean;
}

export function createRates(): Rates {
  const samples = new Map<string, Sample[]>();
  const rates = new Map<string, LineRate>();

  function compute(list: Sample[], now: number): Omit<LineRate, 'inAt' | 'outAt'> {
    // One sample from before the window is kept, to count from.
    while (list.length > 1 && list[1]!.at <= now - WINDOW_MS) list.shift();
    const first = list[0]!;
    const last = list.at(-1)!;
    return {
      in: last.in - first.in,
      out: last.out - first.out,
      inBytes: last.inBytes - first.inBytes,
      outBytes: last.outBytes - first.outBytes,
    };
  }

  return {
    of: (id) => rates.get(id) ?? SILENT,
    note(id, { inCount, outCount, inBytes, outBytes }, now) {
      const sample = { in: inCount, out: outCount, inBytes, outBytes };
      const list = samples.get(id) ?? [];
      const last = list.at(-1);
      // The first totals give no rate. A line that was opened again counts from 0.
      if (!last || inCount < last.in || outCount < last.out) list.length = 0;
      if (list.length === 0)
        list.push({ ...(last ? { in: 0, out: 0, inBytes: 0, outBytes: 0 } : sample), at: now - WINDOW_MS });
      const before = rates.get(id) ?? SILENT;
      const previous = list.at(-1)!;
      list.push({ ...sample, at: now });
      samples.set(id, list);
      rates.set(id, {
        ...compute(list, now),
        inAt: inCount > previous.in ? now : before.inAt,
        outAt: outCount > previous.out ? now : before.outAt,
      });
    },
    fade(now) {
      let changed = false;
      for (const [id, list] of samples) {
        const rate = rates.get(id)!;
        const eyes = now - Math.max(rate.inAt, rate.outAt) < 1000;
        if (rate.in === 0 && rate.out === 0 && !eyes) continue;
        const last = list.at(-1)!;
        if (last.at <= now - 100) list.push({ ...last, at: now });
        rates.set(id, { ...rate, ...compute(list, now) });
        changed = true;
      }
      return changed;
    },
  };
}
