/** The running order. The controls that call moments are heard like mappings that send a call. */
import { callersOf } from '../../cues/callers.js';
import { createRunner } from '../../cues/runner.js';
import { type OrderAct, type OrderEvent, type OrderState } from '../../cues/order.js';
import type { ShowAct } from '../../sends/compiled.js';
import type { Part, Stage } from '../part.js';

export interface MomentsPart extends Part {
  /** Returns a new object after each change, so that callers can compare by identity. */
  state(): OrderState;
  /** Returns the events since the last call. */
  drainEvents(): OrderEvent[];
}

/** Translates a send of the kind `call` (core/sends/call) into a command. */
function orderActOf({ momentId: id, act }: Extract<ShowAct, { do: 'moment' }>): OrderAct {
  if (act === 'stop') return id === null ? { do: 'stopAll', ms: 0 } : { do: 'stop', id };
  if (act === 'catchUp') return { do: 'catchUpPast', id };
  if (act === 'run') return id === null ? { do: 'tryNext' } : { do: 'try', id };
  return id === null ? { do: 'go' } : { do: 'call', id };
}

export function createMomentsPart(stage: Stage): MomentsPart {
  const runner = createRunner({ ...stage, act: (act, id) => stage.act(act, { of: 'moment', id }) });
  return {
    state: () => runner.state(),
    drainEvents: () => runner.drainEvents(),
    prepare: ({ show: { moments, groups, looks, midiFiles } }) =>
      runner.prepare(moments, { groups, looks, midiFiles }),
    load({ show: { moments, groups, looks, midiFiles, settings } }) {
      runner.load(moments, { groups, looks, midiFiles }, settings.guardMs);
    },
    listeners: ({ moments }) => moments.flatMap((moment) => (moment.parked ? [] : callersOf(moment))),
    take(input, now) {
      if (input.t === 'order') runner.do(input.act, { of: 'desk', name: input.desk }, now);
      if (input.t !== 'restore') return;
      const { standingBy, called, finished } = input.before;
      runner.restore(standingBy, called);
      if (finished.length > 0) runner.finish(finished, now);
    },
    act(act, by, now) {
      if (act.do === 'moment') runner.do(orderActOf(act), by, now);
    },
    watches: () => runner.watches(),
    saw(line, signal, _, heldBack) {
      if (!heldBack) runner.sent(line, signal);
    },
    wakeAt: () => runner.wakeAt(),
    wake: (now) => runner.wake(now),
    letGo: (by, now) => runner.endAll(by, now),
    forget: (now) => runner.endAll(null, now),
  };
}
