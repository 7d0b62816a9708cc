/** Bytes of several messages, kept until all of them are noted: a driver uses its own again for the next message. */

export interface KeptBytes {
  /** What was kept before is forgotten. */
  clear(): void;
  /** @returns a copy, valid until the next `clear` */
  keep(bytes: Uint8Array): Uint8Array;
}

export function createKeptBytes(): KeptBytes {
  let room = new Uint8Array(65_536);
  let used = 0;
  return {
    clear() {
      used = 0;
    },
    keep(bytes) {
      // What was kept before stays in the room that it was kept in.
      if (used + bytes.length > room.length) {
        room = new Uint8Array(Math.max(room.length * 2, bytes.length));
        used = 0;
      }
      room.set(bytes, used);
      const kept = room.subarray(used, used + bytes.length);
      used += bytes.length;
      return kept;
    },
  };
}
