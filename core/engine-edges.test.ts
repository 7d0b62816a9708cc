/** The engine at its edges: what is asked of it besides signals, and what it remembers. */
import { describe, expect, test } from '@jest/globals';
import {
  anyNote,
  control,
  LASER,
  LINES,
  loaded,
  made,
  PADS,
  press,
  release,
  RIG,
  said,
  show,
  until,
  createEngine,
  type Engine,
} from './engine.test-helper.js';
import { makeSend, type Send } from './sends.js';
import type { Show } from './show.js';
import { answerSchema } from './show/answer.js';
import type { Mapping } from './show/mapping.js';
import { makeMoment, makeMomentSend, type Moment } from './show/moment.js';
import { songBeatAt } from './time/tempo.js';

const pad = (number: number, message: 'pressed' | 'held' = 'pressed'): Mapping['hear'] =>
  ({ ...anyNote(message), numbers: [number, number] }) as Mapping['hear'];
const cc = (number: number): Send => makeSend({ kind: 'control', lineId: 'laser', channel: 0, number });
const slot = (number: number): Send => makeSend({ kind: 'slot', lineId: 'rig', slot: number });
const moment = (id: string, sends: Send[] = []): Moment =>
  makeMoment({
    id,
    cue: id,
    name: '',
    sends: sends.map((send) => makeMomentSend({ kind: 'send', send, value: 1 })),
  });
const withMoments =
  (...moments: Moment[]) =>
  (given: Show): void =>
    void (given.moments = moments);
const calls = (momentId: string | null, act: 'call' | 'run' | 'stop'): Send =>
  makeSend({ kind: 'call', lineId: null, momentId, act });
const call = (number: number, momentId: string | null, act: 'call' | 'run' | 'stop'): Mapping =>
  made({ id: `call ${number}`, hear: pad(number), sends: [calls(momentId, act)], shape: { out: [0, 1] } });

describe('a pad that acts on the running order', () => {
  const note = makeSend({ kind: 'note', lineId: 'laser', channel: 0, number: 5 });
  const engineOf = (...mappings: Mapping[]): Engine =>
    loaded(mappings, withMoments(moment('1', [note]), moment('2', [note])));
  const state = (engine: Engine): [string | null, string[]] => {
    const { standingBy, running } = engine.orderState();
    return [standingBy, running.map(({ id }) => id)];
  };

  test.each<[string, string | null, 'call' | 'run', string, string[]]>([
    ['Go calls what stands by', null, 'call', '2', ['1']],
    ['a call of a moment', '2', 'call', '', ['2']],
    ['a run of what stands by leaves it there', null, 'run', '1', ['1']],
    ['a run of a moment', '2', 'run', '1', ['2']],
  ])('%s', (_, id, act, standsBy, running) => {
    const engine = engineOf(call(36, id, act));
    engine.step(PADS, press(36), 0);
    expect(state(engine)).toEqual([standsBy || null, running]);
  });

  test('stops one, or all', () => {
    const engine = engineOf(call(36, '1', 'stop'), call(37, null, 'stop'));
    engine.order({ do: 'try', id: '1' }, 0);
    engine.order({ do: 'try', id: '2' }, 1);
    engine.step(PADS, press(36), 2);
    expect(state(engine)[1]).toEqual(['2']);
    engine.step(PADS, press(37), 3);
    expect(state(engine)[1]).toEqual([]);
  });

  test('is told in the log as what asked: a pad, or a moment', () => {
    const engine = loaded([call(36, '1', 'run')], withMoments(moment('1', [calls('2', 'run')]), moment('2')));
    engine.step(PADS, press(36), 5);
    expect(engine.orderEvents()).toEqual([
      { at: 5, what: 'ran', id: '1', by: { of: 'mapping', id: 'call 36' } },
      { at: 5, what: 'ran', id: '2', by: { of: 'moment', id: '1' } },
    ]);
  });

  test('moments that run each other in a ring come to an end', () => {
    const engine = loaded(
      [],
      withMoments(moment('1', [calls('2', 'run')]), moment('2', [calls('1', 'run')])),
    );
    expect(engine.order({ do: 'go' }, 0).count).toBe(0);
    expect(engine.orderEvents().length).toBeLessThanOrEqual(257);
  });
});

describe('the beat', () => {
  const beats = made({
    id: 'beats',
    hear: pad(36),
    sends: [
      makeSend({ kind: 'osc', lineId: 'water', address: '/beat', args: [{ type: 'f', value: 'shaped' }] }),
    ],
    shape: { curve: 'formula', formula: 'beat', out: [0, 1000] },
  });
  const atTempo = (bpm: number): Show => show([beats], (given) => void (given.settings.tempo = bpm));

  // Tempo arithmetic: beats = ms × bpm / 60,000.
  test('goes on from where it is when the show has another tempo', () => {
    const engine = createEngine();
    engine.load(atTempo(120), LINES, 0);
    expect(said(engine.step(PADS, press(36), 1000))).toEqual(['/beat 2']);
    engine.load(atTempo(60), LINES, 1000);
    expect(engine.tempo.tempo()).toEqual({ bpm: 60, since: -1000 });
    expect(said(engine.step(PADS, press(36), 2000))).toEqual(['/beat 3']);
    engine.load(atTempo(60), LINES, 2500);
    expect(engine.tempo.tempo()).toEqual({ bpm: 60, since: -1000 });
    engine.load(atTempo(240), LINES, 3000);
    expect(said(engine.step(PADS, press(36), 3250))).toEqual(['/beat 5']);
  });

  test('that was typed or tapped stays when the show is edited, until the show has another tempo', () => {
    const engine = createEngine();
    engine.load(atTempo(120), LINES, 0);
    engine.take({ t: 'tempo', bpm: 60 }, 1000);
    expect(engine.tempo.tempo()).toEqual({ bpm: 60, since: -1000 });
    engine.load(atTempo(120), LINES, 2000);
    expect(engine.tempo.tempo()).toEqual({ bpm: 60, since: -1000 });
    engine.tap(3000);
    engine.tap(3250);
    engine.load(atTempo(120), LINES, 3500);
    expect(engine.tempo.tempo().bpm).toBe(240);
    expect(songBeatAt(engine.tempo.tempo(), 3250)).toBe(0);
    engine.load(atTempo(90), LINES, 4000);
    expect(engine.tempo.tempo().bpm).toBe(90);
  });

  test('goes on after a restart from where it was', () => {
    const engine = createEngine();
    engine.load(atTempo(120), LINES, 0);
    engine.restore({ tempo: { bpm: 60, since: -5000 } }, 0);
    expect(said(engine.step(PADS, press(36), 0))).toEqual(['/beat 5']);
  });
});

describe('levels', () => {
  test('are known of every slot that was sent, and of none that was held back', () => {
    const engine = loaded([made({ id: 'm', hear: pad(36), sends: [slot(3)], shape: { out: [0, 255] } })]);
    engine.step(PADS, press(36, 127), 0);
    expect([engine.levels(RIG)[2], engine.levels(RIG)[3], engine.levels(LASER)[2]]).toEqual([255, 0, 0]);
    engine.setArmed(false, 1);
    engine.step(PADS, press(36, 64), 2);
    expect(engine.levels(RIG)[2]).toBe(255);
    expect(engine.levels(RIG)).toHaveLength(512);
  });

  test('are restored: mappings and moments fade from there', () => {
    const fading = makeSend({ kind: 'slot', lineId: 'rig', slot: 3, fadeMs: 1000 });
    const engine = loaded(
      [made({ id: 'm', hear: pad(36), sends: [fading], shape: { out: [0, 255] } })],
      withMoments(
        makeMoment({
          id: '1',
          cue: '1',
          name: '',
          sends: [makeMomentSend({ kind: 'send', send: slot(4), value: 200, fadeMs: 1000 })],
        }),
      ),
    );
    engine.restoreLevels(
      RIG,
      Uint8Array.from({ length: 512 }, (_, at) => (at === 2 || at === 3 ? 100 : 0)),
    );
    engine.step(PADS, press(36, 127), 0);
    engine.order({ do: 'go' }, 0);
    const half = until(engine, 500);
    expect(half.findLast((line) => line.includes('slot 3'))).toContain(
      `slot 3 = ${Math.round((100 + 255) / 2)}`,
    );
    expect(half.findLast((line) => line.includes('slot 4'))).toContain('slot 4 = 150');
  });
});

describe('a fade', () => {
  const fading = (id: string, number: number, at: number): Mapping =>
    made({
      id,
      hear: pad(number),
      sends: [makeSend({ kind: 'slot', lineId: 'rig', slot: at, fadeMs: 1000 })],
      shape: { out: [0, 255] },
    });

  test('stays where it is when its mapping goes, and those of others go on', () => {
    const [one, two] = [fading('one', 36, 1), fading('two', 37, 2)];
    const engine = loaded([one, two]);
    engine.step(PADS, press(36, 127), 0);
    engine.step(PADS, press(37, 127), 0);
    until(engine, 500);
    engine.load(show([two]), LINES, 500);
    const rest = until(engine, 5000);
    expect(rest.some((line) => line.includes('slot 1 '))).toBe(false);
    expect(rest.at(-1)).toContain('slot 2 = 255');
  });

  test('of all that moments lit leaves a muted line as it is', () => {
    const lit = makeMoment({
      id: '1',
      cue: '1',
      name: '',
      sends: [makeMomentSend({ kind: 'send', send: slot(4), value: 200 })],
    });
    const engine = loaded([], withMoments(lit));
    engine.order({ do: 'go' }, 0);
    const muted = show([], (given) => {
      given.moments = [lit];
      given.lines = given.lines.map((line) => (line.id === 'rig' ? { ...line, muted: true } : line));
    });
    engine.load(muted, LINES, 1);
    engine.order({ do: 'stopAll', ms: 100 }, 2);
    const rest = until(engine, 5000);
    expect(rest.length).toBeGreaterThan(0);
    expect(rest.every((line) => line.includes('[slot 4'))).toBe(true);
    expect(engine.levels(RIG)[3]).toBe(200);
  });
});

describe('a glide', () => {
  const gliding = made({
    id: 'm',
    hear: pad(36, 'held'),
    sends: [slot(3)],
    shape: { out: [0, 127], glideMs: 1000 },
  });

  test('goes straight from where it is to where it is sent, up and down', () => {
    const engine = loaded([
      { ...gliding, hear: { ...anyNote(), message: 'control', numbers: [7, 7] } as Mapping['hear'] },
    ]);
    expect(said(engine.step(PADS, control(7, 100), 0))).toEqual(['slot 3 = 100 (39 %)']);
    engine.step(PADS, control(7, 60), 0);
    expect(until(engine, 500).at(-1)).toContain('slot 3 = 80 ');
    engine.step(PADS, control(7, 120), 500);
    expect(until(engine, 1000).at(-1)).toContain('slot 3 = 100 ');
    expect(until(engine, 5000).at(-1)).toContain('slot 3 = 120 ');
  });

  test('begins at the low end after Panic has put it there', () => {
    const engine = loaded([gliding]);
    engine.step(PADS, press(36, 127), 0);
    expect(said(engine.panic(100))).toEqual(['slot 3 = 0 (0 %)']);
    engine.step(PADS, press(36, 127), 200);
    expect(until(engine, 700).at(-1)).toContain('slot 3 = 64 ');
    expect(until(engine, 5000).at(-1)).toContain('slot 3 = 127 ');
  });
});

describe('a key that is heard', () => {
  const STREAM_LINE = LINES.get('stream')!;
  const key = (down: boolean): Parameters<Engine['step']>[1] => ({ kind: 'key', code: 'KeyG', down });
  const note = makeSend({ kind: 'note', lineId: 'laser', channel: 0, number: 5 });
  const hearing = (message: 'keyPressed' | 'keyHeld'): Engine =>
    loaded([
      made({
        id: 'm',
        hear: { message, lineId: 'stream', code: 'KeyG' } as Mapping['hear'],
        sends: message === 'keyHeld' ? [note] : [cc(1)],
        shape: { in: [0, 1], out: [0, 127] },
      }),
    ]);

  test('pressed fires as it goes down, and not as it comes up', () => {
    const engine = hearing('keyPressed');
    expect(said(engine.step(STREAM_LINE, key(true), 0))).toEqual(['CC 1 ch 1 = 127']);
    expect(said(engine.step(STREAM_LINE, key(false), 1))).toEqual([]);
    expect(engine.trace().outcome[0]).toBe('buttonUp');
  });

  test('held holds until it comes up', () => {
    const engine = hearing('keyHeld');
    expect(said(engine.step(STREAM_LINE, key(true), 0))).toEqual(['note 5 (F-1) ch 1 pressed, force 127']);
    expect(said(engine.step(STREAM_LINE, key(false), 1))).toEqual(['note 5 (F-1) ch 1 released']);
    expect(said(engine.step(STREAM_LINE, key(false), 2))).toEqual([]);
  });
});

test('a mapping that leaves a bank is not ended with it, and those that stay are', () => {
  const note = (number: number): Send => makeSend({ kind: 'note', lineId: 'laser', channel: 0, number });
  const rows = [36, 37, 38].map((number) =>
    made({ id: `m${number}`, hear: pad(number, 'held'), sends: [note(number)], bankId: 'b' }),
  );
  const off = made({
    id: 'off',
    hear: pad(50),
    sends: [makeSend({ kind: 'bank', lineId: null, bankId: 'b', act: 'off' })],
    shape: { out: [0, 1] },
  });
  const engine = loaded(
    [...rows, off],
    (given) => void (given.banks = [{ id: 'b', name: 'B', on: true, group: '' }]),
  );
  engine.replace({ ...rows[1]!, bankId: null }, 1, 0);
  for (const number of [36, 37, 38]) engine.step(PADS, press(number), 1);
  expect(said(engine.step(PADS, press(50), 2))).toEqual([
    'note 36 (C2) ch 1 released',
    'note 38 (D2) ch 1 released',
  ]);
  expect(said(engine.step(PADS, release(37), 3))).toEqual(['note 37 (C#2) ch 1 released']);
});

describe('what calls a moment', () => {
  test('is what the moment hears now, and nothing that it heard before', () => {
    const heardBy = (...numbers: number[]): Moment => ({
      ...moment('1', [cc(5)]),
      callers: numbers.map((n) => pad(n)),
    });
    const engine = loaded([], withMoments(heardBy(36, 37)));
    const calledBy = (number: number): boolean => engine.step(PADS, press(number), 0).count > 0;
    expect([calledBy(36), calledBy(37), calledBy(38)]).toEqual([true, true, false]);
    engine.loadMoments(show([], withMoments(heardBy(38))), 1);
    expect([calledBy(36), calledBy(37), calledBy(38)]).toEqual([false, false, true]);
    engine.loadMoments(show([], withMoments({ ...heardBy(38), parked: true })), 2);
    expect(calledBy(38)).toBe(false);
  });
});

describe('what is said of a message', () => {
  const said_ = (engine: Engine): [string, number][] => {
    const { count, outcome, heard } = engine.trace();
    return outcome.slice(0, count).map((one, at) => [one, heard[at]!]);
  };
  test('has what it worked with where it fired, and what came where it did not', () => {
    const byNumber = made({ id: 'm', hear: pad(36, 'held'), sends: [cc(1)], shape: { from: 'number' } });
    const engine = loaded([byNumber]);
    engine.step(PADS, press(36, 90), 0);
    expect(said_(engine)).toEqual([['fired', 36]]);
    engine.step(PADS, press(36, 80), 1);
    engine.step(PADS, release(36), 2);
    expect(said_(engine)).toEqual([['released', 0]]);
    engine.step(PADS, release(36), 3);
    expect(said_(engine)).toEqual([['nothingHeld', 0]]);
    const forces = loaded([
      made({ id: 'm', hear: { ...pad(36), values: [100, 127] } as Mapping['hear'], sends: [cc(1)] }),
    ]);
    forces.step(PADS, press(36, 90), 0);
    expect(said_(forces)[0]![0]).toBe('value');
  });

  test('of two controllers says why it was not taken: its bank was off, or another value', () => {
    const pair = made({
      id: 'm',
      hear: {
        message: 'control14',
        lineId: 'pads',
        channels: 'any',
        numbers: [7, 7],
        values: [0, 100],
      } as Mapping['hear'],
      sends: [cc(1)],
      bankId: 'b',
    });
    const withBank = (on: boolean): Show =>
      show([pair], (given) => void (given.banks = [{ id: 'b', name: 'B', on, group: '' }]));
    const engine = createEngine();
    const both = (high: number, low: number): string[] => {
      engine.step(PADS, control(7, high), 0);
      engine.step(PADS, control(39, low), 0);
      return said_(engine).map(([outcome]) => outcome);
    };
    engine.load(withBank(false), LINES, 0);
    expect(both(0, 5)).toEqual(['bankOff']);
    engine.load(withBank(true), LINES, 1);
    expect([both(0, 5), both(1, 5)]).toEqual([['fired'], ['value']]);
  });
});

describe('a shift pad', () => {
  const shifted = (number: number): Mapping =>
    made({ id: 'shifted', hear: pad(40), sends: [cc(1)], when: { shift: { channel: 9, number } } });
  const fires = (engine: Engine): boolean => engine.step(PADS, press(40), 9).count > 0;

  test('counts while it is down on its own line, channel and number', () => {
    const engine = loaded([shifted(36)]);
    expect(fires(engine)).toBe(false);
    engine.step(PADS, press(36), 0);
    expect(fires(engine)).toBe(true);
    for (const other of [release(37), release(36, 8), control(36, 0, 9)]) engine.step(PADS, other, 1);
    engine.step(LASER, release(36), 1);
    expect(fires(engine)).toBe(true);
    engine.step(PADS, release(36), 2);
    expect(fires(engine)).toBe(false);
    engine.step(LASER, press(36), 3);
    expect(fires(engine)).toBe(false);
  });

  test('can be the lowest note of the first channel', () => {
    const engine = loaded([
      made({ id: 'shifted', hear: pad(40), sends: [cc(1)], when: { shift: { channel: 0, number: 0 } } }),
    ]);
    expect(fires(engine)).toBe(false);
    engine.step(PADS, press(0, 1, 0), 0);
    expect(fires(engine)).toBe(true);
  });

  test('is up once its line is gone, and once nothing wanted it', () => {
    const engine = loaded([shifted(36)]);
    engine.step(PADS, press(36), 0);
    engine.lineGone(LASER, 1);
    expect(fires(engine)).toBe(true);
    engine.lineGone(PADS, 2);
    expect(fires(engine)).toBe(false);
    engine.step(PADS, press(36), 3);
    engine.load(show([]), LINES, 4);
    engine.load(show([shifted(36)]), LINES, 5);
    expect(fires(engine)).toBe(false);
    engine.step(PADS, press(36), 6);
    engine.load(show([shifted(36), { ...shifted(36), id: 'more' }]), LINES, 7);
    expect(fires(engine)).toBe(true);
  });
});

describe('who looks on', () => {
  const row = made({ id: 'm', hear: pad(36), sends: [cc(1)] });
  const other = made({ id: 'n', hear: pad(36), sends: [cc(2)] });
  const told = (engine: Engine): string[] => engine.drainFired().map(({ source }) => source.id);

  test('is told of each mapping once, whatever is edited meanwhile', () => {
    const engine = loaded([row, other]);
    engine.step(PADS, press(36), 0);
    engine.step(PADS, press(36), 1);
    engine.replace({ ...row, sends: [cc(9)] }, 0, 2);
    const fired = engine.drainFired();
    expect(fired.map(({ source }) => source.id).sort()).toEqual(['m', 'n']);
    expect(fired.find(({ source }) => source.id === 'm')!.tally.fired).toBe(2);
    expect(told(engine)).toEqual([]);
    engine.step(PADS, press(36), 3);
    engine.replace({ ...row, name: 'Other name', sends: [cc(9)] }, 0, 4);
    expect(told(engine).sort()).toEqual(['m', 'n']);
    engine.step(PADS, press(36), 5);
    engine.load(show([other]), LINES, 6);
    expect(told(engine)).toEqual(['n']);
    engine.step(PADS, press(36), 7);
    engine.replace({ ...other, on: false }, 0, 8);
    expect(told(engine)).toEqual([]);
  });
});

describe('what is held without a release of its own', () => {
  const level = made({ id: 'm', hear: pad(36, 'held'), sends: [slot(3)], shape: { out: [0, 255] } });
  test('is told when it begins and ends, with what takes it back', () => {
    const engine = loaded([level]);
    expect(engine.drainHolds()).toEqual([]);
    engine.step(PADS, press(36), 0);
    expect(engine.drainHolds()).toEqual([
      { key: 'hold m 0', lowEnds: [{ line: RIG, signal: { kind: 'slot', slot: 3, level: 0 } }] },
    ]);
    expect(engine.drainHolds()).toEqual([]);
    engine.step(PADS, release(36), 1);
    expect(engine.drainHolds()).toEqual([{ key: 'hold m 0', lowEnds: [] }]);
  });
});

test('what takes a hold back goes to levels on lines that are there and not muted, and to nothing else', () => {
  const on = (lineId: string | null): Send => makeSend({ kind: 'slot', lineId, slot: 3 });
  const level = made({
    id: 'm',
    hear: pad(36, 'held'),
    sends: [
      makeSend({ kind: 'note', lineId: 'laser', channel: 0, number: 5 }),
      calls(null, 'call'),
      makeSend({ kind: 'control', lineId: 'score', channel: 0, number: 7 }),
      on(null),
      on('gone'),
      cc(7),
      makeSend({ kind: 'control', lineId: 'pads', channel: 0, number: 8 }),
    ],
  });
  const engine = loaded([level], (given) => {
    given.lines = given.lines.map((line) => (line.id === 'score' ? { ...line, muted: true } : line));
  });
  engine.step(PADS, press(36), 0);
  const [hold] = engine.drainHolds();
  expect(hold!.lowEnds).toEqual([
    { line: LASER, signal: control(7, 0, 0) },
    { line: PADS, signal: control(8, 0, 0) },
  ]);
});

describe('a note', () => {
  const note = (lengthMs: number | null): Mapping =>
    made({
      id: 'm',
      hear: { ...anyNote(), message: 'control', numbers: [7, 7] } as Mapping['hear'],
      sends: [makeSend({ kind: 'note', lineId: 'laser', channel: 0, number: 5, lengthMs })],
    });

  test('with a length that is sent the force 0 is released then, and nothing more comes', () => {
    const engine = loaded([note(500)]);
    engine.step(PADS, control(7, 90), 0);
    expect(said(engine.step(PADS, control(7, 0), 100))).toContain('note 5 (F-1) ch 1 released');
    expect(until(engine, 5000)).toEqual([]);
  });

  test('that sounds since something was heard that is never let go is released with its line', () => {
    const engine = loaded([note(null)]);
    engine.step(PADS, control(7, 90), 0);
    expect(said(engine.lineGone(PADS, 1))).toEqual(['note 5 (F-1) ch 1 released']);
  });
});

describe('Panic and safe', () => {
  test('put a held level at its low end, and leave what is not its own value', () => {
    const each = (value: 'value' | 'toggle'): Engine => {
      const engine = loaded([
        made({ id: 'm', hear: pad(36, 'held'), sends: [slot(3)], shape: { out: [0, 255], each: value } }),
      ]);
      engine.step(PADS, press(36, 127), 0);
      return engine;
    };
    expect(said(each('value').panic(1))).toEqual(['slot 3 = 0 (0 %)']);
    expect(said(each('toggle').panic(1))).toEqual([]);
    const free = loaded([
      made({ id: 'm', hear: pad(36, 'held'), sends: [slot(3)], shape: { out: [0, 255] } }),
    ]);
    free.step(PADS, press(36), 0);
    free.step(PADS, release(36), 1);
    expect(said(free.panic(2))).toEqual([]);
  });

  test('that is asked for twice does nothing the second time, and arming an armed show nothing at all', () => {
    const engine = loaded([
      made({
        id: 'm',
        hear: pad(36, 'held'),
        sends: [makeSend({ kind: 'note', lineId: 'laser', channel: 0, number: 5 })],
      }),
    ]);
    engine.step(PADS, press(36), 0);
    expect(said(engine.setArmed(true, 1))).toEqual([]);
    expect(said(engine.panic(2))).toEqual(['note 5 (F-1) ch 1 released']);
    expect(said(engine.panic(3))).toEqual([]);
  });
});

describe('a line that goes', () => {
  test('ends what its own pads hold, and leaves what the pads of other lines hold', () => {
    const note = (number: number): Send => makeSend({ kind: 'note', lineId: 'laser', channel: 0, number });
    const engine = loaded([
      made({ id: 'here', hear: pad(36, 'held'), sends: [note(5)] }),
      made({ id: 'there', hear: { ...pad(36, 'held'), lineId: 'score' }, sends: [note(6)] }),
    ]);
    engine.step(PADS, press(36), 0);
    engine.step(LINES.get('score')!, press(36), 1);
    expect(said(engine.lineGone(PADS, 2))).toEqual(['note 5 (F-1) ch 1 released']);
    expect(said(engine.step(PADS, release(36), 3))).toEqual([]);
    expect(said(engine.step(LINES.get('score')!, release(36), 4))).toEqual(['note 6 (F#-1) ch 1 released']);
  });
});

test('a level that is not held any more stays where it is when its line goes', () => {
  const engine = loaded([
    made({ id: 'm', hear: pad(36, 'held'), sends: [slot(3)], shape: { out: [50, 255] } }),
  ]);
  engine.step(PADS, press(36), 0);
  engine.step(PADS, release(36), 1);
  engine.tryMapping('m', true, 2);
  engine.tryMapping('m', false, 3);
  expect(said(engine.lineGone(PADS, 4))).toEqual([]);
});

test('lamps are told again when the show is armed, and not by arming it twice or making it safe', () => {
  const answer = answerSchema.parse({ lineId: 'pads', kind: 'note', channel: 9, number: 36, shows: 'value' });
  const engine = loaded([made({ id: 'm', hear: pad(36), sends: [cc(1)], answer })]);
  const dark = 'note 36 (C2) ch 10 pressed, force 0';
  expect(said(engine.lineBack(PADS, 0))).toEqual([dark]);
  expect([said(engine.setArmed(true, 1)), said(engine.setArmed(false, 2))]).toEqual([[], []]);
  expect([said(engine.setArmed(true, 3)), said(engine.setArmed(true, 4))]).toEqual([[dark], []]);
});

test('what is tried by hand and is not there does nothing', () => {
  const engine = loaded([]);
  expect(engine.tryMapping('none', true, 0).count).toBe(0);
});
