/** The sound devices of the machine that this browser runs on, and the sound lines that are open here. */
import { soundPort } from '@tawny-signal/core/show/line';
import type { CarriedPort } from '../live/connection';
import type { WebMidi } from '../live/web-midi';
import { openDeck, type Deck, type SoundDevice, type SoundLevel, type SoundLine } from './deck';

export interface SoundSeen {
  /** `off`: nobody has switched it on in this browser. */
  state: 'unsupported' | 'off' | 'asking' | 'refused' | 'open';
  devices: readonly SoundDevice[];
  /** By the id of a line: open, or why it is not. */
  lines: Readonly<Record<string, 'open' | 'no device' | 'refused'>>;
}

export interface Sound {
  current(): SoundSeen;
  subscribe(listener: () => void): () => void;
  /** Asks the browser for its sound, which may ask the person. It is asked again when the page is opened the next time. */
  switchOn(): Promise<void>;
  switchOff(): void;
  /** The sound lines of the show. Those whose device is here are opened. */
  setLines(lines: readonly SoundLine[]): void;
  /** How loud a line is now; null while it hears nothing. */
  level(lineId: string): SoundLevel | null;
}

const REMEMBERED = 'tawny-sound';
const OFF = { devices: [], lines: {} };

/** Devices by their names. An input and an output with the same name are one. */
function byName(found: readonly MediaDeviceInfo[]): SoundDevice[] {
  const devices = new Map<string, SoundDevice>();
  for (const { kind, label, deviceId } of found) {
    // Chromium lists the default device once more, under this id.
    if (label === '' || kind === 'videoinput' || deviceId === 'communications') continue;
    const device = devices.get(label) ?? { name: label, inputId: null, outputId: null };
    devices.set(label, {
      ...device,
      ...(kind === 'audioinput'
        ? { inputId: device.inputId ?? deviceId }
        : { outputId: device.outputId ?? deviceId }),
    });
  }
  return [...devices.values()];
}

interface Open {
  key: string;
  deck: Deck | null;
}

export function createSound(midi: () => WebMidi): Sound {
  const listeners = new Set<() => void>();
  const levels = new Map<string, SoundLevel>();
  const opened = new Map<string, Open>();
  let lines: readonly SoundLine[] = [];
  const supported = typeof AudioWorkletNode !== 'undefined' && navigator.mediaDevices !== undefined;
  let current: SoundSeen = { state: supported ? 'off' : 'unsupported', ...OFF };

  function set(change: Partial<SoundSeen>): void {
    current = { ...current, ...change };
    for (const listener of listeners) listener();
  }

  function offer(): void {
    const ports = lines.flatMap((line): CarriedPort[] => {
      const deck = opened.get(line.id)?.deck;
      return deck ? [{ kind: 'sound-browser', name: soundPort(line), in: deck.in, out: deck.out }] : [];
    });
    midi().carry(ports, (name, bytes) => {
      for (const line of lines) if (soundPort(line) === name) opened.get(line.id)?.deck?.play(bytes);
    });
    const states = lines.map((line): [string, SoundSeen['lines'][string]] => {
      const one = opened.get(line.id);
      return [line.id, one?.deck ? 'open' : one ? 'refused' : 'no device'];
    });
    set({ lines: Object.fromEntries(states) });
  }

  function close(id: string): void {
    opened.get(id)?.deck?.close();
    opened.delete(id);
    levels.delete(id);
  }

  async function open(line: SoundLine, device: SoundDevice, key: string): Promise<void> {
    const one: Open = { key, deck: null };
    opened.set(line.id, one);
    const deck = await openDeck(line, device, {
      heard: (bytes, at) => midi().heardOn(soundPort(line), bytes, at),
      level: (level) => void levels.set(line.id, level),
      ended: () => void readDevices(),
    }).catch(() => null);
    // The line or its device may have changed meanwhile.
    if (opened.get(line.id) === one) one.deck = deck;
    else deck?.close();
    offer();
  }

  /** Opens the lines whose device is here, and closes the others. */
  function settle(): void {
    const wanted = new Map(
      lines.flatMap((line) => {
        const device = current.devices.find(({ name }) => name === line.port);
        const key = JSON.stringify([device, line.channel, line.levelDb]);
        return device && current.state === 'open' ? [[line.id, { line, device, key }] as const] : [];
      }),
    );
    for (const [id, { key }] of [...opened]) if (wanted.get(id)?.key !== key) close(id);
    for (const [id, { line, device, key }] of wanted) if (!opened.has(id)) void open(line, device, key);
    offer();
  }

  async function readDevices(): Promise<void> {
    set({ devices: byName(await navigator.mediaDevices.enumerateDevices()) });
    settle();
  }

  async function switchOn(): Promise<void> {
    if (current.state === 'unsupported') return;
    set({ state: 'asking' });
    try {
      // The names of devices are told only to a page that may listen.
      const stream = await navigator.mediaDevices.getUserMedia({ audio: true });
      stream.getTracks().forEach((track) => track.stop());
    } catch {
      return set({ state: 'refused' });
    }
    localStorage.setItem(REMEMBERED, 'on');
    set({ state: 'open' });
    await readDevices();
  }

  if (supported) {
    navigator.mediaDevices.addEventListener('devicechange', () => {
      if (current.state === 'open') void readDevices();
    });
    if (localStorage.getItem(REMEMBERED) === 'on') void switchOn();
  }

  return {
    current: () => current,
    subscribe(listener) {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    switchOn,
    switchOff() {
      localStorage.removeItem(REMEMBERED);
      set({ state: 'off', devices: [] });
      settle();
    },
    setLines(next) {
      lines = next;
      settle();
    },
    level: (lineId) => levels.get(lineId) ?? null,
  };
}
