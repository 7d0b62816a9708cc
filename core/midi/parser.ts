/**
 * A MIDI 1.0 byte stream into signals, fed in any split.
 *
 * Rules held (MIDI 1.0 Detailed Specification 4.2):
 * - running status: data bytes alone repeat the last channel status (page 5);
 * - system real-time bytes (F8–FF) may stand anywhere, inside other messages too, and disturb nothing (page 30);
 * - system common (F1–F6) and system-exclusive cancel running status (page 5);
 * - any status byte other than real-time ends a system-exclusive message (page 29);
 * - undefined status bytes and data bytes without a status are ignored; here they are also counted.
 */
import type { MidiSignal } from '../signal.js';
import { channelSignal, dataLength } from './message.js';

/** What a parser tells its owner. */
export interface MidiListener {
  /** A complete message, and its bytes as they would stand without running status. `bytes` is valid during the call only. */
  message(signal: MidiSignal, bytes: Uint8Array): void;
  /** Bytes that make no message, with the reason in words. `bytes` is valid during the call only. */
  bad(reason: string, bytes: Uint8Array): void;
}

export interface MidiParser {
  feed(bytes: Uint8Array): void;
  /** Discards an unfinished message and the running status, for example after a line was closed. */
  reset(): void;
}

/** A longer system-exclusive message is discarded, unless the line allows more, so that no stream can fill the memory. */
export const SYSEX_LIMIT = 65_536;
/** The most bytes that are reported of what is no message. */
const SHOWN = 64;

const REALTIME_UNDEFINED = [0xf9, 0xfd];

/** @param sysexLimit bytes that a system-exclusive message may have */
export function createMidiParser(listener: MidiListener, sysexLimit = SYSEX_LIMIT): MidiParser {
  let status = 0; // the message that is being received, or the running status; 0 for none
  let needed = 0; // data bytes that the status wants
  let have = 0;
  let awaited = false; // a status came, and no message yet with it
  const message = new Uint8Array(3);
  const realtime = new Uint8Array(1);
  /** The bytes of an unfinished system-exclusive message; null while there is none. The buffer is reused. */
  let sysex: Uint8Array | null = null;
  let room = new Uint8Array(128);
  let sysexLength = 0;
  /** Data bytes without a status. Consecutive ones are reported together. */
  const stray = new Uint8Array(SHOWN);
  let strays = 0;

  function endSysex(): void {
    const bytes = sysex!.slice(0, sysexLength);
    sysex = null;
    listener.message({ kind: 'sysex', bytes }, bytes);
  }

  function abandon(reason: string): void {
    if (sysex) listener.bad(reason, sysex.subarray(0, Math.min(sysexLength, 64)));
    else if (have > 0 || awaited) listener.bad(reason, message.subarray(0, have + 1));
    sysex = null;
    have = 0;
    awaited = false;
  }

  function tellStrays(): void {
    if (strays === 0) return;
    const reason = strays === 1 ? 'a data byte without a status' : `${strays} data bytes without a status`;
    const shown = stray.subarray(0, Math.min(strays, SHOWN));
    strays = 0;
    listener.bad(reason, shown);
  }

  function onRealtime(byte: number): void {
    realtime[0] = byte;
    if (REALTIME_UNDEFINED.includes(byte)) listener.bad('an undefined real-time byte', realtime);
    else listener.message({ kind: 'system', status: byte, data1: 0, data2: 0 }, realtime);
  }

  function onStatus(byte: number): void {
    tellStrays();
    if (byte === 0xf7) {
      if (sysex && sysexLength < sysexLimit) {
        sysex[sysexLength++] = byte;
        endSysex();
      } else if (!sysex) {
        abandon('a message that breaks off');
        realtime[0] = byte;
        listener.bad('an end of system-exclusive without its beginning', realtime);
      } else abandon('a system-exclusive message that is too long');
      status = 0;
      have = 0;
      return;
    }
    abandon(sysex ? 'a system-exclusive message that breaks off' : 'a message that breaks off');
    message[0] = byte;
    if (byte === 0xf0) {
      status = 0;
      sysex = room;
      sysex[0] = byte;
      sysexLength = 1;
      return;
    }
    if (byte === 0xf4 || byte === 0xf5) {
      status = 0;
      listener.bad('an undefined status byte', message.subarray(0, 1));
      return;
    }
    status = byte;
    needed = dataLength(byte);
    awaited = true;
    if (needed === 0) complete();
  }

  function onSysexData(byte: number): void {
    if (sysexLength >= sysexLimit) return;
    if (sysexLength === sysex!.length) {
      const wider = new Uint8Array(Math.min(sysex!.length * 2, sysexLimit));
      wider.set(sysex!);
      sysex = room = wider;
    }
    sysex![sysexLength++] = byte;
  }

  function onData(byte: number): void {
    if (sysex) return onSysexData(byte);
    if (status === 0) {
      if (strays < SHOWN) stray[strays] = byte;
      strays++;
      return;
    }
    message[++have] = byte;
    if (have === needed) complete();
  }

  function complete(): void {
    have = 0;
    awaited = false;
    message[0] = status;
    const bytes = message.subarray(0, needed + 1);
    if (status < 0xf0) {
      listener.message(channelSignal(status, message[1]!, message[2]!), bytes);
      return;
    }
    const signal: MidiSignal = {
      kind: 'system',
      status,
      data1: needed > 0 ? message[1]! : 0,
      data2: needed > 1 ? message[2]! : 0,
    };
    status = 0;
    listener.message(signal, bytes);
  }

  return {
    feed(bytes) {
      for (let i = 0; i < bytes.length; i++) {
        const byte = bytes[i]!;
        if (byte >= 0xf8) onRealtime(byte);
        else if (byte >= 0x80) onStatus(byte);
        else onData(byte);
      }
      tellStrays();
    },
    reset() {
      status = 0;
      have = 0;
      awaited = false;
      sysex = null;
      strays = 0;
    },
  };
}
