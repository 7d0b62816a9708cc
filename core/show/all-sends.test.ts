/** Without a source: the rules are ours. */
import { describe, expect, test } from '@jest/globals';
import { z } from 'zod';
import { couldSound } from '../could-sound.js';
import { makeSend } from '../sends.js';
import { emptyShow } from '../show.js';
import { TABLES_WITH_SENDS } from './all-sends.js';
import { makeMotion } from './motion.js';
import { ROW_SCHEMAS } from './row-schemas.js';
import { TABLE_NAMES } from './tables.js';

/** Whether a row of a table holds sends, as its schema says: the kind “panic” is one of a send only. */
function holdsSends(table: (typeof TABLE_NAMES)[number]): boolean {
  const schema = z.toJSONSchema(ROW_SCHEMAS[table], { io: 'input', unrepresentable: 'any' });
  return JSON.stringify(schema).includes('"kind":{"type":"string","const":"panic"}');
}

test('each kind of row with sends says which', () => {
  const withSends = TABLE_NAMES.filter(holdsSends);
  expect(withSends).toContain('mappings');
  expect([...TABLES_WITH_SENDS].sort()).toEqual([...withSends].sort());
});

describe('Panic releases', () => {
  const note = makeSend({ kind: 'note', lineId: 'bell', channel: 2, number: 50 });
  const motion = {
    id: 'swell',
    name: 'Swell',
    makes: { kind: 'wave' as const },
    sends: [note],
  } satisfies Parameters<typeof makeMotion>[0];
  const released = (made: ReturnType<typeof makeMotion>): number[] =>
    (couldSound({ ...emptyShow('Pier'), motions: [made] }).get('bell') ?? []).flatMap((signal) =>
      signal.kind === 'noteOff' ? [signal.number] : [],
    );

  test('a note that only a motion plays, with all that follow it', () => {
    const fixed = { ...note, follows: false };
    expect(released(makeMotion({ ...motion, sends: [fixed] }))).toEqual([50]);
    expect(released(makeMotion({ ...motion, sends: [{ ...note, follows: true }] }))).toHaveLength(78);
  });

  test('each note of a scale that a motion plays', () => {
    const scale = { root: 2, notes: [0, 4, 7], low: 60, high: 72 };
    const made = makeMotion({ ...motion, shape: { scale } as never });
    // D, F sharp and A, from C4 (60) to C5 (72).
    expect(released(made)).toEqual([62, 66, 69]);
  });
});
