/** What the front-of-house machine plays: the notes that sound and where the faders stand, made good from the journal where packets are missing. No I/O. */
import type { Told } from './journal.js';
import type { MidiPacket } from './packet.js';

export interface DeskState {
  notes: { channel: number; number: number; velocity: number }[];
  faders: { channel: number; number: number; value: number }[];
  packets: number;
  lost: number;
  /** Notes and faders that a journal has put right. */
  madeGood: number;
  /** Packets that came twice, or after a later one. */
  passedOver: number;
}

export interface Desk {
  /** @param readJournal asked where packets are missing. @returns the commands that are new */
  take(packet: MidiPacket, readJournal: (bytes: Uint8Array) => Told[]): number[][];
  /** The number of the last packet; null before the first. */
  last(): number | null;
  /** Another one plays from here on: nothing sounds. */
  begin(): void;
  state(): DeskState;
}

const keyOf = (channel: number, number: number): number => channel * 128 + number;

export function createDesk(): Desk {
  const notes = new Map<number, number>();
  const faders = new Map<number, number>();
  let last: number | null = null;
  const count = { packets: 0, lost: 0, madeGood: 0, passedOver: 0 };

  function put(map: Map<number, number>, channel: number, number: number, value: number): void {
    if (map.get(keyOf(channel, number)) === value) return;
    map.set(keyOf(channel, number), value);
    count.madeGood++;
  }

  function makeGood({ channel, ended, begun, controllers }: Told): void {
    for (const number of ended) if (notes.delete(keyOf(channel, number))) count.madeGood++;
    for (const { number, velocity } of begun) put(notes, channel, number, velocity);
    for (const { number, value } of controllers) put(faders, channel, number, value);
  }

  function play([status = 0, number = 0, value = 0]: number[]): void {
    const key = keyOf((status & 0x0f) + 1, number);
    const kind = status & 0xf0;
    if (kind === 0x90 && value > 0) notes.set(key, value);
    else if (kind === 0x80 || kind === 0x90) notes.delete(key);
    else if (kind === 0xb0) faders.set(key, value);
  }

  const listed = (map: Map<number, number>): [channel: number, number: number, value: number][] =>
    [...map].map(([key, value]) => [Math.floor(key / 128), key % 128, value]);

  return {
    take({ sequence, commands, journal }, readJournal) {
      count.packets++;
      const ahead = last === null ? 1 : (sequence - last) & 0xffff;
      if (ahead === 0 || ahead >= 0x8000) {
        count.passedOver++;
        return [];
      }
      if (last !== null) count.lost += ahead - 1;
      if ((last === null || ahead > 1) && journal) for (const told of readJournal(journal)) makeGood(told);
      last = sequence;
      for (const command of commands) play(command);
      return commands;
    },
    last: () => last,
    begin() {
      notes.clear();
      last = null;
    },
    state: () => ({
      ...count,
      notes: listed(notes).map(([channel, number, velocity]) => ({ channel, number, velocity })),
      faders: listed(faders).map(([channel, number, value]) => ({ channel, number, value })),
    }),
  };
}
