/** The index of mappings: who hears which signal. Patterns as OSC 1.0 has them ("OSC Message Dispatching and Pattern Matching"). */
import { beforeEach, describe, expect, test } from '@jest/globals';
import type { Signal } from '../signal.js';
import { makeHear, type Hear } from '../hears.js';
import { compileMapping, type CompiledMapping } from './compiled.js';
import { newMapping } from './defaults.js';
import { createIndex, type MappingIndex } from './lookup.js';

const LINE = 2;
let index: MappingIndex;
let made: Map<string, CompiledMapping>;
beforeEach(() => {
  index = createIndex();
  made = new Map();
});

function add(id: string, order: number, given: Parameters<typeof makeHear>[0], line = LINE): void {
  const mapping = compileMapping(
    newMapping(id, makeHear(given), null),
    order,
    { inLine: line, outs: [{ line: 0, muted: false }] },
    1,
  );
  made.set(id, mapping);
  index.add(mapping);
}
const remove = (id: string): void => index.remove(made.get(id)!);
const ids = (list: readonly CompiledMapping[]): string[] => list.map(({ source }) => source.id);
const found = (signal: Signal, line = LINE): string[] => ids(index.find(line, signal));
const note = (channel: number, number: number): Signal => ({ kind: 'noteOn', channel, number, value: 1 });
const of = { lineId: 'l', channels: 'any', numbers: 'any', values: 'any' } as const;

describe('notes and controllers', () => {
  test('lead to those that want just them and to those that want any, in the order of the sheet', () => {
    add('c', 2, { ...of, message: 'pressed', channels: [1, 1], numbers: [60, 60] });
    add('b', 1, { ...of, message: 'pressed' });
    add('d', 3, { ...of, message: 'held', channels: [1, 2] });
    add('a', 0, { ...of, message: 'pressed', numbers: [60, 61] });
    expect(found(note(1, 60))).toEqual(['a', 'b', 'c', 'd']);
    expect(found(note(1, 61))).toEqual(['a', 'b', 'd']);
    expect(found(note(3, 60))).toEqual(['a', 'b']);
    expect(found(note(2, 5))).toEqual(['b', 'd']);
    expect(found(note(15, 127))).toEqual(['b']);
    expect(found({ kind: 'noteOff', channel: 1, number: 60, value: 0 })).toEqual(['d']);
    expect(found({ kind: 'controlChange', channel: 1, number: 60, value: 0 })).toEqual([]);
    expect(found(note(1, 60), LINE + 1)).toEqual([]);
  });

  test('are forgotten where a mapping is taken out, and the others stay', () => {
    add('any', 0, { ...of, message: 'pressed' });
    add('one', 1, { ...of, message: 'pressed', channels: { of: [0, 9] }, numbers: [36, 36] });
    add('too', 2, { ...of, message: 'pressed' });
    expect(found(note(9, 36))).toEqual(['any', 'one', 'too']);
    remove('any');
    expect([found(note(9, 36)), found(note(0, 36)), found(note(1, 36))]).toEqual([
      ['one', 'too'],
      ['one', 'too'],
      ['too'],
    ]);
    remove('one');
    remove('too');
    expect(found(note(9, 36))).toEqual([]);
  });

  test('of a line that is not there are nobody’s', () => {
    add('lost', 0, { ...of, message: 'pressed' }, -1);
    expect(found(note(0, 0), -1)).toEqual([]);
  });
});

describe('OSC', () => {
  const osc = (address: string): Signal => ({ kind: 'osc', address, args: [] });
  const hear = (address: string): Hear => makeHear({ message: 'osc', lineId: 'l', address });

  test('leads to the address itself and to patterns that match it, in the order of the sheet', () => {
    add('c', 2, hear('/fog/*'));
    add('b', 1, hear('/fog/1'));
    add('a', 0, hear('/fog/?'));
    add('d', 3, hear('/fog/*'));
    expect(found(osc('/fog/1'))).toEqual(['a', 'b', 'c', 'd']);
    expect(found(osc('/fog/12'))).toEqual(['c', 'd']);
    expect(found(osc('/sky'))).toEqual([]);
    expect(found(osc('/fog/1'), LINE + 1)).toEqual([]);
  });

  test('that is itself a pattern leads to every address that it matches, and anew once there are others', () => {
    add('b', 1, hear('/fog/2'));
    add('a', 0, hear('/fog/1'));
    add('sky', 2, hear('/sky'));
    expect(found(osc('/fog/*'))).toEqual(['a', 'b']);
    expect(found(osc('/fog/*'))).toEqual(['a', 'b']);
    add('late', 3, hear('/fog/3'));
    expect(found(osc('/fog/*'))).toEqual(['a', 'b', 'late']);
    remove('a');
    expect(found(osc('/fog/*'))).toEqual(['b', 'late']);
  });

  test('patterns without end are not kept without end', () => {
    add('a', 0, hear('/fog/1'));
    for (let at = 0; at < 300; at++) expect(found(osc(`/{fog,x${at}}/1`))).toEqual(['a']);
  });
});

describe('slots and keys', () => {
  test('lead to those that want them', () => {
    add('range', 1, { message: 'slot', lineId: 'l', slots: [5, 7], values: 'any' });
    add('any', 0, { message: 'slot', lineId: 'l', slots: 'any', values: 'any' });
    const slot = (number: number): string[] => found({ kind: 'slot', slot: number, level: 1 });
    expect([slot(4), slot(5), slot(7), slot(8), slot(1), slot(512)]).toEqual([
      ['any'],
      ['any', 'range'],
      ['any', 'range'],
      ['any'],
      ['any'],
      ['any'],
    ]);
    expect(found({ kind: 'slot', slot: 5, level: 1 }, LINE + 1)).toEqual([]);
    add('key', 2, { message: 'keyPressed', lineId: 'l', code: 'KeyG' });
    add('held', 1, { message: 'keyHeld', lineId: 'l', code: 'KeyG' });
    expect(found({ kind: 'key', code: 'KeyG', down: true })).toEqual(['held', 'key']);
    expect(found({ kind: 'key', code: 'KeyH', down: true })).toEqual([]);
    remove('held');
    remove('range');
    expect(found({ kind: 'key', code: 'KeyG', down: false })).toEqual(['key']);
    expect(slot(5)).toEqual(['any']);
    expect(found({ kind: 'key', code: 'KeyG', down: true }, LINE + 1)).toEqual([]);
  });
});

describe('what several controllers say together', () => {
  test('leads to those that hear the pair or the parameter', () => {
    expect(index.assembles(LINE)).toBe(false);
    add('pair', 0, { ...of, message: 'control14', channels: [1, 1], numbers: [7, 8] });
    add('any', 1, { ...of, message: 'control14' });
    expect(index.assembles(LINE)).toBe(true);
    expect(index.assembles(LINE + 1)).toBe(false);
    const pair = (channel: number, number: number): string[] => ids(index.findPair(LINE, channel, number));
    expect([pair(1, 7), pair(1, 8), pair(1, 9), pair(0, 7), pair(0, 0), pair(15, 31)]).toEqual([
      ['pair', 'any'],
      ['pair', 'any'],
      ['any'],
      ['any'],
      ['any'],
      ['any'],
    ]);
    expect(index.findPair(LINE + 1, 1, 7)).toEqual([]);
  });

  test('parameters are told apart by their channel, number and sort', () => {
    add('rpn', 0, {
      message: 'parameter',
      lineId: 'l',
      channels: [0, 1],
      registered: true,
      parameter: 5,
      values: 'any',
    });
    add('nrpn', 1, {
      message: 'parameter',
      lineId: 'l',
      channels: [0, 0],
      registered: false,
      parameter: 5,
      values: 'any',
    });
    const parameter = (channel: number, registered: boolean, number: number): string[] =>
      ids(index.findParameter(LINE, channel, registered, number));
    expect(parameter(0, true, 5)).toEqual(['rpn']);
    expect(parameter(1, true, 5)).toEqual(['rpn']);
    expect(parameter(0, false, 5)).toEqual(['nrpn']);
    expect(parameter(1, false, 5)).toEqual([]);
    expect(parameter(0, true, 6)).toEqual([]);
    expect(parameter(2, true, 5)).toEqual([]);
    expect(index.findParameter(LINE + 1, 0, true, 5)).toEqual([]);
  });
});

describe('system-exclusive', () => {
  const sysex = (...bytes: number[]): Signal => ({
    kind: 'sysex',
    bytes: Uint8Array.from([0xf0, ...bytes, 0xf7]),
  });

  test('leads to templates of its length that begin alike, in the order of the sheet', () => {
    add('c', 2, { message: 'sysex', lineId: 'l', template: '7D 01 vv' });
    add('b', 1, { message: 'sysex', lineId: 'l', template: '7D vv vv' });
    add('a', 0, { message: 'sysex', lineId: 'l', template: '7D 01 xx' });
    add('other', 3, { message: 'sysex', lineId: 'l', template: '7D 02 vv' });
    add('long', 4, { message: 'sysex', lineId: 'l', template: '7D 01 vv vv' });
    expect(found(sysex(0x7d, 1, 9))).toEqual(['a', 'b', 'c']);
    expect(found(sysex(0x7d, 2, 9))).toEqual(['b', 'other']);
    expect(found(sysex(0x7d, 1, 9, 9))).toEqual(['long']);
    expect(found(sysex(0x7e, 1, 9))).toEqual([]);
    remove('a');
    expect(found(sysex(0x7d, 1, 9))).toEqual(['b', 'c']);
    expect(found(sysex(0x7d, 1, 9), LINE + 1)).toEqual([]);
  });

  // MIDI show control 1.0 (from memory): F0 7F <device> 02 <format> <command> <cue> F7.
  test('of show control leads to those that hear its command with its cue, or with any', () => {
    const hear = (cue: string, command: 'go' | 'stop' = 'go'): Hear =>
      makeHear({ message: 'showControl', lineId: 'l', device: null, command, cue, list: '' });
    add('four', 1, hear('4'));
    add('any', 0, hear(''));
    add('stop', 2, hear('4', 'stop'));
    const go = (...cue: number[]): string[] => found(sysex(0x7f, 0, 2, 1, 1, ...cue));
    expect([go(0x34), go(0x35), go()]).toEqual([['any', 'four'], ['any'], ['any']]);
    expect(found(sysex(0x7f, 0, 2, 1, 2, 0x34))).toEqual(['stop']);
    expect(found(sysex(0x7d, 0, 2, 1, 1, 0x34))).toEqual([]);
  });
});
