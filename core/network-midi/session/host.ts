/** What a session is given, and what it needs. */
import { encodeSessionCommand, type SessionCommand } from '../session-command.js';
import type { Address, Participant, Ports } from './participant.js';

export type Port = keyof Ports;

export interface SessionSettings {
  /** How we call ourselves. */
  name: string;
  /** 0–2^32 - 1, made up anew each time. */
  ssrc: number;
  /** 0–65535, made up anew each time. */
  firstSequence: number;
  /** Octets that a system-exclusive message may have. */
  sysexLimit: number;
  /** Whether somebody may come in who calls us. */
  mayJoin(host: string): boolean;
}

/** `repaired`: it was lost, and made good from what a later packet told. `left`: it releases what somebody held of whom nothing comes any more. */
export type HowHeard = 'played' | 'repaired' | 'left';

export interface SessionHost {
  send(port: Port, to: Address, bytes: Uint8Array): void;
  /** A whole message was heard. @param ageMs how long ago it was played; 0 if that is not known */
  heard(from: Participant, bytes: Uint8Array, ageMs: number, how: HowHeard): void;
  /** What can't be used, with the reason in words. */
  bad(reason: string, bytes: Uint8Array): void;
  /** Somebody came, went, or was refused. */
  changed(): void;
  /** Returns a number from 0 to 2^32 - 1. */
  random(): number;
}

export const tell = (host: SessionHost, port: Port, to: Address, command: SessionCommand): void =>
  host.send(port, to, encodeSessionCommand(command));
