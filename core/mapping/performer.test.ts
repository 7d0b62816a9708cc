/** What a mapping lets go when its control is: the rules are our own, so the checks name no source. */
import { describe, expect, test } from '@jest/globals';
import { anyNote, LASER, loaded, made, PADS, press, release, said, until } from '../engine.test-helper.js';
import type { Hear } from '../hears.js';
import { makeSend } from '../sends.js';

const held = anyNote('held');
const beam = (change: object = {}) =>
  makeSend({ kind: 'note', lineId: 'laser', channel: 5, number: 28, ...change });
const density = (change: object = {}) =>
  makeSend({
    kind: 'osc',
    lineId: 'water',
    address: '/fog/density',
    args: [{ type: 'f', value: 'shaped' }],
    ...change,
  });

/** What leaves as a note is pressed and, after this time, let go; then all that is planned. */
function pressed(
  ms: number,
  mapping: Parameters<typeof made>[0],
): { down: string[]; up: string[]; later: string[] } {
  const engine = loaded([made({ hear: held, ...mapping })]);
  const down = said(engine.step(PADS, press(36, 127), 0));
  const before = ms > 0 ? until(engine, ms - 1) : [];
  const up = said(engine.step(PADS, release(36), ms));
  return { down, up, later: [...before, ...until(engine, 10_000)] };
}

describe('a control that is let go', () => {
  test('releases the note that it held, and sends the low end to what has no release', () => {
    const { down, up } = pressed(100, { sends: [beam(), density()], shape: { out: [0, 1] } });
    expect(down).toEqual(['note 28 (E1) ch 6 pressed, force 1', '/fog/density 1']);
    expect(up).toEqual(['note 28 (E1) ch 6 released', '/fog/density 0']);
  });

  test('sends no low end where nothing but notes was sent, nor where each press is a step of its own', () => {
    expect(pressed(100, { sends: [beam()] }).up).toEqual(['note 28 (E1) ch 6 released']);
    const steps = { each: 'step', values: [3, 7] } as never;
    expect(pressed(100, { sends: [density()], shape: steps }).up).toEqual([]);
  });

  test('leaves a note with a length to its end', () => {
    const { up, later } = pressed(100, { sends: [beam({ lengthMs: 400 })] });
    expect([up, later]).toEqual([[], ['400: note 28 (E1) ch 6 released']]);
  });

  test('releases a delayed note after the same delay', () => {
    const { down, up, later } = pressed(100, { sends: [beam({ delayMs: 250 })] });
    expect([down, up]).toEqual([[], []]);
    expect(later).toEqual(['250: note 28 (E1) ch 6 pressed, force 127', '350: note 28 (E1) ch 6 released']);
  });

  test('glides back to the low end where all that it sends can glide', () => {
    const { later } = pressed(100, { sends: [density()], shape: { out: [0, 1], glideMs: 100 } });
    const values = later.map((line) => Number(line.split(' ').at(-1)));
    expect(values.at(-1)).toBe(0);
    expect(values.length).toBeGreaterThan(3);
    expect(values.every((value, at) => at === 0 || value < values[at - 1]!)).toBe(true);
  });

  test('goes to the low end at once where a note is among what it sends, and the next press begins there', () => {
    const { up, later } = pressed(100, { sends: [beam(), density()], shape: { out: [0, 1], glideMs: 100 } });
    expect([up, later]).toEqual([['note 28 (E1) ch 6 released', '/fog/density 0'], []]);
  });
});

describe('a line that goes', () => {
  test('releases what every other mapping holds after one was changed', () => {
    const row = (id: string, number: number) =>
      made({ id, hear: { ...held, numbers: [number, number] } as Hear, sends: [beam({ number })] });
    const engine = loaded([row('a', 36), row('b', 37), row('c', 38)]);
    for (const number of [36, 37, 38]) engine.step(PADS, press(number), 0);
    const changed = { ...row('b', 37), sends: [beam({ number: 50 })] };
    expect(said(engine.replace(changed, 1, 1))).toEqual(['note 37 (C#2) ch 6 released']);
    engine.step(PADS, press(37, 80), 2);
    expect(said(engine.lineGone(LASER, 3))).toEqual([]);
    expect(said(engine.lineGone(PADS, 4))).toEqual([
      'note 36 (C2) ch 6 released',
      'note 38 (D2) ch 6 released',
      'note 50 (D3) ch 6 released',
    ]);
  });
});
