/**
 * System-exclusive messages in parts, so that long ones go in several packets (RFC 6295, section 3.2, figure 5).
 *
 * | part   | first octet | last octet                                                           |
 * |--------|-------------|----------------------------------------------------------------------|
 * | first  | F0          | F0                                                                   |
 * | middle | F7          | F0                                                                   |
 * | last   | F7          | F7, or F5 where the F7 was left out at its source                    |
 * | cancel | F7          | F4, with nothing between                                             |
 */

/** The shortest part: its two ends and an octet between. */
const SHORTEST = 3;

/**
 * @param message from F0 to F7
 * @param room octets that a part may have, at least 3
 * @returns its parts; the message itself if it fits
 */
export function splitSysex(message: Uint8Array, room: number): Uint8Array[] {
  if (room < SHORTEST) throw new RangeError(`a part has at least ${SHORTEST} octets: ${room}`);
  if (message.length <= room) return [message];
  const data = message.subarray(1, message.length - 1);
  const parts: Uint8Array[] = [];
  for (let at = 0; at < data.length; at += room - 2) {
    const piece = data.subarray(at, at + room - 2);
    const isLast = at + piece.length === data.length;
    parts.push(Uint8Array.from([at === 0 ? 0xf0 : 0xf7, ...piece, isLast ? 0xf7 : 0xf0]));
  }
  return parts;
}

export interface SysexJoiner {
  /**
   * Takes a system-exclusive message or a part of one.
   * @returns the whole message, from F0 to F7, once it is there; a reason in words for what belongs to nothing; else null
   */
  take(part: Uint8Array): Uint8Array | string | null;
  /** Parts were lost: what is unfinished is forgotten. @returns whether there was something */
  lose(): boolean;
}

/** @param limit octets that a message may have */
export function createSysexJoiner(limit: number): SysexJoiner {
  let pieces: Uint8Array[] | null = null;
  let length = 0;

  function lose(): boolean {
    const was = pieces !== null;
    pieces = null;
    length = 0;
    return was;
  }

  function whole(): Uint8Array {
    const message = new Uint8Array(length + 2);
    message[0] = 0xf0;
    let at = 1;
    for (const piece of pieces!) {
      message.set(piece, at);
      at += piece.length;
    }
    message[at] = 0xf7;
    lose();
    return message;
  }

  return {
    take(part) {
      const [head, tail] = [part[0]!, part[part.length - 1]!];
      if (head === 0xf0) {
        lose();
        pieces = [];
      } else if (tail === 0xf4) {
        return lose() ? null : 'the end of a message that never began';
      } else if (pieces === null) {
        return 'a part of a system-exclusive message without its beginning';
      }
      const piece = part.slice(1, part.length - 1);
      length += piece.length;
      if (length + 2 > limit) {
        lose();
        return 'a system-exclusive message that is too long';
      }
      // Empty ones would need room and bring nothing.
      if (piece.length > 0) pieces!.push(piece);
      return tail === 0xf0 ? null : whole();
    },
    lose,
  };
}
