/** Reads what the engine tells of the slots of a line. */
import { bytesOfBase64 } from '../base64.js';

/** Returns the number of the sender that set each slot, slot 1 first; null for nobody. @param setBy in base64, as in `SlotsSeen` */
export function setByOf(setBy: string): (number | null)[] {
  const bytes = bytesOfBase64(setBy) ?? new Uint8Array();
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  return Array.from({ length: bytes.length >> 2 }, (_, at) => {
    const by = view.getUint32(at * 4, true);
    return by === 0 ? null : by - 1;
  });
}
