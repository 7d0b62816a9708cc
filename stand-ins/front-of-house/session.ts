/**
 * The side of a session that is called: it answers invitations, clocks and goodbyes, and tells which packets it heard. As programs for network MIDI
 * have it in common; no document describes it. No I/O.
 */

export type SessionPort = 'control' | 'data';

export interface Caller {
  name: string;
  token: number;
  ssrc: number;
  heardAt: number;
}

export interface HouseSession {
  /** @returns the answer; null for none */
  hear(port: SessionPort, bytes: Uint8Array, nowMs: number): Uint8Array | null;
  /** Who is connected; null for nobody. A later call takes the place of one before. */
  caller(nowMs: number): Caller | null;
  /** What is told of the packets that were heard. */
  feedback(sequence: number): Uint8Array;
}

export const isCommand = (bytes: Uint8Array): boolean => bytes[0] === 0xff && bytes[1] === 0xff;
/** Who is silent for this long is gone. */
const SILENT_MS = 60_000;
const VERSION = 2;

const letters = (bytes: Buffer): string => bytes.toString('latin1', 2, 4);

/** Ticks of 0.1 ms. */
export const ticks = (ms: number): number => Math.floor(ms * 10);

function accepted(token: number, ssrc: number, name: string): Buffer {
  const answer = Buffer.alloc(16 + name.length + 1);
  answer.write('\xff\xffOK', 0, 'latin1');
  answer.writeUInt32BE(VERSION, 4);
  answer.writeUInt32BE(token, 8);
  answer.writeUInt32BE(ssrc, 12);
  answer.write(name, 16, 'latin1');
  return answer;
}

/** @param begun called when another one begins to play. @param ssrc the number of this machine */
export function createHouseSession(ssrc: number, name: string, begun: () => void): HouseSession {
  let caller: Caller | null = null;

  function invited(port: SessionPort, bytes: Buffer, now: number): Buffer {
    const [token, theirs] = [bytes.readUInt32BE(8), bytes.readUInt32BE(12)];
    if (port === 'data') {
      const theirName = bytes.toString('utf8', 16).replace(/\0.*$/s, '').slice(0, 80);
      if (caller?.ssrc !== theirs) begun();
      caller = { name: theirName, token, ssrc: theirs, heardAt: now };
    }
    return accepted(token, ssrc, name);
  }

  function clock(bytes: Buffer, now: number): Buffer | null {
    if (caller?.ssrc !== bytes.readUInt32BE(4)) return null;
    caller.heardAt = now;
    if (bytes[8] !== 0) return null;
    const answer = Buffer.from(bytes);
    answer.writeUInt32BE(ssrc, 4);
    answer[8] = 1;
    answer.writeBigUInt64BE(BigInt(ticks(now)), 20);
    return answer;
  }

  function goodbye(bytes: Buffer): null {
    if (caller?.ssrc === bytes.readUInt32BE(12)) {
      caller = null;
      begun();
    }
    return null;
  }

  return {
    hear(port, octets, now) {
      const bytes = Buffer.from(octets);
      const word = letters(bytes);
      if (word === 'IN' && bytes.length >= 16) return invited(port, bytes, now);
      if (word === 'CK' && bytes.length >= 36) return clock(bytes, now);
      if (word === 'BY' && bytes.length >= 16) return goodbye(bytes);
      return null;
    },
    caller: (now) => (caller && now - caller.heardAt < SILENT_MS ? caller : null),
    feedback(sequence) {
      const bytes = Buffer.alloc(12);
      bytes.write('\xff\xffRS', 0, 'latin1');
      bytes.writeUInt32BE(ssrc, 4);
      bytes.writeUInt16BE(sequence, 8);
      return bytes;
    },
  };
}
