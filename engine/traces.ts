/** Remembers what mappings did with the last messages, for Why? Old entries are overwritten. */
import type { WhyStep } from '@tawny-signal/core/live/messages';
import type { Trace } from '@tawny-signal/core/mapping/outcome';

export interface Traces {
  /** Copies the trace of the message with this `seq`. */
  keep(seq: number, trace: Trace): void;
  /** Returns the trace of a message; null if it is unknown or too old. */
  find(seq: number): WhyStep[] | null;
}

/** The number of messages that are remembered. */
const KEPT = 8192;
/** The most mappings that are remembered for one message. */
const MOST_STEPS = 64;

export function createTraces(): Traces {
  const ring: (Trace & { seq: number })[] = [];
  let next = 0;
  return {
    keep(seq, trace) {
      const kept = (ring[next] ??= { seq: 0, count: 0, mapping: [], outcome: [], heard: [], shaped: [] });
      next = (next + 1) % KEPT;
      kept.seq = seq;
      kept.count = Math.min(trace.count, MOST_STEPS);
      for (let at = 0; at < kept.count; at++) {
        kept.mapping[at] = trace.mapping[at]!;
        kept.outcome[at] = trace.outcome[at]!;
        kept.heard[at] = trace.heard[at]!;
        kept.shaped[at] = trace.shaped[at]!;
      }
    },
    find(seq) {
      const kept = ring.find((one) => one.seq === seq);
      if (!kept) return null;
      return kept.mapping.slice(0, kept.count).map((mappingId, at) => ({
        mappingId,
        outcome: kept.outcome[at]!,
        heard: kept.heard[at]!,
        shaped: kept.shaped[at]!,
      }));
    },
  };
}
