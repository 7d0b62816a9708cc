/** What waits while a large show is compiled. No source: our own rule. */
import { beforeEach, expect, test } from '@jest/globals';
import type { OrderAct } from '@tawny-signal/core/cues/order';
import type { ToEngine } from '@tawny-signal/core/link/messages';
import { createWaitingMessages, type WaitingMessages } from './waiting-messages.js';

let compiling: boolean;
let taken: string[];
let waiting: WaitingMessages;
beforeEach(() => {
  compiling = false;
  taken = [];
  waiting = createWaitingMessages(() => compiling, take);
});
function take(message: ToEngine, json?: string): void {
  if (waiting.keep(message, json)) return;
  taken.push(message.t === 'order' ? message.act.do : message.t);
  if (message.t === 'show') compiling = true;
}
/** The show is played now. */
function played(): string[] {
  compiling = false;
  taken = [];
  waiting.takeAll();
  return taken;
}

const order = (act: OrderAct): ToEngine => ({
  t: 'order',
  ask: 1,
  act,
  desk: '',
  press: { id: 'one', lateMs: 0 },
});
const GO = order({ do: 'go' });
const DONE: ToEngine = { t: 'done', ask: 2 };
const SHOW = { t: 'show' } as ToEngine;

test('what is about the show waits, in its order; arming and what asks only about that does not', () => {
  take(GO);
  take(SHOW);
  take({ t: 'armed', armed: true });
  take(DONE);
  take(GO);
  take({ t: 'armed', armed: false });
  // It asks whether Go was done, too.
  take(DONE);
  take(SHOW);
  take({ t: 'tap' });
  expect(taken).toEqual(['go', 'show', 'armed', 'done', 'armed']);
  // The second large show makes what follows it wait again.
  expect(played()).toEqual(['go', 'done', 'show']);
  expect(played()).toEqual(['tap']);
  expect(played()).toEqual([]);
});

test('what ends something is done at once, and once more after what waited before it', () => {
  take(SHOW);
  take({ t: 'panic', desk: '' });
  take(order({ do: 'stopAll', ms: 0 }));
  take(GO);
  take(order({ do: 'stopAll', ms: 500 }));
  take(order({ do: 'stop', id: 'fog' }));
  take({ t: 'panic', desk: '' });
  expect(taken).toEqual(['show', 'panic', 'stopAll', 'stopAll', 'stop', 'panic']);
  // Nothing that was asked for before it starts after it.
  expect(played()).toEqual(['go', 'stopAll', 'stop', 'panic']);
});

test('more than anybody does is not kept', () => {
  take(SHOW);
  for (let taps = 0; taps < 20_000; taps++) take({ t: 'tap' });
  expect(played().length).toBe(10_000);
});
