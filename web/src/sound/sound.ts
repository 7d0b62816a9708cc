/** The sound devices of the machine that this browser runs on, and the sound lines that are open here. */
import { soundPort } from '@tawny-signal/core/show/line';
import type { CarriedPort } from '../live/connection';
import type { WebMidi } from '../live/web-midi';
import { openDeck, type Deck, type SoundDevice, type SoundLevel, type SoundLine } from './deck';

export interface SoundSeen {
  /** `off`: nobody has switched it on in this browser. */
  state: 'unsupported' | 'off' | 'asking' | 'refused' | 'open';
  devices: readonly SoundDevice[];
  /** By the id of a line: open, or why it is not. A device that was refused is tried again. */
  lines: Readonly<Record<string, 'open' | 'opening' | 'no device' | 'refused'>>;
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

/** A channel of a device. Several lines may share it. */
interface Open {
  /** What it was opened with. */
  key: string;
  state: 'opening' | 'open' | 'refused';
  deck: Deck | null;
  level: SoundLevel | null;
}

/** How long it takes until a device that was refused is tried again. */
const AGAIN_MS = 3000;

export function createSound(midi: () => WebMidi): Sound {
  const listeners = new Set<() => void>();
  /** By the name under which it is carried. */
  const opened = new Map<string, Open>();
  let lines: readonly SoundLine[] = [];
  const supported = typeof AudioWorkletNode !== 'undefined' && navigator.mediaDevices !== undefined;
  let current: SoundSeen = { state: supported ? 'off' : 'unsupported', ...OFF };

  function set(change: Partial<SoundSeen>): void {
    current = { ...current, ...change };
    for (const listener of listeners) listener();
  }

  function offer(): void {
    const ports = [...opened].flatMap(([name, { deck }]): CarriedPort[] =>
      deck ? [{ kind: 'sound-browser', name, in: deck.in, out: deck.out }] : [],
    );
    midi().carry(ports, (name, bytes) => opened.get(name)?.deck?.play(bytes));
    const states = lines.map((line): [string, SoundSeen['lines'][string]] => [
      line.id,
      opened.get(soundPort(line))?.state ?? 'no device',
    ]);
    set({ lines: Object.fromEntries(states) });
  }

  function close(name: string): void {
    opened.get(name)?.deck?.close();
    opened.delete(name);
  }

  async function open(name: string, line: SoundLine, device: SoundDevice, key: string): Promise<void> {
    const one: Open = { key, state: 'opening', deck: null, level: null };
    opened.set(name, one);
    const deck = await openDeck(line, device, {
      heard: (bytes, at) => midi().heardOn(name, bytes, at),
      level: (level) => void (one.level = level),
      ended: () => void readDevices(),
    }).catch(() => null);
    // The line or its device may have changed meanwhile.
    if (opened.get(name) !== one) return deck?.close();
    one.deck = deck;
    one.state = deck ? 'open' : 'refused';
    if (!deck) setTimeout(() => again(name, one), AGAIN_MS);
    offer();
  }

  function again(name: string, refused: Open): void {
    if (opened.get(name) !== refused) return;
    close(name);
    settle();
    // What is shown stays until it is open.
    const next = opened.get(name);
    if (next?.state === 'opening') next.state = 'refused';
    offer();
  }

  /** Opens the channels that lines name and whose device is here, and closes the others. */
  function settle(): void {
    const wanted = new Map<string, { line: SoundLine; device: SoundDevice; key: string }>();
    for (const line of lines) {
      const device = current.devices.find(({ name }) => name === line.port);
      if (!device || current.state !== 'open' || wanted.has(soundPort(line))) continue;
      wanted.set(soundPort(line), { line, device, key: JSON.stringify([device, line.levelDb]) });
    }
    for (const [name, { key }] of [...opened]) if (wanted.get(name)?.key !== key) close(name);
    for (const [name, { line, device, key }] of wanted)
      if (!opened.has(name)) void open(name, line, device, key);
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
    level(lineId) {
      const line = lines.find(({ id }) => id === lineId);
      return (line && opened.get(soundPort(line))?.level) ?? null;
    },
  };
}
