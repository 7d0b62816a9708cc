/**
 * What a packet tells of those before it, as far as this machine needs it: which notes sound (chapter N), and where controllers stand (chapter C). Read
 * from the figures of RFC 6295, appendix A. Programs, parameters, bends, pressures and the system journal are passed over.
 */

export interface Told {
  /** 1–16 */
  channel: number;
  /** Notes that ended, by number. */
  ended: number[];
  /** Notes that began and go on, with their force. */
  begun: { number: number; velocity: number }[];
  controllers: { number: number; value: number }[];
}

/** Reads octets one after the other. */
class Octets {
  private at = 0;
  constructor(private readonly bytes: Uint8Array) {}

  /** @throws RangeError beyond the end */
  next(): number {
    const octet = this.bytes[this.at++];
    if (octet === undefined) throw new RangeError('a journal that breaks off');
    return octet;
  }

  skip(count: number): void {
    this.at += count;
  }

  /** The next octets as a part of their own. @throws RangeError beyond the end */
  part(length: number): Octets {
    const begin = this.at;
    this.at += length;
    if (this.at > this.bytes.length) throw new RangeError('a journal that breaks off');
    return new Octets(this.bytes.subarray(begin, this.at));
  }
}

/** A length of 10 bits that ends a header. */
const length10 = (first: number, second: number): number => ((first & 3) << 8) | second;

/** Chapter C (A.3). */
function readControllers(from: Octets, told: Told): void {
  for (let logs = (from.next() & 0x7f) + 1; logs > 0; logs--) {
    const number = from.next() & 0x7f;
    const value = from.next();
    // With bit A, the octet counts toggles or presses, and is no value.
    if (value < 0x80) told.controllers.push({ number, value });
  }
}

/** Chapter N (A.6): logs of notes that sound, and a bit for each note that ended. */
function readNotes(from: Octets, told: Told): void {
  const written = from.next() & 0x7f;
  const bounds = from.next();
  const [low, high] = [bounds >> 4, bounds & 0x0f];
  // 127 logs with the bounds 15 and 0 are 128 (A.6.1).
  const count = written === 127 && low === 15 && high === 0 ? 128 : written;
  for (let log = 0; log < count; log++)
    told.begun.push({ number: from.next() & 0x7f, velocity: from.next() & 0x7f });
  for (let octet = low; octet <= high; octet++) {
    const bits = from.next();
    for (let bit = 0; bit < 8; bit++) if (bits & (0x80 >> bit)) told.ended.push(octet * 8 + bit);
  }
}

/** A channel journal (5.2): a header of three octets, then the chapters that its last one names, in the order P C M W N E T A. */
function readChannel(journal: Octets): Told {
  const first = journal.next();
  const channel = journal.part(length10(first, journal.next()) - 2);
  const contents = channel.next();
  const told: Told = { channel: ((first >> 3) & 0x0f) + 1, ended: [], begun: [], controllers: [] };
  if (contents & 0x80) channel.skip(3);
  if (contents & 0x40) readControllers(channel, told);
  if (contents & 0x20) {
    const header = channel.next();
    channel.skip(length10(header, channel.next()) - 2);
  }
  if (contents & 0x10) channel.skip(2);
  if (contents & 0x08) readNotes(channel, told);
  return told;
}

/** Reads a recovery journal (5.1). @throws RangeError if it breaks off */
export function readJournal(bytes: Uint8Array): Told[] {
  const journal = new Octets(bytes);
  const header = journal.next();
  journal.skip(2); // the number of the checkpoint
  if (header & 0x40) {
    const system = journal.next();
    journal.skip(length10(system, journal.next()) - 2);
  }
  const channels = header & 0x20 ? (header & 0x0f) + 1 : 0;
  return Array.from({ length: channels }, () => readChannel(journal));
}
