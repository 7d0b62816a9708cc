/** Motions that are stepped in the engine: tables and chance, and what goes on after an edit or a restart. */
import { describe, expect, test } from '@jest/globals';
import { channelSignals, motion, motionStage, moves, values } from './engine-motion.test-helper.js';
import { makeSend } from './sends.js';
import { makeMoment, makeMomentSend } from './show/moment.js';

describe('a table', () => {
  const temperatures = [4, null, 8, 12, 20];
  const quay = (more: object = {}, drive: object = { by: 'steps' }) =>
    motion({
      id: 'quay',
      makes: { kind: 'table', values: temperatures, ...more },
      drive,
      shape: { scale: { notes: [0, 2, 3, 5, 7, 8, 10], root: 2, low: 62, high: 74 } },
      sends: [makeSend({ kind: 'note', lineId: 'laser', channel: 2, number: 0 })],
    });
  const rhythm = moves('next', [37, 37], { motionId: 'quay', heard: 'held' });
  const played = (stage: ReturnType<typeof motionStage>): number[] =>
    channelSignals(stage.left()).flatMap(({ kind, number }) => (kind === 'noteOn' ? [number] : []));

  test('is sampled by presses only: each takes the next value, and a missing one is passed over', () => {
    const stage = motionStage([quay()], [rhythm]);
    stage.pass(100);
    expect(stage.left()).toEqual([]);
    for (let n = 0; n < 5; n++) {
      stage.press(37);
      stage.pass(50);
      stage.release(37);
      stage.pass(50);
    }
    // D minor from D4 to D5 has eight notes: 4, 8, 12 and 20 degrees are at 0, 1/4, 1/2 and 1 of the way.
    expect(played(stage)).toEqual([62, 65, 69, 74, 62]);
  });

  test.each([
    [{ stride: 2 }, [62, 69, 62, 69]],
    [{ stride: -1 }, [62, 74, 69, 65]],
    [{ stride: 0.5 }, [62, 62, 65, 65]],
    [{ order: 'toAndFro' }, [62, 65, 69, 74, 69, 65, 62]],
    [{ missing: 'held' }, [62, 62, 65, 69, 74]],
  ] as const)('the same rhythm with %j', (more, notes) => {
    const stage = motionStage([quay(more)], [rhythm]);
    for (let n = 0; n < notes.length; n++) {
      stage.press(37);
      stage.release(37);
      stage.pass(10);
    }
    expect(played(stage)).toEqual(notes);
  });

  test('plays each note as hard as its press', () => {
    const stage = motionStage([quay()], [rhythm]);
    for (const force of [100, 30, 127]) {
      stage.press(37, force);
      stage.release(37);
      stage.pass(10);
    }
    const pressed = channelSignals(stage.left()).filter(({ kind }) => kind === 'noteOn');
    expect(pressed.map(({ value }) => value)).toEqual([100, 30, 127]);
  });

  test('plays by itself in beats, each note on its beat', () => {
    const stage = motionStage([quay({}, { everyBeats: 1 })]);
    stage.pass(1900);
    const ons = channelSignals(stage.left()).filter(({ kind }) => kind === 'noteOn');
    ons.forEach(({ at }, n) => expect(at).toBeCloseTo(n * 500, 3));
    expect(ons).toHaveLength(4);
  });
});

describe('chance', () => {
  test('is the same for the same seed, however often it is asked', () => {
    const sky = motion({ makes: { kind: 'random', way: 'walk' }, drive: { everyMs: 100, inStep: false } });
    const often = motionStage([sky]);
    for (let n = 0; n < 500; n++) often.pass(7);
    const seldom = motionStage([sky]);
    seldom.pass(3500);
    expect(values(often.left())).toEqual(values(seldom.left()));
    const other = motionStage([{ ...sky, makes: { ...sky.makes, seed: 2 } as never }]);
    other.pass(3500);
    expect(values(other.left())).not.toEqual(values(motionStage([sky]).left()));
  });

  test('a hold takes the value of another motion at each trigger, and keeps it', () => {
    const ramp = motion({
      id: 'ramp',
      makes: { kind: 'wave', form: 'rampUp' },
      drive: { everyMs: 1000, inStep: false },
      sends: [],
    });
    const held = motion({
      id: 'held',
      makes: { kind: 'hold', of: { what: 'motion', motionId: 'ramp' } },
      drive: { by: 'steps' },
    });
    const stage = motionStage([ramp, held], [moves('next', [38, 38], { motionId: 'held' })]);
    const taken: number[] = [];
    for (const ms of [200, 300, 250]) {
      stage.pass(ms);
      stage.press(38);
      stage.pass(30);
      taken.push(...values(stage.left()).map(({ value }) => value));
    }
    expect(taken).toHaveLength(3);
    expect(taken[0]).toBeCloseTo(0.2, 1);
    expect(taken[1]).toBeCloseTo(0.53, 1);
    expect(taken[2]).toBeCloseTo(0.81, 1);
  });

  test('motions step and move other motions', () => {
    const pulse = motion({
      id: 'pulse',
      makes: { kind: 'steps', steps: [{ value: 1 }, { value: 0 }] },
      drive: { everyMs: 100, inStep: false },
      sends: [makeSend({ kind: 'motion', lineId: null, motionId: 'row', act: 'next' })],
    });
    const row = motion({
      id: 'row',
      makes: { kind: 'steps', steps: [0.1, 0.2, 0.3].map((value) => ({ value })) },
      drive: { by: 'steps' },
    });
    const stage = motionStage([pulse, row]);
    stage.pass(590);
    expect(values(stage.left()).map(({ value }) => value)).toEqual([0.1, 0.2, 0.3]);
  });
});

describe('after a restart', () => {
  const ramp = motion({ makes: { kind: 'wave', form: 'rampUp' }, drive: { everyMs: 8000 } });
  const lens = motion({
    id: 'lens',
    begins: 'asked',
    makes: { kind: 'ease', goes: 'further', by: 0.25, ms: 100 },
  });
  const row = motion({
    id: 'row',
    makes: { kind: 'steps', steps: [0.1, 0.2, 0.3, 0.4].map((value) => ({ value })) },
    drive: { by: 'steps' },
  });
  const still = motion({ id: 'still', drive: { everyMs: 500 } });
  const all = [ramp, lens, row, still];
  const mappings = [
    moves('start', [36, 36], { motionId: 'lens' }),
    moves('next', [37, 37], { motionId: 'row' }),
    moves('amount', [38, 38], { motionId: 'still' }),
  ];

  test('another engine goes on where motions were, and what was stopped stays so', () => {
    const before = motionStage(all, mappings);
    before.press(36);
    before.press(37);
    before.press(37);
    before.press(38, 64);
    before.give({ t: 'motion', id: 'still', act: 'stop' });
    before.pass(2000);
    const kept = before.engine.motions.kept();
    expect(kept.stopped).toEqual(['still']);
    const after = motionStage(all, mappings);
    after.pass(2000);
    after.left();
    const nothing = { standingBy: null, called: null, finished: [], tempo: null };
    after.give({ t: 'restore', before: { ...nothing, motions: kept } });
    after.pass(2000);
    const sent = values(after.left());
    // The ramp is where it would be: half way after four seconds.
    expect(sent.at(-1)!.value).toBeCloseTo(0.5, 2);
    after.press(37);
    after.pass(100);
    expect(values(after.left()).map(({ value }) => value)).toContain(0.3);
    after.press(36);
    after.pass(500);
    expect(values(after.left()).map(({ value }) => value)).toContain(0.5);
    expect(after.engine.motions.seen(0, 0).running['still']).toBeUndefined();
    expect(after.engine.motions.kept().moved['still']!.amount).toBeCloseTo(64 / 127, 5);
  });

  test('and an edit leaves a row of steps at its step, and an ease at its place', () => {
    const stage = motionStage(all, mappings);
    stage.press(36);
    stage.press(37);
    stage.press(37);
    stage.pass(500);
    stage.left();
    stage.load((show) => {
      show.motions = show.motions.map((one) => ({ ...one, name: `${one.name} again` }));
    });
    stage.press(37);
    stage.press(36);
    stage.pass(500);
    const sent = values(stage.left()).map(({ value }) => value);
    expect(sent).toContain(0.3);
    expect(sent).toContain(0.5);
  });
});

describe('the running order', () => {
  const swell = motion({ id: 'swell', begins: 'asked' });
  const send = (act: 'start' | 'stop') =>
    makeMomentSend({
      kind: 'send',
      value: 1,
      send: makeSend({ kind: 'motion', lineId: null, motionId: 'swell', act }),
    });
  const order = [
    makeMoment({ id: 'slack', cue: '1', name: 'Slack water', sends: [send('start')] }),
    makeMoment({ id: 'fog', cue: '2', name: 'Fog bank', sends: [] }),
    makeMoment({ id: 'dark', cue: '3', name: 'Blackout', sends: [send('stop')] }),
  ];
  const stage = () => motionStage([swell], [], (show) => void (show.moments = order));
  const runs = (one: ReturnType<typeof motionStage>): boolean => one.engine.motions.seen(0, 0).voices > 0;

  test('starts and stops a motion, from one moment until another', () => {
    const one = stage();
    for (const expected of [true, true, false]) {
      one.give({ t: 'order', act: { do: 'go' }, desk: '' });
      one.pass(1000);
      expect(runs(one)).toBe(expected);
    }
  });

  test('catching up starts what would run there, and stops what would not', () => {
    const one = stage();
    one.give({ t: 'order', act: { do: 'standBy', id: 'dark', catchUp: true, fadeMs: 0 }, desk: '' });
    one.pass(1000);
    expect(runs(one)).toBe(true);
    one.give({ t: 'order', act: { do: 'catchUpPast', id: 'dark' }, desk: '' });
    one.pass(1000);
    expect(runs(one)).toBe(false);
  });
});
