/** The MIDI ports of the machine that this browser runs on (Web MIDI API), carried to the server. */
import type { CarriedPort, Connection } from './connection';

/** `unasked`: the person has to allow it first. */
export type MidiAccessState = 'unsupported' | 'unasked' | 'asking' | 'refused' | 'open';

export interface BrowserMidi {
  state: MidiAccessState;
  /** The ports that are plugged in now, in and out of one name together. */
  ports: CarriedPort[];
}

/** The on-screen pads are a port of every tab, and come first. */
export const PADS_PORT: CarriedPort = { kind: 'midi-inside', name: 'Pier pads', in: true, out: true };
const PADS_INDEX = 0;

export interface WebMidi {
  current(): BrowserMidi;
  subscribe(listener: () => void): () => void;
  /** Asks the browser, which may ask the person. */
  allow(): Promise<void>;
  /** Plays the on-screen pads. */
  playPads(bytes: number[]): void;
  /** What the server sends to a port of this tab. */
  sendOut(port: number, bytes: Uint8Array): void;
}

export function createWebMidi(connection: () => Connection): WebMidi {
  const listeners = new Set<() => void>();
  let access: MIDIAccess | null = null;
  let current: BrowserMidi = {
    state: 'requestMIDIAccess' in navigator ? 'unasked' : 'unsupported',
    ports: [],
  };

  function set(next: BrowserMidi): void {
    current = next;
    connection().offer([PADS_PORT, ...next.ports]);
    for (const listener of listeners) listener();
  }

  function readPorts(): void {
    const byName = new Map<string, CarriedPort>();
    const add = (port: MIDIPort): void => {
      if (port.state !== 'connected') return;
      const name = port.name ?? 'A port without a name';
      const entry = byName.get(name) ?? { kind: 'midi-browser', name, in: false, out: false };
      byName.set(name, {
        ...entry,
        in: entry.in || port.type === 'input',
        out: entry.out || port.type === 'output',
      });
    };
    access!.inputs.forEach(add);
    access!.outputs.forEach(add);
    const ports = [...byName.values()];
    access!.inputs.forEach((input) => {
      const name = input.name ?? 'A port without a name';
      input.onmidimessage = ({ data }) => {
        const at = current.ports.findIndex((port) => port.name === name);
        if (data && at >= 0) connection().midi(PADS_INDEX + 1 + at, data);
      };
    });
    set({ state: 'open', ports });
  }

  async function allow(): Promise<void> {
    if (current.state === 'unsupported') return;
    set({ ...current, state: 'asking' });
    try {
      access = await navigator.requestMIDIAccess({ sysex: false });
    } catch {
      set({ state: 'refused', ports: [] });
      return;
    }
    access.onstatechange = readPorts;
    readPorts();
  }

  // Where it was allowed before, nobody is asked again.
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
    sendOut(port, bytes) {
      const carried = current.ports[port - PADS_INDEX - 1];
      access?.outputs.forEach((output) => {
        if (carried && output.name === carried.name) output.send(bytes);
      });
    },
  };
}
