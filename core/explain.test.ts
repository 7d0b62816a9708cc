import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  control,
  LINES,
  loaded,
  mapping,
  PADS,
  press,
  release,
  show,
  createEngine,
} from './engine.test-helper.js';
import { explain, explainRoutes, mendWords, type Account } from './explain.js';
import { newRoute } from './routes/words.js';
import type { Signal } from './signal.js';
import type { Show } from './show.js';
import { ALWAYS } from './show/when.js';
import type { Hear } from './hears.js';
import type { Mapping } from './show/mapping.js';
import type { Route } from './show/route.js';

const about = (hear: Partial<Hear>, signal: Signal, change?: (made: Show) => void): Account =>
  explain(
    show([mapping('storm', { numbers: [36, 36], channels: [9, 9], ...hear } as Partial<Hear>)], change),
    'pads',
    signal,
  )[0]!;

describe('what kept a mapping from firing is said as what was wanted and what came', () => {
  test.each<[Partial<Hear>, Signal, string]>([
    [{ values: [97, 97] }, press(36, 71), 'wanted force exactly 97, got 71'],
    [{ values: [100, 127] }, press(36, 71), 'wanted force 100–127, got 71'],
    [{}, press(36, 90, 8), 'wanted channel 10, got 9: are channels counted from 0 there?'],
    [{ channels: [2, 2] }, press(36, 90, 9), 'wanted channel 3, got 10'],
    [
      { numbers: [60, 60] },
      press(48),
      'wanted note 60 (C4), got 48 (C3): is middle C named differently there?',
    ],
    [{ numbers: [60, 60] }, press(61), 'wanted note 60 (C4), got 61 (C#4)'],
    [{}, release(36), 'wanted a press, got a release'],
    [{ message: 'control' }, press(36), 'wanted a control change, got a press'],
    [{ message: 'osc', address: '/fog' } as Partial<Hear>, press(36), 'wanted OSC, got a press'],
  ])('%j, %j: %s', (hear, signal, words) => expect(about(hear, signal).missed).toEqual([words]));

  test('what is off, muted or in a bank that is off is said too', () => {
    const { missed, mend } = about({}, press(36), (made) => {
      made.lines = made.lines.map((line) => ({ ...line, muted: line.id === 'pads' }));
      made.banks = [{ id: 'lit', name: 'Lamp lit', on: false, group: '' }];
      made.mappings = made.mappings.map((one) => ({ ...one, on: false, bankId: 'lit' }));
    });
    expect(missed).toEqual(['Pier pads is muted', 'it is switched off', 'bank Lamp lit is off']);
    expect(mend).toEqual({ unmute: 'pads', on: true, bankId: 'lit' });
  });

  test('on what it is heeded is said where nothing was missed', () => {
    const shifted = { ...mapping('storm', {}), when: { ...ALWAYS, shift: { channel: 9, number: 40 } } };
    expect(explain(show([shifted]), 'pads', press(36))[0]).toMatchObject({
      missed: [],
      only: 'while note 40 (E2) ch 10 is held',
      mend: null,
    });
  });
});

describe('the nearest comes first', () => {
  test('one that another message would never reach comes after those that a change would', () => {
    const made = show([
      mapping('fader', { message: 'control', numbers: [36, 36], channels: [9, 9] }),
      mapping('far', { numbers: [1, 1], channels: [1, 1] }),
      mapping('near', { numbers: [37, 37], channels: [9, 9] }),
    ]);
    expect(explain(made, 'pads', press(36)).map(({ mappingId }) => mappingId)).toEqual([
      'near',
      'far',
      'fader',
    ]);
  });
});

test('the change that is offered makes it fire, whatever was missed', () => {
  const span = (high: number) =>
    fc.tuple(fc.nat(high), fc.nat(high)).map(([a, b]): [number, number] => [Math.min(a, b), Math.max(a, b)]);
  const hears = fc.record({
    message: fc.constantFrom('pressed' as const, 'held' as const, 'control' as const),
    channels: span(15),
    numbers: span(127),
    values: span(127),
    lineId: fc.constantFrom('pads', 'score'),
  });
  const signals = fc.oneof(
    fc
      .record({ number: fc.nat(127), value: fc.integer({ min: 1, max: 127 }), channel: fc.nat(15) })
      .map((given) => ({ kind: 'noteOn' as const, ...given })),
    fc
      .record({ number: fc.nat(127), value: fc.nat(127), channel: fc.nat(15) })
      .map(({ number, value, channel }) => control(number, value, channel)),
  );
  fc.assert(
    fc.property(hears, signals, fc.boolean(), (hear, signal, on) => {
      const made: Mapping = { ...mapping('m', hear), on };
      const [account] = explain(show([made]), 'pads', signal);
      const { mend } = account!;
      const fires = (one: Mapping): boolean => loaded([one]).step(PADS, signal, 0).count > 0;
      expect(fires(made)).toBe(account!.missed.length === 0);
      if (mend) expect(fires({ ...made, on: mend.on ?? made.on, hear: mend.hear ?? made.hear })).toBe(true);
      else if (account!.missed.length > 0) expect(account!.missed.join()).toMatch(/wanted a (press|control)/);
    }),
  );
});

test('what each route made of it is said', () => {
  const route = (id: string, change: object): Route =>
    ({ ...newRoute('midi', 'pads', 'laser'), id, ...change }) as Route;
  const made = show([], (given) => {
    given.routes = [
      route('all', {}),
      route('ch1', { channels: [{ from: [0, 0], to: null }] }),
      route('off', { on: false }),
      { ...route('other', {}), fromId: 'score' },
    ];
  });
  expect(explainRoutes(made, 'pads', press(36))).toEqual([
    { routeId: 'all', name: 'Pier pads → Fog laser', keptOut: null },
    { routeId: 'ch1', name: 'Pier pads → Fog laser', keptOut: 'it lets through: ch 1' },
    { routeId: 'off', name: 'Pier pads → Fog laser', keptOut: 'it is switched off' },
  ]);
});

test('a mended mapping is the same in the engine', () => {
  const engine = createEngine();
  const { mend } = about({ values: [97, 97] }, press(36, 71));
  engine.load(show([{ ...mapping('storm', {}), hear: mend!.hear! }]), LINES, 0);
  expect(engine.step(PADS, press(36, 71), 0).count).toBe(1);
});

describe('what is offered to mend it', () => {
  test('the right control on a wrong channel comes before a neighbouring note', () => {
    const made = show([
      mapping('neighbour', { numbers: [37, 37], channels: [8, 8] }),
      mapping('same', { numbers: [36, 36], channels: [9, 9] }),
    ]);
    expect(explain(made, 'pads', press(36, 90, 8))[0]!.mappingId).toBe('same');
  });

  test('is said as what the button changes', () => {
    const words = (hear: Partial<Hear>, signal: Signal, change?: (made: Show) => void): string => {
      const made = show(
        [mapping('storm', { numbers: [36, 36], channels: [9, 9], ...hear } as Partial<Hear>)],
        change,
      );
      return mendWords(made, made.mappings[0]!, explain(made, 'pads', signal)[0]!.mend!);
    };
    expect(words({}, press(36, 90, 8))).toBe('Set its channel to 9');
    expect(words({}, press(38))).toBe('Set its note to 38 (D2)');
    expect(words({ values: [100, 127] }, press(36, 5))).toBe('Accept any force or value');
    expect(words({ lineId: 'score' }, press(36))).toBe('Set its line to Pier pads');
    expect(
      words({}, press(36, 90, 8), (made) => {
        made.banks = [{ id: 'lit', name: 'Lamp lit', on: false, group: '' }];
        made.mappings = made.mappings.map((one) => ({ ...one, on: false, bankId: 'lit' }));
      }),
    ).toBe('Set its channel to 9, and switch it on, and switch on bank Lamp lit');
  });
});
