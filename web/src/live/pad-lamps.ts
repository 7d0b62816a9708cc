/** What was sent to the on-screen pads: the state of their lamps, and the positions of their motor faders. */

export interface PadLamps {
  /** MIDI for the pads: notes light lamps, controllers move faders. */
  take(bytes: Uint8Array): void;
  /** 0–127; 0 for dark. */
  lamp(note: number): number;
  /** The last position that a fader was sent, and how often it was sent one; null for never. */
  motor(controller: number): { value: number; told: number } | null;
  subscribe(listener: () => void): () => void;
}

export function createPadLamps(): PadLamps {
  const lamps = new Map<number, number>();
  const motors = new Map<number, { value: number; told: number }>();
  const listeners = new Set<() => void>();
  return {
    take([status = 0, number = 0, value = 0]) {
      const kind = status & 0xf0;
      if (kind === 0x90) lamps.set(number, value);
      else if (kind === 0x80) lamps.set(number, 0);
      else if (kind === 0xb0) motors.set(number, { value, told: (motors.get(number)?.told ?? 0) + 1 });
      else return;
      for (const listener of listeners) listener();
    },
    lamp: (note) => lamps.get(note) ?? 0,
    motor: (controller) => motors.get(controller) ?? null,
    subscribe(listener) {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
  };
}
