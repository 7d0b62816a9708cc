/** A motion that runs while its control is held hears that it is let go. Without a source: the rules are ours. */
import { describe, expect, test } from '@jest/globals';
import { hearAs, HEAR_MESSAGES, type HearMessage } from '../hears.js';
import { makeSend } from '../sends.js';
import { mappingSchema } from '../show/mapping.js';
import { migrateRow } from '../show/migrate.js';
import { makeMoment, momentSchema } from '../show/moment.js';
import { makeMotion } from '../show/motion.js';
import { createEngine, LINES, PADS, press, release, show } from '../engine.test-helper.js';
import { newMapping } from './defaults.js';
import { hearFor, neverLetGo } from './lets-go.js';

const runs = makeSend({ kind: 'motion', lineId: null, motionId: 'swell', act: 'press' });
const mapping = (message: HearMessage, sends = [runs]): object => ({
  ...newMapping('m', hearAs(message), null),
  sends,
});

describe('“run while held”', () => {
  test.each(['pressed', 'keyPressed', 'program', 'sysex', 'showControl', 'released'] as const)(
    'is refused where “%s” is heard, with what mends it',
    (message) => {
      const result = mappingSchema.safeParse(mapping(message));
      expect(result.error?.issues[0]?.path).toEqual(['sends', 0, 'act']);
      expect(result.error?.issues[0]?.message).toMatch(/hoose “/);
    },
  );

  test('is taken where something says that the control is let go', () => {
    const good = HEAR_MESSAGES.filter((message) => neverLetGo({ message }, [runs]) < 0);
    expect(good).toEqual(
      expect.arrayContaining([
        'held',
        'keyHeld',
        'control',
        'pressure',
        'notePressure',
        'osc',
        'slot',
        'bend',
      ]),
    );
    for (const message of good) expect(mappingSchema.safeParse(mapping(message)).success).toBe(true);
  });

  test('that was kept before is heard to the end, or starts', () => {
    expect(migrateRow('mappings', mapping('pressed'))).toMatchObject({ hear: { message: 'held' } });
    expect(migrateRow('mappings', mapping('keyPressed'))).toMatchObject({ hear: { message: 'keyHeld' } });
    expect(migrateRow('mappings', mapping('program'))).toMatchObject({ sends: [{ act: 'start' }] });
    for (const message of HEAR_MESSAGES)
      expect(mappingSchema.safeParse(migrateRow('mappings', mapping(message))).success).toBe(true);
  });

  test('is not of a moment, which never lets go', () => {
    const moment = {
      ...makeMoment({ id: 'fog', cue: '1', name: '', sends: [] }),
      sends: [{ kind: 'send', send: runs, value: 1 }],
    };
    expect(momentSchema.safeParse(moment).error?.issues[0]?.message).toMatch(/“start, or trigger again”/);
    expect(momentSchema.safeParse(migrateRow('moments', moment)).success).toBe(true);
  });

  test('as a new control of a motion ends with its release', () => {
    const envelope = makeMotion({
      id: 'swell',
      name: 'Swell',
      begins: 'asked',
      makes: { kind: 'envelope', attack: { ms: 0 }, decay: { ms: 0 }, sustain: 0.6, release: { ms: 10 } },
      sends: [makeSend({ kind: 'control', lineId: 'laser', channel: 0, number: 7 })],
    });
    const hear = hearFor({ ...hearAs('pressed'), lineId: 'pads' } as never, [runs]);
    const engine = createEngine();
    const row = { ...newMapping('m', hear, null), sends: [runs] } as never;
    engine.load(
      show([row], (made) => void (made.motions = [envelope])),
      LINES,
      0,
    );
    let last = -1;
    const see = ({ count, signal }: ReturnType<typeof engine.wake>): void => {
      for (let at = 0; at < count; at++) {
        const one = signal[at]!;
        if (one.kind === 'controlChange') last = one.value;
      }
    };
    see(engine.step(PADS, press(70), 0));
    for (let now = 1; now < 200; now++) see(engine.wake(now));
    expect(last).toBe(76);
    see(engine.step(PADS, release(70), 200));
    for (let now = 201; now < 500; now++) see(engine.wake(now));
    expect(last).toBe(0);
  });
});
