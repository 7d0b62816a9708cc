/** Without a source: a modifier that two combinations share comes up with the last of them (common practice of keyboards). */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { loaded, made, PADS, press, release, STREAM, type Engine, type Outs } from '../engine.test-helper.js';
import { makeSend, type Send } from '../sends.js';

/** Pad 36 holds Ctrl+Shift+S, 37 Ctrl+A, 38 Ctrl+S, 39 A; a press of 40 types Ctrl+A once. */
const CHORDS: Record<number, string[]> = {
  36: ['ControlLeft', 'ShiftLeft', 'KeyS'],
  37: ['ControlLeft', 'KeyA'],
  38: ['ControlLeft', 'KeyS'],
  39: ['KeyA'],
};
const chord = (keys: readonly string[], more: object = {}): Send =>
  makeSend({ kind: 'key', lineId: 'stream', with: keys.slice(0, -1), code: keys.at(-1)!, ...more } as never);

function desk(): { engine: Engine; down: Set<string>; give(outs: Outs): void } {
  const down = new Set<string>();
  const mappings = Object.entries(CHORDS).map(([pad, keys]) =>
    made({
      id: `pad ${pad}`,
      hear: { message: 'held', channels: 'any', numbers: [Number(pad), Number(pad)] },
      sends: [chord(keys)],
    }),
  );
  const typed = made({
    id: 'pad 40',
    hear: { message: 'pressed', channels: 'any', numbers: [40, 40] },
    sends: [chord(['ControlLeft', 'KeyA'], { tap: true, tapMs: 20 })],
  });
  return {
    engine: loaded([...mappings, typed]),
    down,
    give(outs) {
      for (let at = 0; at < outs.count; at++) {
        const signal = outs.signal[at]!;
        if (signal.kind !== 'key' || outs.line[at] !== STREAM) continue;
        if (signal.down) down.add(signal.code);
        else down.delete(signal.code);
      }
    },
  };
}

describe('a key that several hold', () => {
  test('stays down until the last one lets go', () => {
    const { engine, down, give } = desk();
    give(engine.step(PADS, press(36), 0));
    give(engine.step(PADS, press(37), 10));
    give(engine.step(PADS, release(36), 20));
    expect([...down].sort()).toEqual(['ControlLeft', 'KeyA']);
    give(engine.step(PADS, release(37), 30));
    expect([...down]).toEqual([]);
  });

  test('is not let go by one that types it meanwhile', () => {
    const { engine, down, give } = desk();
    give(engine.step(PADS, press(36), 0));
    give(engine.step(PADS, press(40), 10));
    give(engine.wake(40));
    expect([...down].sort()).toEqual(['ControlLeft', 'KeyS', 'ShiftLeft']);
  });

  test.each(['Panic', 'safe'])('comes up at %s', (how) => {
    const { engine, down, give } = desk();
    for (const pad of [36, 37, 38]) give(engine.step(PADS, press(pad), 0));
    give(how === 'Panic' ? engine.panic(10) : engine.setArmed(false, 10));
    expect([...down]).toEqual([]);
  });

  test('whatever is pressed and let go: what is down is what somebody holds', () => {
    const acts = fc.array(fc.tuple(fc.constantFrom(36, 37, 38, 39), fc.boolean()), { maxLength: 30 });
    fc.assert(
      fc.property(acts, (list) => {
        const { engine, down, give } = desk();
        const held = new Set<number>();
        list.forEach(([pad, pressed], at) => {
          give(engine.step(PADS, pressed ? press(pad) : release(pad), at));
          if (pressed) held.add(pad);
          else held.delete(pad);
          expect([...down].sort()).toEqual([...new Set([...held].flatMap((one) => CHORDS[one]!))].sort());
        });
      }),
    );
  });
});
