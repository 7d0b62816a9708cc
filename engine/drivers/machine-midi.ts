/**
 * A MIDI port of the machine that the server runs on, or a virtual one that other programs on it see. A port is known by
 * its name: whenever one of that name appears, in whatever socket, it is opened.
 */
import { encodeSignal } from '@tawny-signal/core/bytes';
import { createMidiParser } from '@tawny-signal/core/midi/parser';
import { isMidi } from '@tawny-signal/core/signal';
import { inSlices } from '../intake.js';
import { OPEN, trouble, waiting, type LineDriver, type LineListener, type LineOf } from './driver.js';
import {
  loadNativeMidi,
  noSoundSystem,
  NO_VIRTUAL_PORTS,
  type NativeInput,
  type NativeMidi,
  type NativeOutput,
} from './native-midi.js';
import { createTimers } from './retry.js';

export type MachineLine = LineOf<'midi-machine' | 'midi-virtual'>;

const LOOK_MS = 1000;
/** The time between two searches for a sound system, which rarely appears by itself. It grows. */
const WAITS_MS = [2000, 10_000, 60_000];

/** Ports are numbered by the system (`Keys:Keys MIDI 1 24:0`); the number changes with the socket. */
const plainName = (name: string): string => name.replace(/\s+\d+:\d+$/, '').trim();

export const samePort = (name: string, wanted: string): boolean =>
  name === wanted || plainName(name) === plainName(wanted) || plainName(name).split(':').at(-1) === wanted;

function findPort(ports: NativeInput | NativeOutput, wanted: string): number {
  for (let at = 0; at < ports.getPortCount(); at++) if (samePort(ports.getPortName(at), wanted)) return at;
  return -1;
}

function namesOf(ports: NativeInput | NativeOutput): string[] {
  return Array.from({ length: ports.getPortCount() }, (_, at) => plainName(ports.getPortName(at)));
}

export function openMachineMidi(
  line: MachineLine,
  listener: LineListener,
  load: () => Promise<NativeMidi> = loadNativeMidi,
  platform: NodeJS.Platform = process.platform,
): LineDriver {
  const timers = createTimers();
  const parser = createMidiParser(
    {
      message: (signal, bytes) => listener.heard(signal, bytes),
      bad: (reason, bytes) => listener.bad(`Not MIDI: ${reason}.`, bytes),
    },
    line.sysexKb * 1024,
  );
  let input: NativeInput | null = null;
  let output: NativeOutput | null = null;
  let openedIn = false;
  let openedOut = false;
  let closed = false;
  let seen = false;

  function drop(): void {
    for (const port of [input, output]) {
      try {
        port?.closePort();
        port?.destroy();
      } catch {
        continue; // the system took it away already
      }
    }
    input = output = null;
    openedIn = openedOut = false;
    parser.reset();
  }

  function make(native: NativeMidi): void {
    input = new native.Input();
    output = new native.Output();
    input.ignoreTypes(false, false, false);
    input.on('message', (_, given) => {
      const bytes = Uint8Array.from(given);
      listener.take(
        inSlices(bytes, (part) => parser.feed(part)),
        bytes.length,
      );
    });
  }

  function begin(native: NativeMidi, tries: number): void {
    if (closed) return;
    try {
      make(native);
    } catch (error) {
      drop();
      const wait = WAITS_MS[Math.min(tries, WAITS_MS.length - 1)]!;
      listener.state(trouble(noSoundSystem(platform, String(error)), wait));
      timers.later(wait, () => begin(native, tries + 1));
      return;
    }
    if (line.kind === 'midi-virtual') openVirtual();
    else look(native);
  }

  function openVirtual(): void {
    if (platform === 'win32') return listener.state(trouble(NO_VIRTUAL_PORTS));
    input!.openVirtualPort(line.port);
    output!.openVirtualPort(line.port);
    openedIn = openedOut = true;
    listener.state(OPEN);
  }

  /** Opens ports that appeared, and closes those that are gone. */
  function look(native: NativeMidi): void {
    if (closed) return;
    const inAt = findPort(input!, line.port);
    const outAt = findPort(output!, line.port);
    if ((openedIn && inAt < 0) || (openedOut && outAt < 0)) {
      drop();
      listener.gone();
      make(native);
    }
    try {
      if (!openedIn && inAt >= 0) {
        input!.openPort(inAt);
        openedIn = true;
      }
      if (!openedOut && outAt >= 0) {
        output!.openPort(outAt);
        openedOut = true;
      }
      if (openedIn || openedOut) {
        seen = true;
        listener.state({
          ...OPEN,
          sides: { in: openedIn ? 'open' : 'none', out: openedOut ? 'open' : 'none' },
        });
      } else listener.state(waiting(absent(), LOOK_MS));
    } catch {
      listener.state(
        trouble(
          `Another program uses “${line.port}”. Close it there; it is tried again automatically.`,
          LOOK_MS,
        ),
      );
    }
    timers.later(LOOK_MS, () => look(native));
  }

  function absent(): string {
    const there = [...new Set([...namesOf(input!), ...namesOf(output!)])];
    const what = seen ? `“${line.port}” was unplugged.` : `No port here is called “${line.port}”.`;
    return there.length === 0 ? `${what} There are none.` : `${what} There are: ${there.join(', ')}.`;
  }

  listener.state(waiting('Looking for this machine’s MIDI ports.'));
  void load().then(
    (native) => begin(native, 0),
    (error: Error) => !closed && listener.state(trouble(error.message)),
  );

  return {
    send(signal) {
      if (!openedOut || !isMidi(signal)) return null;
      const bytes = encodeSignal(signal);
      try {
        output!.sendMessage([...bytes]);
      } catch {
        return null; // unplugged this moment: the next look says so
      }
      return bytes;
    },
    close() {
      closed = true;
      timers.stop();
      drop();
    },
  };
}
