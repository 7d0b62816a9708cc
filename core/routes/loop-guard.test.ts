import { describe, expect, test } from '@jest/globals';
import {
  LASER,
  loaded,
  PADS,
  press,
  release,
  control,
  type Engine,
  type Outs,
} from '../engine.test-helper.js';
import fc from 'fast-check';
import { CHANNEL_KINDS, copySignal, type OscArgument, type Signal } from '../signal.js';
import {
  createRounds,
  createWatch,
  identity,
  RETURN_MS,
  SUSPECT,
  SYSTEM_RETURN_MS,
  type Watch,
} from './loop-guard.js';
import { newRoute } from './words.js';
import type { Route } from '../show/route.js';

const toLaser = { ...newRoute('midi', 'pads', 'laser'), id: 'to-laser' } as Route;
const open = (): Engine => loaded([], (made) => void (made.routes = [toLaser]));

interface Late {
  at: number;
  line: number;
  signal: Signal;
}

/**
 * Runs the engine in its own time. Whoever is at the laser's line passes what it gets on to the pads' line after `roundMs`:
 * a loop that closes outside. @returns how many messages left
 */
function run(
  engine: Engine,
  roundMs: number | null,
  played: Late[],
  until: number,
): { left: number; cutAt: number | null } {
  const due = [...played];
  let left = 0;
  let cutAt: number | null = null;
  for (;;) {
    due.sort((a, b) => a.at - b.at);
    const wakeAt = engine.wakeAt();
    const next = due[0];
    const now = Math.min(next?.at ?? Infinity, wakeAt);
    if (now > until) return { left, cutAt };
    const take = (outs: Outs): void => {
      for (let i = 0; i < outs.count; i++) {
        left++;
        if (roundMs !== null && outs.line[i] === LASER)
          due.push({ at: now + roundMs, line: PADS, signal: copySignal(outs.signal[i]!) });
      }
    };
    if (next && next.at <= wakeAt) {
      due.shift();
      take(engine.step(next.line, next.signal, now));
    } else take(engine.wake(now));
    if (engine.cutRoutes().has('to-laser')) cutAt ??= now;
  }
}

const at = (time: number, signal: Signal): Late => ({ at: time, line: PADS, signal });

describe('a loop that closes outside', () => {
  test.each([0.3, 1, 5, 20, 40])('of %d ms is cut within 0.7 s', (roundMs) => {
    const engine = open();
    const { cutAt, left } = run(engine, roundMs, [at(0, press(36))], 5000);
    expect(cutAt).not.toBeNull();
    expect(cutAt!).toBeLessThan(700);
    expect(left).toBeLessThan(2000);
  });

  test('is cut for controllers and system-exclusive too', () => {
    const sysex: Signal = { kind: 'sysex', bytes: Uint8Array.of(0xf0, 0x7d, 1, 0xf7) };
    for (const signal of [control(21, 64), sysex])
      expect(run(open(), 2, [at(0, signal)], 5000).cutAt).not.toBeNull();
  });

  test('stays cut until it is restored, and then passes again', () => {
    const engine = open();
    run(engine, 2, [at(0, press(36))], 2000);
    expect(engine.step(PADS, press(40), 2001).count).toBe(0);
    engine.openRoute('to-laser', 2001);
    expect(engine.cutRoutes().size).toBe(0);
    expect(engine.step(PADS, press(41), 2002).count).toBe(1);
  });

  test('leaves nothing sounding when it is cut', () => {
    const engine = open();
    let down = 0;
    const due: Late[] = [at(0, press(36))];
    for (let now = 0; now < 2000; now++) {
      const take = (outs: Outs): void => {
        for (let i = 0; i < outs.count; i++) {
          down = outs.signal[i]!.kind === 'noteOn' ? 1 : 0;
          due.push(at(now + 2, copySignal(outs.signal[i]!)));
        }
      };
      for (const late of due.splice(0).filter((one) => one.at <= now || !due.push(one)))
        take(engine.step(late.line, late.signal, now));
      if (engine.wakeAt() <= now) take(engine.wake(now));
    }
    expect([engine.cutRoutes().size, down]).toEqual([1, 0]);
  });
});

describe('what only looks like a loop', () => {
  test('a roll on one pad, always as hard, is not cut, and nothing of it is lost', () => {
    const engine = open();
    // 40 presses a second, as a machine that repeats a note makes them.
    const roll = Array.from({ length: 400 }, (_, n) => [
      at(n * 25, press(36)),
      at(n * 25 + 12, release(36)),
    ]).flat();
    const { cutAt, left } = run(engine, null, roll, 20_000);
    expect([cutAt, left]).toEqual([null, roll.length]);
  });

  test('a clock is not cut', () => {
    const clock: Signal = { kind: 'system', status: 0xf8, data1: 0, data2: 0 };
    // 24 a quarter note at 120 beats a minute (MIDI 1.0): one each 20.833 ms.
    const ticks = Array.from({ length: 480 }, (_, n) => at(n * 20.833, clock));
    expect(run(open(), null, ticks, 20_000)).toEqual({ cutAt: null, left: 480 });
  });

  test('a pad that is played now and then while another is rolled is heard at once', () => {
    const engine = open();
    const roll = Array.from({ length: 200 }, (_, n) => at(n * 25, press(36)));
    const { cutAt, left } = run(
      engine,
      null,
      [...roll, ...Array.from({ length: 10 }, (_, n) => at(n * 500 + 7, press(40)))],
      20_000,
    );
    expect([cutAt, left]).toEqual([null, 210]);
  });

  test('a clock that goes round is cut all the same', () => {
    const clock: Signal = { kind: 'system', status: 0xf8, data1: 0, data2: 0 };
    const ticks = Array.from({ length: 240 }, (_, n) => at(n * 20.833, clock));
    const { cutAt, left } = run(open(), 10, ticks, 5000);
    expect(cutAt).not.toBeNull();
    expect(cutAt!).toBeLessThan(1000);
    expect(left).toBeLessThan(5000);
  });

  test('a fader that is swept to and fro is not cut', () => {
    const sweep = Array.from({ length: 2000 }, (_, n) => at(n * 4, control(21, Math.abs((n % 254) - 127))));
    expect(run(open(), null, sweep, 10_000)).toEqual({ cutAt: null, left: 2000 });
  });
});

describe('what is the same message', () => {
  const note = (kind: 'noteOn' | 'noteOff', channel: number, number: number, value: number): Signal => ({
    kind,
    channel,
    number,
    value,
  });
  const osc = (address: string, ...args: OscArgument[]): Signal => ({ kind: 'osc', address, args });
  const DIFFERENT: Signal[] = [
    note('noteOn', 0, 0, 0),
    note('noteOff', 0, 0, 0),
    note('noteOn', 0, 0, 1),
    note('noteOn', 0, 1, 0),
    note('noteOn', 1, 0, 0),
    { kind: 'pitchBend', channel: 0, number: 0, value: 16_383 },
    { kind: 'system', status: 0xf8, data1: 0, data2: 0 },
    { kind: 'system', status: 0xf1, data1: 0, data2: 0 },
    { kind: 'system', status: 0xf1, data1: 1, data2: 0 },
    { kind: 'system', status: 0xf2, data1: 0, data2: 1 },
    { kind: 'sysex', bytes: Uint8Array.of(0xf0, 1, 0xf7) },
    { kind: 'sysex', bytes: Uint8Array.of(0xf0, 2, 0xf7) },
    osc('/a'),
    osc('/b'),
    osc('/a', { type: 'i', value: 1 }),
    osc('/a', { type: 'f', value: 1 }),
    osc('/a', { type: 'f', value: 1.5 }),
    osc('/a', { type: 's', value: 'x' }),
    osc('/a', { type: 'b', value: Uint8Array.of(1) }),
    osc('/a', { type: 'b', value: Uint8Array.of(2) }),
    osc('/a', { type: 'h', value: 1n }),
    osc('/a', { type: 'T' }),
    osc('/a', { type: 'F' }),
  ];

  test('is known by all that it says', () => {
    expect(new Set(DIFFERENT.map(identity)).size).toBe(DIFFERENT.length);
    expect(DIFFERENT.map((signal) => identity(structuredClone(signal)))).toEqual(DIFFERENT.map(identity));
    expect(Math.min(...DIFFERENT.map(identity))).toBeGreaterThanOrEqual(0);
    // Levels and keys are told when they change, so none can go round for ever.
    expect([
      identity({ kind: 'slot', slot: 1, level: 1 }),
      identity({ kind: 'key', code: 'KeyG', down: true }),
    ]).toEqual([-1, -1]);
  });

  test('of a channel is known by its kind, channel, number and value, and by nothing else', () => {
    const any = fc.record({
      kind: fc.constantFrom(...CHANNEL_KINDS),
      channel: fc.integer({ min: 0, max: 15 }),
      number: fc.integer({ min: 0, max: 127 }),
      value: fc.integer({ min: 0, max: 16_383 }),
    });
    fc.assert(
      fc.property(any, any, fc.constantFrom('kind', 'channel', 'number', 'value'), (one, two, same) => {
        // Alike in all but one field, so that what one field adds can make up for nothing of another.
        const other = { ...one, [same]: two[same] };
        expect(identity(one) === identity(other)).toBe(one[same] === other[same]);
        expect(identity(one) === identity(two)).toBe(JSON.stringify(one) === JSON.stringify(two));
      }),
    );
    /** All messages whose fields are at their ends, or next to them. */
    const ends = CHANNEL_KINDS.flatMap((kind) =>
      [0, 1, 14, 15].flatMap((channel) =>
        [0, 1, 126, 127].flatMap((number) =>
          [0, 1, 127, 128, 16_382, 16_383].map((value): Signal => ({ kind, channel, number, value })),
        ),
      ),
    );
    expect(new Set(ends.map(identity)).size).toBe(ends.length);
  });

  test('has come round once more than it left, if it is back in time', () => {
    const rounds = createRounds();
    const [first, second] = [press(36), press(37)];
    expect(rounds.of(first, 0)).toBe(0);
    rounds.left(first, 0, 10);
    expect([rounds.of(second, 11), rounds.of(first, 10 + RETURN_MS)]).toEqual([0, 1]);
    expect(rounds.tookMs).toBe(RETURN_MS);
    expect(rounds.of(first, 10 + RETURN_MS + 0.1)).toBe(0);
    rounds.left(first, 4, 100);
    expect([rounds.of(first, 103), rounds.tookMs]).toEqual([5, 3]);
  });

  test('of clock has to be back sooner; a level never comes round', () => {
    const rounds = createRounds();
    const clock: Signal = { kind: 'system', status: 0xf8, data1: 0, data2: 0 };
    rounds.left(clock, 0, 0);
    expect([rounds.of(clock, SYSTEM_RETURN_MS), rounds.of(clock, SYSTEM_RETURN_MS + 0.1)]).toEqual([1, 0]);
    const slot: Signal = { kind: 'slot', slot: 1, level: 1 };
    rounds.left(slot, 0, 0);
    expect(rounds.of(slot, 1)).toBe(0);
  });
});

describe('a route that is watched', () => {
  const ask = (): { watch: Watch; askedAt: number } => {
    const watch = createWatch();
    for (let round = 1; round < SUSPECT; round++)
      expect(watch.allows(press(36), round, 5, round * 5)).toBe(true);
    expect(watch.allows(press(36), SUSPECT, 5, SUSPECT * 5)).toBe(false);
    return { watch, askedAt: SUSPECT * 5 };
  };

  test('is asked at the sixth round, and what comes meanwhile is kept as it came', () => {
    const { watch, askedAt } = ask();
    expect([watch.state, watch.decideAt]).toEqual(['asked', askedAt + RETURN_MS + 5 + 40]);
    const other = press(40);
    expect(watch.allows(other, 0, 0, askedAt + 1)).toBe(false);
    expect(watch.kept).toEqual([
      { signal: press(36), rounds: SUSPECT },
      { signal: press(40), rounds: 0 },
    ]);
  });

  test('that took longer to come round is listened to for longer, up to 150 ms', () => {
    for (const [took, listens] of [
      [20, 60],
      [45, 135],
      [60, 150],
    ] as const) {
      const watch = createWatch();
      watch.allows(press(36), SUSPECT, took, 1000);
      expect(watch.decideAt).toBe(1000 + RETURN_MS + 5 + listens);
    }
  });

  test('that is silent is opened once, and cut the second time, unless that is long after', () => {
    const { watch } = ask();
    const first = watch.decideAt;
    expect([watch.decide(first), watch.state, watch.decideAt]).toEqual(['silent', 'open', Infinity]);
    watch.allows(press(36), SUSPECT, 5, first + 1);
    expect([watch.decide(watch.decideAt), watch.state, watch.kept]).toEqual(['loop', 'cut', []]);
    expect(watch.allows(press(50), 0, 0, 5000)).toBe(false);
    expect(watch.kept).toEqual([]);
    watch.restore();
    expect(watch.allows(press(50), 0, 0, 5000)).toBe(true);

    const later = ask().watch;
    later.decide(later.decideAt);
    later.allows(press(36), SUSPECT, 5, 10_000);
    expect(later.decide(later.decideAt)).toBe('silent');
  });

  test('that plays on is trusted for ten seconds, then twice as long', () => {
    const { watch, askedAt } = ask();
    /** A player who goes on as before. */
    const playOn = (from: number): number => {
      for (let now = from + RETURN_MS + 6; now < watch.decideAt; now += 5) watch.allows(press(36), 1, 5, now);
      const at = watch.decideAt;
      expect([watch.decide(at), watch.state]).toEqual(['played on', 'open']);
      return at;
    };
    const first = playOn(askedAt);
    expect(watch.allows(press(36), SUSPECT, 5, first + 9_000)).toBe(true);
    expect(watch.allows(press(36), SUSPECT, 5, first + 10_000)).toBe(false);
    const second = playOn(first + 10_000);
    expect(watch.allows(press(36), SUSPECT, 5, second + 19_000)).toBe(true);
    expect(watch.allows(press(36), SUSPECT, 5, second + 20_000)).toBe(false);
  });

  test('is measured by the last eight messages that came round, and by no others', () => {
    /** Asks a route whose messages came round at these times; a few more come while it is asked. @returns what is decided */
    const decided = (before: readonly number[], fresh: readonly number[], later: number): string => {
      const watch = createWatch();
      const all = [...before.map((at) => [at, 1]), ...fresh.map((at) => [at, 0])].sort(
        (a, b) => a[0]! - b[0]!,
      );
      for (const [at, rounds] of all) watch.allows(press(36), rounds!, 5, at!);
      watch.allows(press(36), SUSPECT, 5, 10_000);
      for (let i = 0; i < later; i++) watch.allows(press(36), 0, 0, 10_000 + RETURN_MS + 10 + i);
      return watch.decide(watch.decideAt);
    };
    // Eight in 35 ms are 0.23 a millisecond: of the 40 ms that are listened, a quarter of them is more than two.
    const fast = Array.from({ length: 7 }, (_, at) => 9965 + at * 5);
    expect([decided(fast, [], 2), decided(fast, [], 3)]).toEqual(['silent', 'played on']);
    const old = Array.from({ length: 20 }, (_, at) => at * 400);
    expect(decided([...old, ...fast], [], 2)).toBe('silent');
    // A player who plays fast does not make the loop look faster than it is.
    const slow = [9000, 9500];
    const played = Array.from({ length: 8 }, (_, at) => 9960 + at * 5);
    expect(decided(slow, played, 1)).toBe('played on');
  });

  test('keeps 512 messages while it is asked, and no more', () => {
    const { watch, askedAt } = ask();
    for (let i = 0; i < 600; i++) watch.allows(press(i % 128), 0, 0, askedAt + 1);
    expect(watch.kept).toHaveLength(512);
  });
});
