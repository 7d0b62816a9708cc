/** With a made-up sound system in place of the native package: which ports there are is the test's to say. */
import { afterEach, describe, expect, test } from '@jest/globals';
import { makeLine } from '@tawny-signal/core/show/line';
import { until } from '../scripts/test-stage.js';
import type { LineDriver } from './drivers/driver.js';
import { openMachineMidi, samePort, type MachineLine } from './drivers/machine-midi.js';
import {
  loadNativeMidi,
  type NativeInput,
  type NativeMidi,
  type NativeOutput,
} from './drivers/native-midi.js';
import { recorded, type Recorded } from './recorded.test-helper.js';

interface Sound {
  native: NativeMidi;
  /** Names of the ports that are plugged in. */
  ports: string[];
  /** Held by another program. */
  held: boolean;
  sent: number[][];
  virtual: string[];
  hear(...bytes: number[]): void;
}

function makeSound(ports: string[]): Sound {
  const listeners = new Set<(seconds: number, bytes: number[]) => void>();
  class Port {
    private on2: ((seconds: number, bytes: number[]) => void) | null = null;
    getPortCount = (): number => sound.ports.length;
    getPortName = (at: number): string => sound.ports[at]!;
    openPort(): void {
      if (sound.held) throw new Error('busy');
      if (this.on2) listeners.add(this.on2);
    }
    openVirtualPort(name: string): void {
      sound.virtual.push(name);
      if (this.on2) listeners.add(this.on2);
    }
    ignoreTypes(): void {
      // all kinds are wanted
    }
    on(_: 'message', listener: (seconds: number, bytes: number[]) => void): void {
      this.on2 = listener;
    }
    sendMessage(bytes: number[]): void {
      sound.sent.push(bytes);
    }
    closePort(): void {
      if (this.on2) listeners.delete(this.on2);
    }
    destroy(): void {
      this.closePort();
    }
  }
  const sound: Sound = {
    native: {
      Input: Port as unknown as new () => NativeInput,
      Output: Port as unknown as new () => NativeOutput,
    },
    ports,
    held: false,
    sent: [],
    virtual: [],
    hear: (...bytes) => {
      for (const listener of listeners) listener(0, bytes);
    },
  };
  return sound;
}

const opened: LineDriver[] = [];
afterEach(() => {
  for (const driver of opened.splice(0)) driver.close();
});
function open(
  load: () => Promise<NativeMidi>,
  kind: MachineLine['kind'] = 'midi-machine',
  platform: NodeJS.Platform = 'linux',
): Recorded & { driver: LineDriver; gone: () => number } {
  const telling = recorded();
  let gone = 0;
  const listener = { ...telling.listener, gone: () => void gone++ };
  const line = makeLine({ id: 'keys', kind, name: 'Tide keys', port: 'Tide keys' }) as MachineLine;
  const driver = openMachineMidi(line, listener, load, platform);
  opened.push(driver);
  return { driver, ...telling, gone: () => gone };
}
const with_ = (sound: Sound) => () => Promise.resolve(sound.native);

test.each([
  ['Tide keys', 'Tide keys', true],
  ['Tide keys:Tide keys MIDI 1 24:0', 'Tide keys:Tide keys MIDI 1', true],
  ['Tide keys:Tide keys MIDI 1 28:0', 'Tide keys:Tide keys MIDI 1 24:0', true],
  ['Tide keys:Tide keys MIDI 1 28:0', 'Tide keys MIDI 1', true],
  ['Tide keys 2', 'Tide keys', false],
])('the port “%s” is the one called “%s”: %s', (name, wanted, same) =>
  expect(samePort(name, wanted)).toBe(same),
);

describe('a MIDI port of this machine', () => {
  test('is heard and sent to', async () => {
    const sound = makeSound(['Other', 'Tide keys:Tide keys 24:0']);
    const { driver, heard, state } = open(with_(sound));
    await until(() => state().state === 'open', 'it is open');
    sound.hear(0x99, 36, 97);
    expect(heard).toEqual([{ kind: 'noteOn', channel: 9, number: 36, value: 97 }]);
    expect(driver.send({ kind: 'controlChange', channel: 1, number: 21, value: 5 })).toEqual(
      Uint8Array.of(0xb1, 21, 5),
    );
    expect(sound.sent).toEqual([[0xb1, 21, 5]]);
  });

  test('that is plugged in late, or into another socket, is found; one that is unplugged is missed', async () => {
    const sound = makeSound(['Other']);
    const { state, gone, heard } = open(with_(sound));
    await until(
      () => state().trouble === 'No port here is called “Tide keys”. There are: Other.',
      'it waits',
    );
    expect(state().nextTryAt).toBeGreaterThan(Date.now() - 1000);
    sound.ports = ['Tide keys:Tide keys 24:0'];
    await until(() => state().state === 'open', 'it is found');
    sound.ports = [];
    await until(() => state().trouble.startsWith('“Tide keys” was unplugged.'), 'it is missed');
    expect(gone()).toBe(1);
    sound.ports = ['Tide keys:Tide keys 32:0'];
    await until(() => state().state === 'open', 'it is found again');
    sound.hear(0x80, 36, 0);
    expect(heard).toHaveLength(1);
  });

  test('that another program holds is said so, and taken when it is let go', async () => {
    const sound = makeSound(['Tide keys']);
    sound.held = true;
    const { state } = open(with_(sound));
    await until(() => state().state === 'trouble', 'it says so');
    expect(state().trouble).toBe(
      'Another program uses “Tide keys”. Close it there; it is tried again automatically.',
    );
    sound.held = false;
    await until(() => state().state === 'open', 'it is taken');
  });
});

describe('a virtual port', () => {
  test('is made in and out under its name', async () => {
    const sound = makeSound([]);
    const { state } = open(with_(sound), 'midi-virtual');
    await until(() => state().state === 'open', 'it is open');
    expect(sound.virtual).toEqual(['Tide keys', 'Tide keys']);
  });

  test('where the system has none, the line says what to use instead', async () => {
    const { state } = open(with_(makeSound([])), 'midi-virtual', 'win32');
    await until(() => state().state === 'trouble', 'it says so');
    expect(state().trouble).toMatch(/^Windows has no virtual MIDI ports of its own\. Install a loopback/);
  });
});

describe('where there is no sound system', () => {
  test('the line says so, and what to do', async () => {
    const broken = {
      Input: class {
        constructor() {
          throw new Error('no /dev/snd/seq');
        }
      },
    } as unknown as NativeMidi;
    const { state } = open(() => Promise.resolve(broken));
    await until(() => state().state === 'trouble', 'it says so');
    expect(state().trouble).toMatch(/no sound system for MIDI.*modprobe snd-seq/);
  });

  test('the real package loads here or says why not, and a line on it is never a fault', async () => {
    const { driver, state } = open(loadNativeMidi);
    await until(() => state().trouble !== 'Looking for this machine’s MIDI ports.', 'it says how it is');
    expect(state().trouble).not.toBe('');
    expect(driver.send({ kind: 'noteOn', channel: 0, number: 60, value: 1 })).toBeNull();
  });
});
