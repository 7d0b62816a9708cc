/** The events of the running order that nobody has asked for yet. */
import type { AskedBy, OrderEvent } from './order.js';

export interface OrderEvents {
  happened(what: OrderEvent['what'], id: string | null, by: AskedBy, at: number): void;
  /** Returns the events since the last call. */
  drain(): OrderEvent[];
}

/** The most events that are kept until they are asked for. Later ones are dropped. */
const MOST_EVENTS = 1000;

export function createOrderEvents(): OrderEvents {
  let events: OrderEvent[] = [];
  return {
    happened(what, id, by, at) {
      if (events.length < MOST_EVENTS) events.push({ at, what, id, by });
    },
    drain() {
      const since = events;
      if (events.length > 0) events = [];
      return since;
    },
  };
}
