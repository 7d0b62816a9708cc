/** The MIDI ports of the machine that this browser runs on (Web MIDI API), carried to the server. */
import { whyNot } from '../people/me';
import type { CarriedPort, Connection } from './connection';
import { createPadLamps, type PadLamps } from './pad-lamps';

/** `unasked`: the person has not been asked for permission yet. */
export type MidiAccessState = 'unsupported' | 'unasked' | 'asking' | 'refused' | 'open';

export interface BrowserMidi {
  state: MidiAccessState;
  /** True if system-exclusive was allowed too. It needs its own permission. */
  sysex: boolean;
  /** The connected ports. An input and an output with the same name are one port. */
  ports: CarriedPort[];
  /** Names of ports that cannot be opened because another program uses them. */
  held: readonly string[];
}

/** The on-screen pads are a port of every tab, and come first; its keyboard is the second, for those who switch it on. */
const PADS_PORT: CarriedPort = { kind: 'midi-inside', name: 'Pier pads', in: true, out: true };
const KEYS_PORT: CarriedPort = { kind: 'keys-browser', name: 'Keyboard', in: true, out: false };
/** Stands for the keyboard while it is switched off, so that the other ports keep their indexes. */
const NO_KEYS: CarriedPort = { ...KEYS_PORT, name: 'Keyboard, switched off' };
const PADS_INDEX = 0;
const KEYS_INDEX = 1;
const FIRST_INDEX = 2;
const NAMELESS = 'A port without a name';
const HELD_AGAIN_MS = 2000;

export interface WebMidi {
  current(): BrowserMidi;
  subscribe(listener: () => void): () => void;
  /** Asks the browser for permission, which may ask the person. @param sysex true to include system-exclusive */
  allow(sysex?: boolean): Promise<void>;
  /** The lamps and motor faders of the on-screen pads. */
  lamps: PadLamps;
  /** Plays the on-screen pads. */
  playPads(bytes: number[]): void;
  /** Adds the keyboard of this tab to its ports, or removes it. */
  offerKeys(on: boolean): void;
  playKey(bytes: Uint8Array): void;
  /** Offers ports that are no MIDI too, such as sound. @param take bytes that the server sends to one of them */
  carry(ports: readonly CarriedPort[], take: (name: string, bytes: Uint8Array) => void): void;
  /** Something was heard on one of these ports. @param timeStamp when, as `performance.now` counts */
  heardOn(name: string, bytes: Uint8Array, timeStamp: number): void;
  /** Sends bytes from the server to a port of this tab. */
  sendOut(port: number, bytes: Uint8Array): void;
}

export function createWebMidi(connection: () => Connection): WebMidi {
  const listeners = new Set<() => void>();
  const lamps = createPadLamps();
  let access: MIDIAccess | null = null;
  const isHeld = new Set<string>();
  let keys = false;
  let others: readonly CarriedPort[] = [];
  let takeOther: (name: string, bytes: Uint8Array) => void = () => undefined;
  let current: BrowserMidi = {
    state: 'requestMIDIAccess' in navigator ? 'unasked' : 'unsupported',
    sysex: false,
    ports: [],
    held: [],
  };

  function offer(): void {
    connection().offer([PADS_PORT, keys ? KEYS_PORT : NO_KEYS, ...current.ports, ...others]);
  }

  function set(next: BrowserMidi): void {
    current = next;
    offer();
    for (const listener of listeners) listener();
  }

  /** Opens a port. If the system gives it to one program only and another one uses it, tries again until it succeeds. */
  function tryToOpen(port: MIDIPort): void {
    const name = port.name ?? NAMELESS;
    if (port.state !== 'connected' || port.connection === 'open') return;
    void port.open().then(
      () => isHeld.delete(name) && readPorts(),
      () => {
        if (!isHeld.has(name)) {
          isHeld.add(name);
          readPorts();
        }
        setTimeout(() => tryToOpen(port), HELD_AGAIN_MS);
      },
    );
  }

  function readPorts(): void {
    const byName = new Map<string, CarriedPort>();
    const add = (port: MIDIPort): void => {
      if (port.state !== 'connected') return;
      const name = port.name ?? NAMELESS;
      const entry = byName.get(name) ?? { kind: 'midi-browser', name, in: false, out: false };
      byName.set(name, {
        ...entry,
        in: entry.in || port.type === 'input',
        out: entry.out || port.type === 'output',
      });
    };
    access!.inputs.forEach(add);
    access!.outputs.forEach(add);
    const ports = [...byName.values()].map((port) => ({ ...port, held: isHeld.has(port.name) }));
    access!.inputs.forEach(tryToOpen);
    access!.outputs.forEach(tryToOpen);
    access!.inputs.forEach((input) => {
      const name = input.name ?? NAMELESS;
      input.onmidimessage = ({ data, timeStamp }) => {
        const at = current.ports.findIndex((port) => port.name === name);
        if (data && at >= 0) connection().midi(FIRST_INDEX + at, data, timeStamp);
      };
    });
    set({ state: 'open', sysex: access!.sysexEnabled, ports, held: [...isHeld] });
  }

  async function allow(sysex = false): Promise<void> {
    if (current.state === 'unsupported') return;
    if (current.state !== 'open') set({ ...current, state: 'asking' });
    try {
      access = await navigator.requestMIDIAccess({ sysex });
    } catch {
      // Ports that were open stay open, without system-exclusive.
      if (current.state !== 'open') set({ state: 'refused', sysex: false, ports: [], held: [] });
      return;
    }
    access.onstatechange = readPorts;
    readPorts();
  }

  // A permission that was given before is used without asking again.
  void navigator.permissions
    ?.query({ name: 'midi' as PermissionName })
    .then((permission) => {
      if (permission.state === 'granted' && current.state === 'unasked') void allow();
    })
    .catch(() => undefined);

  return {
    current: () => current,
    subscribe(listener) {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    allow,
    playPads: (bytes) => connection().midi(PADS_INDEX, Uint8Array.from(bytes)),
    offerKeys(on) {
      keys = on;
      offer();
    },
    playKey: (bytes) => connection().midi(KEYS_INDEX, bytes),
    lamps,
    carry(ports, take) {
      others = ports;
      takeOther = take;
      offer();
    },
    heardOn(name, bytes, timeStamp) {
      // A browser that only watches offers no ports.
      if (whyNot('operator') !== null) return;
      const at = others.findIndex((port) => port.name === name);
      if (at >= 0) connection().midi(FIRST_INDEX + current.ports.length + at, bytes, timeStamp);
    },
    sendOut(port, bytes) {
      if (port === PADS_INDEX) return lamps.take(bytes);
      const other = others[port - FIRST_INDEX - current.ports.length];
      if (other) return takeOther(other.name, bytes);
      const carried = current.ports[port - FIRST_INDEX];
      // Browsers throw on system-exclusive without permission.
      if (bytes[0] === 0xf0 && !current.sysex) return;
      access?.outputs.forEach((output) => {
        if (carried && output.name === carried.name) output.send(bytes);
      });
    },
  };
}
