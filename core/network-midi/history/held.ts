/** What a stream holds down: notes, and switches like the pedals. */
import { isOn, isSwitch, RELEASE_AS_USUAL } from './channel-history.js';
import type { History } from './history.js';

const NOTE_OFF = 0x80;
const CONTROL_CHANGE = 0xb0;

/** Returns the commands that release all that is held: notes, then switches (controllers 64 to 69). */
export const releasesOf = ({ channels }: History): Uint8Array[] =>
  channels.flatMap((channel, number) => [
    ...[...(channel?.notes ?? [])]
      .filter(([, { velocity }]) => velocity > 0)
      .map(([note]) => Uint8Array.of(NOTE_OFF | number, note, RELEASE_AS_USUAL)),
    ...[...(channel?.controllers ?? [])]
      .filter(([controller, { value }]) => isSwitch(controller) && isOn(value))
      .map(([controller]) => Uint8Array.of(CONTROL_CHANGE | number, controller, 0)),
  ]);
