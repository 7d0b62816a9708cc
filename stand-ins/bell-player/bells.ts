/**
 * What the bell player makes of MIDI show control (RP-002, from memory; read here with code of its own, from the
 * standard's figures): `F0 7F <device> 02 <format> <command> <cue> 00 <list> F7`. No I/O.
 */

export const DEVICE = 5;
/** Sound. */
export const FORMAT = 0x10;
export const BELLS = 6;

export interface ShowMessage {
  device: number;
  format: number;
  command: number;
  cue: string;
  list: string;
}

/** @returns null if it is not show control */
export function readShowMessage(bytes: Uint8Array): ShowMessage | null {
  const [start, universal, device, what, format, command] = bytes;
  if (start !== 0xf0 || universal !== 0x7f || what !== 0x02 || bytes.at(-1) !== 0xf7) return null;
  if (device === undefined || format === undefined || command === undefined) return null;
  const [cue = '', list = ''] = Buffer.from(bytes.subarray(6, -1)).toString('latin1').split('\0');
  return { device, format, command, cue, list };
}

export interface Bells {
  /** @returns whether it was for this device, and a command that it knows */
  take(message: ShowMessage): boolean;
  /** How often each bell was rung, and which are still ringing. */
  state(): { rung: number[]; ringing: boolean[]; lastCue: string };
}

const GO = 0x01;
const STOP = 0x02;
const RESUME = 0x03;
const ALL_OFF = 0x08;
const RESET = 0x0a;

export function createBells(): Bells {
  const rung = new Array<number>(BELLS).fill(0);
  const ringing = new Array<boolean>(BELLS).fill(false);
  let lastCue = '';

  /** The bell of a cue: cue 4.5 rings bell 4. */
  const bellOf = (cue: string): number => Math.floor(Number(cue)) - 1;

  return {
    take({ device, format, command, cue }) {
      const forUs = [DEVICE, 0x7f].includes(device) && [FORMAT, 0x7f].includes(format);
      if (!forUs) return false;
      const bell = bellOf(cue);
      const isBell = bell >= 0 && bell < BELLS;
      switch (command) {
        case GO:
        case RESUME:
          if (!isBell) return false;
          if (command === GO) rung[bell]!++;
          ringing[bell] = true;
          lastCue = cue;
          return true;
        case STOP:
          if (cue !== '' && !isBell) return false;
          if (cue === '') ringing.fill(false);
          else ringing[bell] = false;
          return true;
        case ALL_OFF:
        case RESET:
          ringing.fill(false);
          return true;
        default:
          return false;
      }
    },
    state: () => ({ rung, ringing, lastCue }),
  };
}
