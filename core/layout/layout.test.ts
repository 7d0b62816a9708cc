import { describe, expect, test } from '@jest/globals';
import { anyNote } from '../engine.test-helper.js';
import { gather, type LearnControl } from '../learn/gather.js';
import type { Layout, LayoutControl } from '../show/layout.js';
import type { Signal } from '../signal.js';
import type { Hear } from '../hears.js';
import { controlName, senderControl } from './control-name.js';
import { controlFromTouch, layoutControlOf } from './layout.js';

const touch = (...signals: Signal[]): LearnControl =>
  gather(
    signals.map((signal) => ({ lineId: 'pads', signal })),
    4,
  )[0]!;
const pad = (number: number): LearnControl => touch({ kind: 'noteOn', channel: 9, number, value: 80 });
const fader = (number: number): LearnControl =>
  touch(...[3, 9, 20].map((value): Signal => ({ kind: 'controlChange', channel: 1, number, value })));

function learned(...touches: LearnControl[]): LayoutControl[] {
  return touches.reduce<LayoutControl[]>((controls, one, at) => {
    const control = controlFromTouch(controls, one, `c${at}`);
    return control ? [...controls, control] : controls;
  }, []);
}

describe('a layout that is learned by touching', () => {
  test('has each control once, named and placed in the order in which it was touched', () => {
    const controls = learned(pad(36), pad(37), fader(21), pad(36), fader(22));
    expect(controls.map(({ name, x, y, height }) => [name, x, y, height])).toEqual([
      ['Pad 1', 0, 0, 1],
      ['Pad 2', 1, 0, 1],
      ['Fader 1', 0, 1, 3],
      ['Fader 2', 1, 1, 3],
    ]);
  });

  test('begins a new row after eight, and never lays one control over another', () => {
    const controls = learned(...Array.from({ length: 20 }, (_, at) => pad(36 + at)), fader(1), pad(80));
    const places = controls.flatMap(({ x, y, height }) =>
      Array.from({ length: height }, (_, down) => `${x} ${y + down}`),
    );
    expect(new Set(places).size).toBe(places.length);
    expect(controls[8]).toMatchObject({ x: 0, y: 1 });
  });

  test('knows a button from a fader', () => {
    const button = touch(
      { kind: 'controlChange', channel: 0, number: 50, value: 127 },
      { kind: 'controlChange', channel: 0, number: 50, value: 0 },
    );
    expect(learned(button)[0]).toMatchObject({ shape: 'button', name: 'Button 1' });
  });
});

describe('a layout in use', () => {
  const layout: Layout = {
    id: 'l',
    name: 'Small pads',
    lineId: 'pads',
    controls: learned(pad(36), pad(37), fader(21)),
  };

  test('names what a mapping hears', () => {
    const hear = {
      ...anyNote(),
      channels: [9, 9] as [number, number],
      numbers: [37, 37] as [number, number],
    };
    expect(layoutControlOf([layout], hear)?.name).toBe('Pad 2');
    expect(layoutControlOf([layout], { ...hear, lineId: 'score' })).toBeNull();
    expect(layoutControlOf([layout], anyNote())).toBeNull();
  });
});

describe('one name for one control', () => {
  const layout: Layout = {
    id: 'l',
    name: 'Small pads',
    lineId: 'pads',
    controls: learned(pad(36), fader(21)),
  };

  test('is its name in the layout, for what hears it and for what it sends; else it is written', () => {
    const hear = { ...anyNote(), channels: [9, 9], numbers: [36, 36] } as Hear;
    expect(controlName([layout], hear)).toBe('Pad 1');
    expect(controlName([layout], { ...hear, numbers: [49, 49] } as Hear)).toBe('note 49 ch 10');
    expect(controlName([], { ...hear, message: 'held' } as Hear)).toBe('note 36 ch 10');
    const release: Signal = { kind: 'noteOff', channel: 9, number: 36, value: 0 };
    expect(senderControl([layout], 'pads', release)).toBe('Pad 1');
    expect(senderControl([layout], 'score', release)).toBeNull();
    expect(senderControl([layout], 'pads', { ...release, channel: 8 })).toBeNull();
  });
});
