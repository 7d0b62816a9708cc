/** What waits while a large show is compiled. No source: our own rule. */
import { expect, test } from '@jest/globals';
import type { ToEngine } from '@tawny-signal/core/link/messages';
import { createWaitingMessages } from './waiting-messages.js';

const GO: ToEngine = { t: 'order', ask: 1, act: { do: 'go' }, desk: '', press: null };
const DONE: ToEngine = { t: 'done', ask: 2 };

test('what is about the show waits, in its order; Panic, arming and what asks only about these do not', () => {
  let compiling = false;
  const taken: ToEngine['t'][] = [];
  const waiting = createWaitingMessages(() => compiling, take);
  function take(message: ToEngine, json?: string): void {
    if (waiting.keep(message, json)) return;
    taken.push(message.t);
    if (message.t === 'show') compiling = true;
  }
  const SHOW = { t: 'show' } as ToEngine;
  take(GO);
  take(SHOW);
  take({ t: 'panic', desk: '' });
  take(DONE);
  take(GO);
  take({ t: 'armed', armed: false });
  // It asks whether Go was done, too.
  take(DONE);
  take(SHOW);
  take({ t: 'tap' });
  expect(taken).toEqual(['order', 'show', 'panic', 'done', 'armed']);
  compiling = false;
  waiting.takeAll();
  // The second large show makes what follows it wait again.
  expect(taken.slice(5)).toEqual(['order', 'done', 'show']);
  compiling = false;
  waiting.takeAll();
  expect(taken.slice(8)).toEqual(['tap']);
  waiting.takeAll();
  expect(taken.length).toBe(9);
});
