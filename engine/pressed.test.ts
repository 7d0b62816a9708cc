/** Commands that people press, over a web server or an engine that dies meanwhile. Without a source: the rule is ours. */
import { expect, test } from '@jest/globals';
import type { FromEngine, ToEngine } from '@tawny-signal/core/link/messages';
import type { LedgerEntry } from './ledger-pipe.js';
import { until } from '../scripts/test-stage.js';
import { createPressed, type Pressed } from './pressed.js';

interface Stage {
  pressed: Pressed;
  did: string[];
  told: FromEngine[];
  notes: LedgerEntry[];
}

function stage(): Stage {
  const did: string[] = [];
  const told: FromEngine[] = [];
  const notes: LedgerEntry[] = [];
  const outside = {
    ledger: { note: (line: string, key: string, value: string) => notes.push([line, key, [value]]) },
    tell: (message: FromEngine) => void told.push(message),
  };
  const pressed = createPressed(outside as never, (input) => {
    // Noted before it is done.
    did.push(`${input.t === 'order' ? input.act.do : input.t} after ${notes.length}`);
  });
  return { pressed, did, told, notes };
}
const go = (ask: number, id: string, lateMs = 10): Extract<ToEngine, { t: 'order' }> => ({
  t: 'order',
  ask,
  act: { do: 'go' },
  desk: '',
  press: { id, lateMs },
});

test('one that comes again is answered and not done again; one that is late is refused', () => {
  const { pressed, did, told } = stage();
  pressed.take(go(1, 'a'));
  pressed.take(go(2, 'a'));
  pressed.take(go(3, 'b', 4000));
  pressed.take({ ...go(4, 'x'), press: null });
  expect(did).toEqual(['go after 1', 'go after 1']);
  expect(told).toEqual([1, 2, 3, 4].map((ask) => ({ t: 'ordered', ask, how: ask === 3 ? 'late' : 'done' })));
});

test('the engine after it does not do it again; of what one died of it says so; and what else was left stays', async () => {
  const first = stage();
  first.pressed.take(go(1, 'a'));
  const whileDoing = first.notes.at(-1)!;
  await until(() => first.notes.length === 2, 'it is noted that it has left');
  const held: LedgerEntry = ['bells', '0 60', ['803c40']];
  const after = stage();
  expect(after.pressed.begin([held, first.notes.at(-1)!])).toEqual([held]);
  after.pressed.take(go(1, 'a'));
  after.pressed.take(go(2, 'b'));
  expect(after.did).toEqual(['go after 1']);
  expect(after.told).toMatchObject([{ how: 'done' }, { how: 'done' }]);
  const died = stage();
  died.pressed.begin([whileDoing]);
  died.pressed.take(go(1, 'a'));
  expect([died.did, died.told]).toEqual([[], [{ t: 'ordered', ask: 1, how: 'unsure' }]]);
  expect(stage().pressed.begin([['', 'presses done', ['{}']]])).toEqual([]);
});
