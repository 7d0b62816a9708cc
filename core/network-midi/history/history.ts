/** What a stream has said so far: all channels, and what belongs to none (RFC 6295, appendix A.1, “session history”). */
import { createChannelHistory, takeChannelCommand, type ChannelHistory } from './channel-history.js';
import { createSystemHistory, resetSystem, takeSystemCommand, type SystemHistory } from './system-history.js';

export interface History {
  /** One for each of the 16 channels; null where nothing was said. */
  channels: (ChannelHistory | null)[];
  system: SystemHistory;
}

const CHANNELS = 16;

export const createHistory = (): History => ({
  channels: new Array<ChannelHistory | null>(CHANNELS).fill(null),
  system: createSystemHistory(),
});

/** Messages to all devices that set them back: sub-IDs of universal non-real-time messages (A.1, “Reset State commands”). */
const RESETS: readonly (readonly [number, number])[] = [
  [9, 1],
  [9, 3],
  [9, 0],
  [10, 1],
  [10, 2],
];

/** Whether a command sets everything back to how it was when it was switched on. */
export function isReset(bytes: Uint8Array): boolean {
  if (bytes[0] === 0xff) return true;
  if (bytes.length !== 6 || bytes[0] !== 0xf0 || bytes[1] !== 0x7e || bytes[5] !== 0xf7) return false;
  return RESETS.some(([first, second]) => bytes[3] === first && bytes[4] === second);
}

export const channelOf = (history: History, channel: number): ChannelHistory =>
  (history.channels[channel] ??= createChannelHistory());

/**
 * Takes a command that was sent, or heard.
 * @param bytes with its status; or a part of a system-exclusive message. @param packet its number, counted on beyond 65535. @param at when, in ms
 */
export function takeCommand(history: History, bytes: Uint8Array, packet: number, at: number): void {
  const status = bytes[0]!;
  if (status < 0xf0) return takeChannelCommand(channelOf(history, status & 15), bytes, packet, at);
  takeSystemCommand(history.system, bytes, packet);
  if (!isReset(bytes)) return;
  history.channels.fill(null);
  resetSystem(history.system);
}
