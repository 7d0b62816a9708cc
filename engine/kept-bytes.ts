/** Keeps copies of the bytes of several messages until all are recorded. Drivers reuse their buffers. */

export interface KeptBytes {
  /** Discards all copies. */
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
      // Earlier copies stay in the old buffer.
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
