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
  said,
  show,
  WATER,
  type Engine,
  type Outs,
} from './engine.test-helper.js';
import type { ChannelSignal, OscSignal } from './signal.js';
import { newMapping } from './mapping/defaults.js';
import type { Show } from './show.js';
import { makeShape } from './show/shape.js';
import type { Mapping } from './show/mapping.js';
import { sendAs } from './sends.js';

describe('a pad that is pressed', () => {
  test('sends at any force, the force carried across', () => {
    const engine = loaded([mapping('storm', { numbers: [36, 36] })]);
    expect(said(engine.step(PADS, press(36, 127), 1))).toEqual(['/storm 1']);
    expect(said(engine.step(PADS, press(36, 1), 2))).toEqual([`/storm ${1 / 127}`]);
  });

  test('sends once: its release is another message', () => {
    const engine = loaded([mapping('storm', { numbers: [36, 36] })]);
    expect(said(engine.step(PADS, release(36), 1))).toEqual([]);
  });

  test('is heard on its own channel, number and line only', () => {
    const engine = loaded([mapping('storm', { numbers: [36, 36], channels: [9, 9] })]);
    expect(engine.step(PADS, press(37), 1).count).toBe(0);
    expect(engine.step(PADS, press(36, 100, 8), 2).count).toBe(0);
    expect(engine.step(WATER, press(36), 3).count).toBe(0);
    expect(engine.step(PADS, press(36), 4).count).toBe(1);
  });

  test('with an exact force asked for fires at that force only', () => {
    const engine = loaded([mapping('storm', { values: [97, 97] })]);
    expect(engine.step(PADS, press(36, 96), 1).count).toBe(0);
    expect(engine.step(PADS, press(36, 97), 2).count).toBe(1);
  });

  test('gives its number instead of its force where that is wished', () => {
    const ranged = mapping(
      'bell',
      { numbers: [55, 67] },
      { shape: makeShape({ from: 'number', in: [55, 67], out: [0, 1], curve: 'straight' }) },
    );
    const engine = loaded([ranged]);
    expect(said(engine.step(PADS, press(61), 1))).toEqual(['/bell 0.5']);
  });

  test('reaches all that hear it, in the order of the sheet', () => {
    const engine = loaded([
      mapping('c', { numbers: [36, 36] }),
      mapping('a', {}),
      mapping('d', { numbers: [30, 40], channels: [9, 9] }),
      mapping('b', { channels: [9, 9] }),
    ]);
    expect(said(engine.step(PADS, press(36, 127), 1))).toEqual(['/c 1', '/a 1', '/d 1', '/b 1']);
  });
});

test('a fader sends each of its values', () => {
  const engine = loaded([mapping('fog', { message: 'control', numbers: [21, 21], channels: [1, 1] })]);
  expect(said(engine.step(PADS, control(21, 0), 1))).toEqual(['/fog 0']);
  expect(said(engine.step(PADS, control(21, 127), 2))).toEqual(['/fog 1']);
  expect(said(engine.step(PADS, control(22, 127), 3))).toEqual([]);
});

test('pitch bend is shaped over all its fourteen bits', () => {
  const bend = newMapping(
    'bend',
    { message: 'bend', lineId: 'pads', channels: 'any', values: 'any' },
    'water',
  );
  const engine = loaded([bend]);
  expect(said(engine.step(PADS, { kind: 'pitchBend', channel: 0, number: 0, value: 16_383 }, 1))).toEqual([
    '/new/address 1',
  ]);
});

test('OSC is heard by its address, by a pattern, and when a pattern arrives', () => {
  const heard = (id: string, address: string): Mapping =>
    mapping(id, { message: 'osc', lineId: 'water', address });
  const engine = loaded([heard('one', '/deck/1'), heard('all', '/deck/*'), heard('two', '/deck/2')]);
  const osc = (address: string): OscSignal => ({ kind: 'osc', address, args: [{ type: 'f', value: 0.25 }] });
  expect(said(engine.step(WATER, osc('/deck/1'), 1))).toEqual(['/one 0.25', '/all 0.25']);
  expect(said(engine.step(WATER, osc('/deck/{1,2}'), 2))).toEqual(['/one 0.25', '/two 0.25']);
});

test('arguments that are fixed stay, and integers are rounded', () => {
  const many = mapping('many', {});
  many.sends[0].args = [
    { type: 's', value: 'go' },
    { type: 'i', value: 'shaped' },
    { type: 'h', value: 'shaped' },
    { type: 'f', value: 0.5 },
    { type: 'T' },
  ];
  many.shape.out = [0, 10];
  const engine = loaded([many]);
  expect(said(engine.step(PADS, press(36, 70), 1))).toEqual(['/many “go” 6 6 0.5 true']);
});

describe('what is held', () => {
  const swell = mapping('swell', { message: 'held', numbers: [37, 37] });

  test('is sent when pressed, and let go when released', () => {
    const engine = loaded([swell]);
    expect(said(engine.step(PADS, press(37, 127), 1))).toEqual(['/swell 1']);
    expect(said(engine.step(PADS, release(37), 2))).toEqual(['/swell 0']);
  });

  test('by two pads is let go with the last of them', () => {
    const engine = loaded([mapping('swell', { message: 'held', numbers: [36, 39] })]);
    engine.step(PADS, press(36), 1);
    engine.step(PADS, press(37), 2);
    expect(said(engine.step(PADS, release(36), 3))).toEqual([]);
    expect(said(engine.step(PADS, release(37), 4))).toEqual(['/swell 0']);
  });

  test('is released by Panic, once, and the pad’s own release then says nothing more', () => {
    const engine = loaded([swell]);
    engine.step(PADS, press(37), 1);
    expect(said(engine.panic(2))).toEqual(['/swell 0']);
    expect(said(engine.panic(3))).toEqual([]);
    expect(said(engine.step(PADS, release(37), 4))).toEqual([]);
  });

  test('is released when the show is made safe; what is pressed then is held back', () => {
    const engine = loaded([swell]);
    engine.step(PADS, press(37), 1);
    expect(said(engine.setArmed(false, 2))).toEqual(['/swell 0']);
    expect(said(engine.step(PADS, press(37, 127), 3))).toEqual(['[/swell 1]']);
    expect(said(engine.step(PADS, release(37), 4))).toEqual(['[/swell 0]']);
    engine.setArmed(true, 5);
    expect(said(engine.panic(6))).toEqual([]);
  });

  test('is released when its line goes', () => {
    const engine = loaded([swell]);
    engine.step(PADS, press(37), 1);
    expect(said(engine.lineGone(WATER, 2))).toEqual([]);
    expect(said(engine.lineGone(PADS, 3))).toEqual(['/swell 0']);
  });

  test.each<[string, (show: Show) => void]>([
    ['removed', (s) => (s.mappings = [])],
    ['switched off', (s) => (s.mappings = s.mappings.map((m) => ({ ...m, on: false })))],
    [
      'sent elsewhere',
      (s) =>
        (s.mappings = s.mappings.map((m) => ({
          ...m,
          sends: [{ ...sendAs('osc', 'water'), address: '/other' }],
        }))),
    ],
    [
      'in a bank that is switched off',
      (s) => {
        s.banks = [{ id: 'b', name: 'Storm glass', on: false, group: '' }];
        s.mappings = s.mappings.map((m) => ({ ...m, bankId: 'b' }));
      },
    ],
    ['on a line that is muted', (s) => (s.lines = s.lines.map((l) => ({ ...l, muted: l.id === 'pads' })))],
    ['on a line that is removed', (s) => (s.lines = s.lines.filter((l) => l.id !== 'pads'))],
  ])('is released when the mapping is %s', (_, change) => {
    const engine = loaded([swell]);
    engine.step(PADS, press(37), 1);
    const after = show([swell], change);
    const lines = new Map([...LINES].filter(([id]) => after.lines.some((line) => line.id === id)));
    expect(said(engine.load(after, lines, 2))).toEqual(['/swell 0']);
  });

  test('goes on when something else in the show changes', () => {
    const engine = loaded([swell]);
    engine.step(PADS, press(37), 1);
    const renamed = { ...swell, name: 'High water' };
    expect(said(engine.load(show([mapping('storm', {}), renamed]), LINES, 2))).toEqual([]);
    expect(said(engine.step(PADS, release(37), 3))).toEqual(['/swell 0']);
  });

  test('never stays, whatever is pressed, released, changed and in whatever order, once Panic is pressed', () => {
    const actions = fc.array(
      fc.oneof(
        fc.record({ do: fc.constant('press' as const), note: fc.integer({ min: 36, max: 39 }) }),
        fc.record({ do: fc.constant('release' as const), note: fc.integer({ min: 36, max: 39 }) }),
        fc.record({
          do: fc.constantFrom('panic' as const, 'safe' as const, 'arm' as const, 'gone' as const),
        }),
        fc.record({ do: fc.constant('load' as const), keep: fc.boolean() }),
        fc.record({ do: fc.constant('try' as const), down: fc.boolean() }),
      ),
      { maxLength: 40 },
    );
    fc.assert(
      fc.property(actions, (list) => {
        const both = [swell, mapping('wide', { message: 'held' })];
        const engine = loaded(both);
        const last = new Map<string, number>();
        const note = (outs: Outs): void => {
          for (let at = 0; at < outs.count; at++) {
            const { address, args } = outs.signal[at] as OscSignal;
            const value = args[0] as { value: number };
            if (!outs.heldBack[at]) last.set(address, value.value);
          }
        };
        list.forEach((action, now) => {
          if (action.do === 'press') note(engine.step(PADS, press(action.note), now));
          else if (action.do === 'release') note(engine.step(PADS, release(action.note), now));
          else if (action.do === 'panic') note(engine.panic(now));
          else if (action.do === 'safe') note(engine.setArmed(false, now));
          else if (action.do === 'arm') note(engine.setArmed(true, now));
          else if (action.do === 'gone') note(engine.lineGone(PADS, now));
          else if (action.do === 'load') note(engine.load(show(action.keep ? both : [swell]), LINES, now));
          else if (action.do === 'try') note(engine.tryMapping('swell', action.down, now));
        });
        note(engine.panic(1000));
        expect([...last.values()].filter((value) => value !== 0)).toEqual([]);
      }),
    );
  });
});

describe('trying by hand', () => {
  test('sends the top of the range, whatever the mapping hears', () => {
    const engine = loaded([mapping('fog', { message: 'control', numbers: [21, 21] })]);
    expect(said(engine.tryMapping('fog', true, 1))).toEqual(['/fog 1']);
    expect(said(engine.tryMapping('fog', false, 2))).toEqual([]);
    expect(said(engine.tryMapping('nobody', true, 3))).toEqual([]);
  });

  test('holds what holds until it is let go', () => {
    const engine = loaded([mapping('swell', { message: 'held' })]);
    expect(said(engine.tryMapping('swell', true, 1))).toEqual(['/swell 1']);
    expect(said(engine.tryMapping('swell', false, 2))).toEqual(['/swell 0']);
  });
});

test('a muted line hears nothing, and what would leave by it is held back', () => {
  const muted = (id: string) => (s: Show) =>
    (s.lines = s.lines.map((line) => ({ ...line, muted: line.id === id })));
  expect(loaded([mapping('storm', {})], muted('pads')).step(PADS, press(36), 1).count).toBe(0);
  expect(said(loaded([mapping('storm', {})], muted('water')).step(PADS, press(36, 127), 1))).toEqual([
    '[/storm 1]',
  ]);
});

describe('what fired', () => {
  const fired = (engine: Engine): string[] => engine.drainFired().map(({ source }) => source.id);

  test('is told once, and again to those who begin to look', () => {
    const engine = loaded([mapping('storm', {}), mapping('fog', { message: 'control' })]);
    engine.step(PADS, press(36), 1);
    engine.step(PADS, press(37), 2);
    expect([fired(engine), fired(engine)]).toEqual([['storm'], []]);
    engine.tellAll();
    expect(fired(engine)).toEqual(['storm']);
  });

  test('is kept through a change of the mapping', () => {
    const storm = mapping('storm', {});
    const engine = loaded([storm]);
    engine.step(PADS, press(36, 100), 1);
    engine.load(show([{ ...storm, name: 'Storm glass breaks' }]), LINES, 2);
    engine.tellAll();
    expect(engine.drainFired()).toMatchObject([{ tally: { fired: 1, lastHeard: 100, lastAt: 1 } }]);
  });
});

test('the same show and the same inputs give the same output', () => {
  const inputs = fc.array(
    fc.record({
      number: fc.nat(127),
      value: fc.nat(127),
      channel: fc.nat(15),
      kind: fc.constantFrom('noteOn' as const, 'noteOff' as const, 'controlChange' as const),
    }),
    { maxLength: 50 },
  );
  const mappings = [
    mapping('a', {}),
    mapping('b', { message: 'held', numbers: [10, 90] }),
    mapping('c', { message: 'control' }),
  ];
  const run = (list: ChannelSignal[]): string[] => {
    const engine = loaded(mappings);
    return list.flatMap((signal, now) => said(engine.step(PADS, signal, now)));
  };
  fc.assert(fc.property(inputs, (list) => expect(run(list)).toEqual(run(list))));
});

/** The plain way to find who hears a signal: ask every mapping. The index must agree with it. */
function slowFind(mappings: Mapping[], signal: ChannelSignal): string[] {
  return mappings
    .filter(({ hear }) => {
      if (hear.message !== 'pressed' && hear.message !== 'control') return false;
      const within = (span: 'any' | [number, number] | { of: number[] }, value: number): boolean =>
        span === 'any' || ('of' in span ? span.of.includes(value) : value >= span[0] && value <= span[1]);
      const kind = hear.message === 'pressed' ? 'noteOn' : 'controlChange';
      return (
        signal.kind === kind &&
        within(hear.channels, signal.channel) &&
        within(hear.numbers, signal.number) &&
        within(hear.values, signal.value)
      );
    })
    .map(({ id }) => id);
}

test('the index finds exactly those that asking every mapping would find', () => {
  const spans = (high: number) =>
    fc.oneof(
      fc.constant('any' as const),
      fc
        .tuple(fc.nat(high), fc.nat(high))
        .map(([a, b]): [number, number] => [Math.min(a, b), Math.max(a, b)]),
    );
  const hears = fc.record({
    message: fc.constantFrom('pressed' as const, 'control' as const),
    channels: spans(15),
    numbers: spans(127),
    values: spans(127),
  });
  const signals = fc.record({
    kind: fc.constantFrom('noteOn' as const, 'controlChange' as const),
    channel: fc.nat(15),
    number: fc.nat(127),
    value: fc.integer({ min: 1, max: 127 }),
  });
  fc.assert(
    fc.property(fc.array(hears, { maxLength: 12 }), fc.array(signals, { maxLength: 20 }), (list, inputs) => {
      const mappings = list.map((hear, at) => mapping(`m${at}`, hear));
      const engine = loaded(mappings);
      for (const signal of inputs) {
        const outs = engine.step(PADS, signal, 1);
        expect(outs.sender.slice(0, outs.count)).toEqual(slowFind(mappings, signal));
      }
    }),
  );
});
