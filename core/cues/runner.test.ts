/** The running order in the engine's own time. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { writeMidiFile } from '../midi/file.js';
import { base64Of } from '../base64.js';
import {
  anyNote,
  control,
  LINES,
  mapping,
  PADS,
  press,
  release,
  said,
  show,
  until,
  createEngine,
  type Engine,
  type Outs,
} from '../engine.test-helper.js';
import type { Hear } from '../hears.js';
import type { Mapping } from '../show/mapping.js';
import {
  makeMoment,
  makeMomentSend,
  type Moment,
  type MomentSend,
  type MomentSendOf,
} from '../show/moment.js';
import { makeSend } from '../sends.js';
import { AT_THE_END } from './order.js';
import type { Show } from '../show.js';
import { runs } from '../runs.test-helper.js';

const levels = (slots: [number, number], level: number, fadeMs = 0, more: object = {}): MomentSend =>
  makeMomentSend({ kind: 'levels', lineId: 'rig', levels: [{ slots, level }], fadeMs, ...more });
const density = (value: number, fadeMs = 0): MomentSend =>
  makeMomentSend({
    kind: 'send',
    send: makeSend({
      kind: 'osc',
      lineId: 'water',
      address: '/fog/density',
      args: [{ type: 'f', value: 'shaped' }],
    }),
    value,
    fadeMs,
  });
const beam = (value: number, lengthMs: number | null = null, delayMs = 0): MomentSend =>
  makeMomentSend({
    kind: 'send',
    send: makeSend({ kind: 'note', lineId: 'laser', channel: 5, number: 28, lengthMs, delayMs }),
    value,
  });
const key = makeMomentSend({
  kind: 'send',
  send: makeSend({ kind: 'key', lineId: 'stream', code: 'F4', tapMs: 0 }),
  value: 1,
});
const moment = (cue: string, sends: MomentSend[], more: Partial<Moment> = {}): Moment =>
  makeMoment({ id: `m${cue}`, cue, name: `Moment ${cue}`, sends, ...more });

const showOf = (moments: Moment[], guardMs = 0, more: Partial<Show> = {}): Show =>
  show([], (made) => {
    Object.assign(made, more, { moments });
    made.settings.guardMs = guardMs;
  });

function running(moments: Moment[], guardMs = 0, more: Partial<Show> = {}): Engine {
  const engine = createEngine();
  engine.load(showOf(moments, guardMs, more), LINES, 0);
  return engine;
}
const go = (engine: Engine, now: number): string[] => said(engine.order({ do: 'go' }, now));

describe('Go', () => {
  test('sends to every line at once, and the next one stands by', () => {
    const engine = running([
      moment('1', [levels([1, 2], 128), density(0.5), beam(127), key]),
      moment('2', []),
    ]);
    expect(engine.orderState().standingBy).toBe('m1');
    expect(go(engine, 100)).toEqual([
      'slot 1 = 128 (50 %)',
      'slot 2 = 128 (50 %)',
      '/fog/density 0.5',
      'note 28 (E1) ch 6 pressed, force 127',
      'key F4 down',
      'key F4 up',
    ]);
    expect(engine.orderState()).toMatchObject({
      standingBy: 'm2',
      called: { id: 'm1', at: 100 },
      running: [{ id: 'm1', soundsOn: true }],
    });
  });

  test('is ignored a second time within the guard time, nor when nothing stands by', () => {
    const engine = running([moment('1', [key]), moment('2', [key])], 300);
    expect(go(engine, 0)).toHaveLength(2);
    expect(go(engine, 299)).toEqual([]);
    expect(go(engine, 300)).toHaveLength(2);
    expect(go(engine, 1000)).toEqual([]);
    expect(engine.orderState().standingBy).toBeNull();
  });

  test('passes over what is parked', () => {
    const engine = running([moment('1', []), moment('2', [key], { parked: true }), moment('3', [])]);
    go(engine, 0);
    expect(engine.orderState().standingBy).toBe('m3');
  });
});

describe('what a moment sends', () => {
  test('fades from where it is, is half way at half the time, and ends', () => {
    const engine = running([
      moment('1', [levels([5, 5], 200, 4000), density(0.2)]),
      moment('2', [density(0.6, 2000)]),
    ]);
    go(engine, 0);
    expect(until(engine, 2000).at(-1)).toBe('2000: slot 5 = 100 (39 %)');
    go(engine, 2000);
    const half = until(engine, 3000).filter((line) => line.includes('density'));
    expect(Number(half.at(-1)!.split(' ').at(-1))).toBeCloseTo(0.4, 5);
    const all = until(engine, 20_000);
    expect(all.findLast((line) => line.includes('slot'))).toBe('4000: slot 5 = 200 (78 %)');
    expect(all.findLast((line) => line.includes('density'))).toBe('4000: /fog/density 0.6');
    expect(engine.orderState().running).toEqual([]);
    expect(engine.wakeAt()).toBe(Infinity);
  });

  test('a slot that is sent fades as levels do', () => {
    const send = makeSend({ kind: 'slot', lineId: 'rig', slot: 5 });
    const engine = running([moment('1', [makeMomentSend({ kind: 'send', send, value: 200, fadeMs: 1000 })])]);
    expect(go(engine, 0)).toEqual([]);
    expect(until(engine, 500).at(-1)).toContain('slot 5 = 100 ');
    expect(until(engine, 20_000).at(-1)).toContain('slot 5 = 200 ');
  });

  test('leaves later where it has a delay, and a note with a length is released', () => {
    const engine = running([moment('1', [beam(90, 500, 1000)])]);
    expect(go(engine, 0)).toEqual([]);
    expect(until(engine, 5000)).toEqual([
      '1000: note 28 (E1) ch 6 pressed, force 90',
      '1500: note 28 (E1) ch 6 released',
    ]);
    expect(engine.orderState().running).toEqual([]);
  });

  test('begins where somebody else has put the place, and is not disturbed by a restless fader', () => {
    const engine = createEngine();
    const { send } = density(0) as MomentSendOf<'send'>;
    const fader: Mapping = {
      ...mapping('tide', { ...anyNote(), numbers: [40, 40] } as Hear),
      sends: [send],
    };
    engine.load(
      show([fader], (made) => {
        made.moments = [moment('1', [density(1, 1000)])];
      }),
      LINES,
      0,
    );
    // The force 64 of 127 is shaped into 0.504.
    engine.step(PADS, press(40, 64), 0);
    go(engine, 1000);
    const half = until(engine, 1500);
    expect(Number(half.at(-1)!.split(' ').at(-1))).toBeCloseTo((64 / 127 + 1) / 2, 2);
    engine.step(PADS, press(40, 1), 1500);
    expect(until(engine, 3000).at(-1)).toBe('2000: /fog/density 1');
  });

  test('a later moment takes a fade over from where it is, and ends a note that an earlier one left', () => {
    const engine = running([
      moment('1', [levels([5, 5], 200, 4000), beam(127)]),
      moment('2', [levels([5, 5], 0, 1000), beam(0)]),
    ]);
    go(engine, 0);
    until(engine, 2000);
    expect(go(engine, 2000)).toEqual(['note 28 (E1) ch 6 released']);
    expect(until(engine, 2500).at(-1)).toBe('2500: slot 5 = 50 (20 %)');
    expect(until(engine, 20_000).at(-1)).toBe('3000: slot 5 = 0 (0 %)');
    expect(engine.orderState().running).toEqual([]);
  });
});

describe('follows', () => {
  const of = (after: 'start' | 'end'): Moment[] => [
    moment('1', [levels([1, 1], 255, 3000)]),
    moment('2', [key], { follow: { after, ms: 500, beats: null } }),
    moment('3', []),
  ];
  test.each([
    ['start', 500],
    ['end', 3500],
  ] as const)('after the %s of the one before', (after, at) => {
    const engine = running(of(after));
    go(engine, 0);
    expect(engine.orderState()).toMatchObject({ standingBy: 'm2', following: [{ id: 'm2', at }] });
    expect(until(engine, 20_000).filter((line) => line.includes('key'))).toEqual([
      `${at}: key F4 down`,
      `${at}: key F4 up`,
    ]);
    expect(engine.orderState().standingBy).toBe('m3');
  });

  test('is called by hand before its time, once', () => {
    const engine = running(of('start'));
    go(engine, 0);
    expect(go(engine, 200)).toEqual(['key F4 down', 'key F4 up']);
    expect(until(engine, 20_000).filter((line) => line.includes('key'))).toEqual([]);
  });
});

describe('holding', () => {
  test('stands still, and goes on from there', () => {
    const engine = running([moment('1', [levels([5, 5], 200, 2000), beam(90, 2000)])]);
    go(engine, 0);
    until(engine, 1000);
    engine.order({ do: 'hold' }, 1000);
    expect(engine.wakeAt()).toBe(Infinity);
    expect(engine.orderState().heldAt).toBe(1000);
    engine.order({ do: 'resume' }, 6000);
    expect(engine.orderState()).toMatchObject({ heldAt: null, running: [{ since: 5000, endsAt: 7000 }] });
    const rest = until(engine, 20_000);
    expect(rest.at(-1)).toMatch(/^7000: (slot 5 = 200|note 28)/);
    expect(rest).toContain('7000: note 28 (E1) ch 6 released');
  });
});

describe('stopping', () => {
  const engineOf = (): Engine =>
    running([moment('1', [levels([5, 5], 200, 2000), beam(127)]), moment('2', [levels([6, 6], 200, 2000)])]);
  test('lets keys come up that a moment was typing', () => {
    const typing = makeMomentSend({
      kind: 'send',
      send: makeSend({
        kind: 'typing',
        lineId: 'stream',
        steps: [
          { codes: ['ControlLeft', 'KeyS'], pauseMs: 100 },
          { codes: ['Enter'], pauseMs: 0 },
        ],
      }),
      value: 1,
    });
    const engine = running([moment('1', [typing]), moment('2', [])]);
    expect(go(engine, 0)).toEqual(['key Left Ctrl down', 'key S down']);
    expect(until(engine, 110)).toEqual(['30: key S up', '30: key Left Ctrl up', '100: key Enter down']);
    expect(said(engine.order({ do: 'stop', id: 'm1' }, 110))).toEqual(['key Enter up']);
    expect(until(engine, 5000)).toEqual([]);
  });

  test('one ends what it does, and the others go on', () => {
    const engine = engineOf();
    go(engine, 0);
    go(engine, 100);
    expect(said(engine.order({ do: 'stop', id: 'm1' }, 200))).toEqual(['note 28 (E1) ch 6 released']);
    const rest = until(engine, 20_000);
    expect(rest.some((line) => line.includes('slot 5'))).toBe(false);
    expect(rest.at(-1)).toContain('slot 6 = 200');
  });

  test('one leaves its ramp where it is, and the ramps of others go on', () => {
    const fog = (address: string): MomentSend =>
      makeMomentSend({
        kind: 'send',
        send: makeSend({
          kind: 'osc',
          lineId: 'water',
          address,
          args: [{ type: 'f', value: 'shaped' }],
        }),
        value: 1,
        fadeMs: 1000,
      });
    const engine = running([moment('1', [fog('/one')]), moment('2', [fog('/two')])]);
    go(engine, 0);
    go(engine, 0);
    until(engine, 500);
    engine.order({ do: 'stop', id: 'm1' }, 500);
    const rest = until(engine, 20_000);
    expect(rest.some((line) => line.includes('/one'))).toBe(false);
    expect(rest.at(-1)).toContain('/two 1');
  });

  test('all, Panic and safe leave nothing that sounds or comes', () => {
    for (const stop of [
      (engine: Engine): Outs => engine.order({ do: 'stopAll', ms: 0 }, 300),
      (engine: Engine): Outs => engine.panic(300),
      (engine: Engine): Outs => engine.setArmed(false, 300),
    ]) {
      const engine = engineOf();
      go(engine, 0);
      go(engine, 100);
      until(engine, 250);
      expect(said(stop(engine))).toEqual(['note 28 (E1) ch 6 released']);
      expect(until(engine, 20_000)).toEqual([]);
      expect(engine.orderState().running).toEqual([]);
    }
  });
});

describe('what stands by', () => {
  const three = [
    moment('1', [density(0.2)]),
    moment('2', [levels([1, 3], 100)]),
    moment('3', [levels([2, 2], 9)]),
    moment('4', [key]),
  ];
  test('goes back one, and jumps', () => {
    const engine = running(three);
    go(engine, 0);
    go(engine, 1);
    engine.order({ do: 'back' }, 2);
    expect(engine.orderState().standingBy).toBe('m2');
    engine.order({ do: 'standBy', id: 'm4', catchUp: false }, 3);
    expect(engine.orderState().standingBy).toBe('m4');
  });

  test('catches up with what every line would have by now', () => {
    const engine = running(three);
    expect(said(engine.order({ do: 'standBy', id: 'm4', catchUp: true }, 0))).toEqual([
      '/fog/density 0.2',
      'slot 1 = 100 (39 %)',
      'slot 3 = 100 (39 %)',
      'slot 2 = 9 (4 %)',
    ]);
  });

  test('stays through an edit, and after a restart', () => {
    const engine = running(three);
    go(engine, 0);
    engine.loadMoments(showOf(three.toSpliced(0, 1)), 1);
    expect(engine.orderState().standingBy).toBe('m2');
    const again = running(three);
    again.restore({ standingBy: 'm3', called: { id: 'm2', at: -400 }, finished: [] }, 0);
    expect(again.orderState()).toMatchObject({ standingBy: 'm3', called: { id: 'm2', at: -400 } });
    again.restore({ standingBy: AT_THE_END, called: null, finished: [] }, 1);
    expect(again.orderState()).toMatchObject({ standingBy: null, called: { id: 'm2', at: -400 } });
    again.loadMoments(showOf(three), 2);
    expect(again.orderState().standingBy).toBeNull();
    // What is gone can't be gone back to.
    const without = running(three.toSpliced(1, 1));
    without.restore({ standingBy: 'm3', called: { id: 'm2', at: -400 }, finished: [] }, 0);
    expect(without.orderState().called).toBeNull();
  });

  test('is left alone by a try', () => {
    const engine = running(three);
    engine.order({ do: 'try', id: 'm2' }, 0);
    expect(engine.orderState().standingBy).toBe('m1');
    expect(said(engine.order({ do: 'trySend', send: density(0.9) }, 1))).toEqual(['/fog/density 0.9']);
    expect(engine.orderState().running).toEqual([]);
  });
});

describe('at its edges', () => {
  const events = (engine: Engine): string[] =>
    engine.orderEvents().map(({ what, id }) => `${what} ${id ?? ''}`.trim());
  const three = [moment('1', [density(0.2)]), moment('2', [density(0.4)], { parked: true }), moment('3', [])];

  test('what is parked is not caught up', () => {
    const engine = running(three);
    expect(said(engine.order({ do: 'standBy', id: 'm3', catchUp: true }, 0))).toEqual(['/fog/density 0.2']);
    const all = running(three.map((one) => ({ ...one, parked: false })));
    expect(said(all.order({ do: 'standBy', id: 'm3', catchUp: true }, 0))).toEqual(['/fog/density 0.4']);
  });

  test('what is asked of a moment that is not there, or of the end, is not done and not told', () => {
    const engine = running([moment('1', [density(0.2)])]);
    go(engine, 0);
    expect(events(engine)).toEqual(['called m1']);
    for (const act of [
      { do: 'go' },
      { do: 'tryNext' },
      { do: 'try', id: 'gone' },
      { do: 'call', id: 'gone' },
      { do: 'stop', id: 'gone' },
      { do: 'standBy', id: 'gone', catchUp: true },
      { do: 'resume' },
      { do: 'stopAll', ms: 0 },
    ] as const)
      expect(said(engine.order(act, 10_000))).toEqual([]);
    expect(events(engine)).toEqual([]);
    expect(engine.orderState().standingBy).toBeNull();
    engine.order({ do: 'back' }, 10_001);
    expect(engine.orderState().standingBy).toBe('m1');
    engine.order({ do: 'back' }, 10_002);
    expect(engine.orderState().standingBy).toBe('m1');
  });

  test('holding twice holds since the first time; resuming and stopping are told once', () => {
    const engine = running([moment('1', [levels([5, 5], 200, 2000)])]);
    go(engine, 0);
    engine.order({ do: 'hold' }, 100);
    engine.order({ do: 'hold' }, 300);
    expect(engine.orderState().heldAt).toBe(100);
    engine.order({ do: 'resume' }, 500);
    engine.order({ do: 'stopAll', ms: 0 }, 600);
    engine.order({ do: 'stopAll', ms: 0 }, 700);
    expect(events(engine)).toEqual(['called m1', 'held', 'resumed', 'stoppedAll']);
  });

  test('no more than 1,000 events are kept for who asks', () => {
    const engine = running([moment('1', [])]);
    for (let at = 0; at < 1100; at++) engine.order({ do: 'try', id: 'm1' }, at);
    expect(engine.orderEvents()).toHaveLength(1000);
    expect(engine.orderEvents()).toHaveLength(0);
  });

  test('what stands by is the first again where it is taken out, and nothing is at the end', () => {
    const engine = running(three);
    go(engine, 0);
    expect(engine.orderState().standingBy).toBe('m3');
    engine.loadMoments(showOf(three.slice(0, 2)), 1);
    expect(engine.orderState().standingBy).toBe('m1');
    go(engine, 2);
    expect(engine.orderState().standingBy).toBeNull();
    engine.loadMoments(showOf(three), 3);
    expect(engine.orderState().standingBy).toBeNull();
  });

  test('stopping one leaves what follows others', () => {
    const follow = { after: 'start', ms: 1000, beats: null } as const;
    const engine = running([moment('1', []), moment('2', [], { follow }), moment('3', [])]);
    go(engine, 0);
    expect(engine.orderState().following).toEqual([{ id: 'm2', at: 1000 }]);
    engine.order({ do: 'stop', id: 'm3' }, 10);
    expect(engine.orderState().following).toHaveLength(1);
    engine.order({ do: 'stop', id: 'm1' }, 20);
    expect(engine.orderState().following).toEqual([]);
  });

  test('a note that a later moment took over is not released by the end of its first length', () => {
    const engine = running([moment('1', [beam(100, 1000)]), moment('2', [beam(90)])]);
    go(engine, 0);
    expect(go(engine, 500)).toEqual(['note 28 (E1) ch 6 pressed, force 90']);
    expect(until(engine, 5000)).toEqual([]);
    expect(said(engine.order({ do: 'stop', id: 'm2' }, 6000))).toEqual(['note 28 (E1) ch 6 released']);
  });

  test('stopping one releases its own note, and not that of another', () => {
    const other = makeMomentSend({
      kind: 'send',
      send: makeSend({ kind: 'note', lineId: 'laser', channel: 5, number: 29 }),
      value: 100,
    });
    const engine = running([moment('1', [beam(100)]), moment('2', [other])]);
    go(engine, 0);
    go(engine, 1);
    expect(said(engine.order({ do: 'stop', id: 'm1' }, 2))).toEqual(['note 28 (E1) ch 6 released']);
    expect(said(engine.order({ do: 'stopAll', ms: 0 }, 3))).toEqual(['note 29 (F1) ch 6 released']);
  });

  test('calling what was to follow leaves what is to follow others', () => {
    const follow = { after: 'start', ms: 1000, beats: null } as const;
    const engine = running([
      moment('1', []),
      moment('2', [], { follow }),
      moment('3', []),
      moment('4', [], { follow }),
      moment('5', []),
    ]);
    engine.order({ do: 'call', id: 'm1' }, 0);
    engine.order({ do: 'call', id: 'm3' }, 10);
    expect(engine.orderState().following.map(({ id }) => id)).toEqual(['m2', 'm4']);
    engine.order({ do: 'call', id: 'm2' }, 20);
    expect(engine.orderState().following.map(({ id }) => id)).toEqual(['m4']);
  });

  test('going back sends nothing', () => {
    const engine = running([moment('1', [levels([5, 5], 200)]), moment('2', []), moment('3', [])]);
    go(engine, 0);
    go(engine, 1);
    expect(said(engine.order({ do: 'back' }, 2))).toEqual([]);
    expect(engine.orderState().standingBy).toBe('m2');
  });

  test('a moment that is taken out of the show while it runs stops', () => {
    const engine = running([moment('1', [levels([5, 5], 200, 2000), beam(100)]), moment('2', [])]);
    go(engine, 0);
    expect(said(engine.loadMoments(showOf([moment('2', [])]), 100))).toEqual(['note 28 (E1) ch 6 released']);
    expect([engine.orderState().running, until(engine, 20_000)]).toEqual([[], []]);
  });

  test('one that is called again begins anew: what it still had to do is done once', () => {
    const later = makeMomentSend({
      kind: 'send',
      send: makeSend({ kind: 'control', lineId: 'laser', channel: 0, number: 1, delayMs: 1000 }),
      value: 5,
    });
    const engine = running([moment('1', [later])]);
    engine.order({ do: 'try', id: 'm1' }, 0);
    engine.order({ do: 'try', id: 'm1' }, 500);
    expect(until(engine, 5000)).toEqual(['1500: CC 1 ch 1 = 5']);
    expect(engine.orderState().running).toEqual([]);
  });

  test('what is there at once, and what is tapped, has ended when it is sent; what has nothing to send sends nothing', () => {
    const sent = (send: Parameters<typeof makeSend>[0], value: number): MomentSend =>
      makeMomentSend({ kind: 'send', send: makeSend(send), value, fadeMs: 5000 });
    const engine = running([
      moment('1', [sent({ kind: 'program', lineId: 'laser', channel: 0 }, 3), key]),
      moment('2', [
        sent(
          { kind: 'showControl', lineId: 'laser', device: 1, format: 1, command: 'go', cue: '1', list: '' },
          0,
        ),
      ]),
    ]);
    expect(go(engine, 0)).toEqual(['program 3 ch 1', 'key F4 down', 'key F4 up']);
    expect(engine.orderState().running).toEqual([]);
    expect([go(engine, 1), engine.orderState().running]).toEqual([[], []]);
  });

  test('a try ends with Stop all in a time, and what it lit goes out', () => {
    const engine = running([]);
    engine.order({ do: 'trySend', send: levels([5, 5], 200) }, 0);
    engine.order({ do: 'stopAll', ms: 1000 }, 10);
    expect(until(engine, 20_000).at(-1)).toContain('slot 5 = 0');
    expect(engine.levels(LINES.get('rig')!)[4]).toBe(0);
  });
});

describe('callers', () => {
  test('a pad calls at any force; its release never does, nor a press with velocity 0', () => {
    const called = moment('2', [key], {
      callers: [{ message: 'held', lineId: 'pads', channels: [9, 9], numbers: [51, 51], values: 'any' }],
    });
    const engine = running([moment('1', []), called]);
    expect(said(engine.step(PADS, press(51, 3), 0))).toEqual(['key F4 down', 'key F4 up']);
    expect(said(engine.step(PADS, release(51), 1))).toEqual([]);
    expect(engine.orderState().standingBy).toBeNull();
    engine.loadMoments(showOf([moment('1', []), { ...called, callers: [] }]), 2);
    expect(said(engine.step(PADS, press(51), 3))).toEqual([]);
  });

  test('a fader calls once as it passes the middle upwards, and not where it stays there', () => {
    const hear: Hear = {
      message: 'control',
      lineId: 'pads',
      channels: 'any',
      numbers: [7, 7],
      values: 'any',
    };
    const engine = running([moment('1', [key], { callers: [hear] })]);
    const calls = [10, 63, 64, 100, 64, 63, 62, 64].map(
      (value) => engine.step(PADS, control(7, value), 0).count,
    );
    expect(calls).toEqual([0, 0, 2, 0, 0, 0, 0, 2]);
  });
});

/** What the lines have: levels by slot, and the last value of an address, controller, bend and program. */
function statesOf(engine: Engine, act: (take: (outs: Outs) => void) => void): Record<string, unknown> {
  const state: Record<string, unknown> = {};
  act((outs) => {
    for (let at = 0; at < outs.count; at++) {
      const signal = outs.signal[at]!;
      if (signal.kind === 'slot') state[`slot ${signal.slot}`] = signal.level;
      if (signal.kind === 'osc') state[signal.address] = (signal.args[0] as { value: number }).value;
      if (signal.kind === 'controlChange') state[`cc ${signal.number}`] = signal.value;
      if (signal.kind === 'pitchBend') state['bend'] = signal.value;
      if (signal.kind === 'programChange') state['program'] = signal.number;
    }
  });
  void engine;
  return state;
}

const controller = (number: number, value: number, fadeMs: number): MomentSend =>
  makeMomentSend({
    kind: 'send',
    send: makeSend({ kind: 'control', lineId: 'laser', channel: 0, number }),
    value,
    fadeMs,
  });

/** What moments name: a look of a group and a slot, and a file that moves controllers, a bend and a program while it plays a note. */
const NAMED: Partial<Show> = {
  groups: [{ id: 'deck', name: 'Deck', slots: [[2, 4]] }],
  looks: [
    {
      id: 'warm',
      name: 'Warm',
      levels: [
        { groupId: 'deck', level: 90 },
        { slots: [4, 5], level: 7 },
      ],
    },
  ],
  midiFiles: [
    {
      id: 'swell',
      name: 'Swell',
      data: base64Of(
        writeMidiFile(
          [
            {
              name: 'swell',
              events: [
                { tick: 0, signal: { kind: 'controlChange', channel: 0, number: 1, value: 20 } },
                { tick: 100, signal: { kind: 'noteOn', channel: 0, number: 60, value: 90 } },
                { tick: 100, signal: { kind: 'programChange', channel: 0, number: 5, value: 0 } },
                { tick: 200, signal: { kind: 'controlChange', channel: 0, number: 1, value: 99 } },
                { tick: 200, signal: { kind: 'controlChange', channel: 0, number: 64, value: 127 } },
                { tick: 300, signal: { kind: 'pitchBend', channel: 0, number: 0, value: 9000 } },
              ],
            },
          ],
          120,
        ),
      ),
    },
  ],
};

const anySend = fc.oneof(
  fc
    .record({ fadeMs: fc.constantFrom(0, 400), delayMs: fc.constantFrom(0, 300) })
    .map((given) => makeMomentSend({ kind: 'look', lineId: 'rig', lookId: 'warm', ...given })),
  fc
    .record({ times: fc.integer({ min: 1, max: 3 }), delayMs: fc.constantFrom(0, 300) })
    .map((given) =>
      makeMomentSend({ kind: 'file', lineId: 'laser', fileId: 'swell', tracks: 'all', ...given }),
    ),
  fc
    .record({ number: fc.integer({ min: 1, max: 2 }), value: fc.nat(127), fadeMs: fc.constantFrom(0, 600) })
    .map(({ number, value, fadeMs }) => controller(number, value, fadeMs)),
  fc
    .record({
      from: fc.integer({ min: 1, max: 6 }),
      width: fc.nat(3),
      level: fc.nat(255),
      fadeMs: fc.constantFrom(0, 500),
      delayMs: fc.constantFrom(0, 200),
    })
    .map(({ from, width, level, fadeMs, delayMs }) =>
      levels([from, from + width], level, fadeMs, { delayMs }),
    ),
  fc
    .record({ value: fc.integer({ min: 0, max: 10 }), fadeMs: fc.constantFrom(0, 700) })
    .map(({ value, fadeMs }) => density(value / 10, fadeMs)),
  fc.nat(127).map((force) => beam(force, 100)),
);

test('catching up gives every line what playing all the rows above would have, for every show and place', () => {
  fc.assert(
    fc.property(fc.array(fc.array(anySend, { maxLength: 4 }), { minLength: 1, maxLength: 5 }), (rows) => {
      const moments = [...rows.map((sends, at) => moment(String(at + 1), sends)), moment('99', [])];
      const played = running(moments, 0, NAMED);
      const playedState = statesOf(played, (take) => {
        let now = 0;
        for (let row = 0; row < rows.length; row++) {
          take(played.order({ do: 'go' }, now));
          now += 5000;
          while (played.wakeAt() <= now) take(played.wake(played.wakeAt()));
        }
      });
      const jumped = running(moments, 0, NAMED);
      const jumpedState = statesOf(jumped, (take) =>
        take(jumped.order({ do: 'standBy', id: 'm99', catchUp: true }, 0)),
      );
      expect(jumpedState).toEqual(playedState);
    }),
    { numRuns: runs(400) },
  );
});

describe('catching up', () => {
  const rig = [
    moment('1', [levels([1, 2], 100), density(0.2)]),
    moment('2', [levels([2, 3], 200), density(0.7)]),
    moment('3', []),
  ];

  test('takes the time that it is given for levels, and sends the rest at once', () => {
    const engine = running(rig);
    const first = engine.order({ do: 'standBy', id: 'm3', catchUp: true, fadeMs: 1000 }, 0);
    expect(said(first).some((one) => one === 'slot 2 = 200 (78 %)')).toBe(false);
    expect([...engine.levels(3)].slice(0, 3)).toEqual([0, 0, 0]);
    until(engine, 1500);
    expect([...engine.levels(3)].slice(0, 3)).toEqual([100, 200, 200]);
  });

  test('is taken back by a jump back: every slot gets the level that it had, also one that was set by hand', () => {
    const engine = running(rig);
    engine.order({ do: 'trySend', send: levels([3, 3], 33) }, 0);
    go(engine, 1);
    engine.order({ do: 'standBy', id: 'm3', catchUp: true }, 2);
    expect(engine.orderState()).toMatchObject({ standingBy: 'm3', jumpedFrom: 'm2' });
    expect([...engine.levels(3)].slice(0, 3)).toEqual([100, 200, 200]);
    const back = said(engine.order({ do: 'jumpBack' }, 3));
    expect(back).toContain('/fog/density 0.2');
    expect([...engine.levels(3)].slice(0, 3)).toEqual([100, 100, 33]);
    expect(engine.orderState()).toMatchObject({ standingBy: 'm2', jumpedFrom: null });
    // There is nothing to take back a second time.
    expect(said(engine.order({ do: 'jumpBack' }, 4))).toEqual([]);
  });

  test('can’t be taken back any more once something was called', () => {
    const engine = running(rig);
    engine.order({ do: 'standBy', id: 'm2', catchUp: true }, 0);
    go(engine, 1);
    expect(engine.orderState().jumpedFrom).toBeNull();
    expect(said(engine.order({ do: 'jumpBack' }, 2))).toEqual([]);
  });

  test('is not offered any more once the moment that it came from was removed', () => {
    const engine = running(rig);
    go(engine, 0);
    engine.order({ do: 'standBy', id: 'm3', catchUp: true }, 1);
    expect(engine.orderState().jumpedFrom).toBe('m2');
    engine.loadMoments(showOf(rig.filter(({ id }) => id !== 'm2')), 2);
    expect(engine.orderState().jumpedFrom).toBeNull();
  });
});

test('the last three calls are known, the newest first', () => {
  const engine = running(['1', '2', '3', '4'].map((cue) => moment(cue, [])));
  for (const at of [0, 1000, 2000, 3000]) go(engine, at);
  expect(engine.orderState().lastCalls).toEqual([
    { id: 'm4', at: 3000 },
    { id: 'm3', at: 2000 },
    { id: 'm2', at: 1000 },
  ]);
});
