import { readFileSync } from 'node:fs';
import { describe, expect, test } from '@jest/globals';
import { usesOfControls } from '@tawny-signal/core/uses/controls';
import { lanternPier } from './lantern-pier.js';
import { newMapping } from '@tawny-signal/core/mapping/defaults';
import { gather } from '@tawny-signal/core/learn/gather';
import type { ChannelSignal, Signal } from '@tawny-signal/core/signal';
import type { Hear } from '@tawny-signal/core/hears';
import { showSchema } from '@tawny-signal/core/show';
import { lineSchema } from '@tawny-signal/core/show/line';
import { mappingSchema } from '@tawny-signal/core/show/mapping';

const demo = lanternPier({ water: 9000, rigSacn: 5570, rigArtnet: 6456, deck: 6460, house: 5104 });
const osc = {
  id: 'x',
  kind: 'osc-udp',
  name: 'Water',
  muted: false,
  host: '127.0.0.1',
  port: 9000,
  listenPort: null,
};
const messagesOf = (result: { success: boolean; error?: { issues: { message: string }[] } }): string[] =>
  result.error?.issues.map((issue) => issue.message) ?? [];

test('the demo is a show', () => {
  expect(showSchema.parse(JSON.parse(JSON.stringify(demo)))).toEqual(demo);
});

test('the pad that the README calls free is used by nothing', () => {
  const layout = demo.layouts.find(({ lineId }) => lineId === 'pier-pads')!;
  const uses = usesOfControls(demo, layout);
  const free = layout.controls.filter(({ id }) => !uses.has(id)).map(({ name }) => name.toLowerCase());
  const readme = readFileSync(new URL('../../README.md', import.meta.url), 'utf8');
  const named = [...readme.matchAll(/([Pp]ad \d+), which nothing uses/g)].map(([, name]) => name!);
  expect(named.length).toBeGreaterThan(0);
  expect(free).toEqual(expect.arrayContaining(named.map((name) => name.toLowerCase())));
});

describe('a line', () => {
  test.each([
    [{ port: 70_000 }, 'A port is a number from 1 to 65535.'],
    [{ host: '300.1.1.1' }, 'An address in numbers has four parts from 0 to 255, like 127.0.0.1.'],
    [{ host: '1.2.3' }, 'An address in numbers has four parts from 0 to 255, like 127.0.0.1.'],
    [{ host: 'front of house' }, 'Write an address like 192.168.1.20, or a host name, without a port.'],
    [{ host: '10.0.0.1:9000' }, 'Write an address like 192.168.1.20, or a host name, without a port.'],
    [{ name: '  ' }, 'Give it a name.'],
  ])('with %j is refused in words', (change, words) => {
    expect(messagesOf(lineSchema.safeParse({ ...osc, ...change }))).toContain(words);
  });

  test.each(['localhost', 'foh-laptop.local', '192.168.1.20', '::1', 'fe80::1'])('may send to %s', (host) => {
    expect(lineSchema.safeParse({ ...osc, host }).success).toBe(true);
  });
});

describe('a mapping', () => {
  const good = demo.mappings[0]!;
  test.each([
    ['fog/density', 'An OSC address begins with /, like /fog/density, and has no spaces.'],
    ['/fog density', 'An OSC address begins with /, like /fog/density, and has no spaces.'],
    ['/fog/*', 'An address that is sent can’t have ? * [ ] # or a comma in it.'],
  ])('that sends to “%s” is refused in words', (address, words) => {
    expect(
      messagesOf(mappingSchema.safeParse({ ...good, sends: [{ ...good.sends[0], address }] })),
    ).toContain(words);
  });

  test('whose range has no width is refused in words', () => {
    const shape = { ...good.shape, in: [64, 64] };
    expect(messagesOf(mappingSchema.safeParse({ ...good, shape }))).toEqual([
      'The two ends must differ, like 0-127.',
    ]);
  });
});

const note = (kind: 'noteOn' | 'noteOff', number: number, channel = 9, value = 97): ChannelSignal => ({
  kind,
  channel,
  number,
  value,
});

/** What a mapping hears after one touch; null where nothing is learned from it. */
const learnFrom = (signal: Signal, lineId: string): Hear | null =>
  gather([{ lineId, signal }], 4)[0]?.options[0]?.hear ?? null;

describe('learning', () => {
  test('a pad is its press, at any force', () => {
    expect(learnFrom(note('noteOn', 36), 'pier-pads')).toEqual({
      message: 'pressed',
      lineId: 'pier-pads',
      channels: [9, 9],
      numbers: [36, 36],
      values: 'any',
    });
  });

  test('is never a release, a pressure or a clock', () => {
    expect(learnFrom(note('noteOff', 36), 'l')).toBeNull();
    expect(learnFrom({ kind: 'polyPressure', channel: 9, number: 36, value: 50 }, 'l')).toBeNull();
    expect(learnFrom({ kind: 'channelPressure', channel: 9, number: 0, value: 50 }, 'l')).toBeNull();
    expect(learnFrom({ kind: 'system', status: 0xf8, data1: 0, data2: 0 }, 'l')).toBeNull();
  });

  test('makes a mapping that hears what was learned', () => {
    const hear = learnFrom({ kind: 'controlChange', channel: 1, number: 21, value: 3 }, 'pier-pads')!;
    expect(mappingSchema.safeParse(newMapping('m', hear, 'water-screen')).success).toBe(true);
  });
});
