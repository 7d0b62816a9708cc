/** How a line is, as it is shown: open or not, what is wrong with it, and who is at its other end. */

/**
 * How one direction of a line is. `none`: the line does not use it. `unproven`: it sends, but the target can't be asked whether it hears, and nothing
 * has come from it yet.
 */
export type Side = 'none' | 'open' | 'unproven' | 'waiting' | 'trouble';

/** The state of a line. `trouble` says in words what is wrong and what to do; empty if nothing is wrong. */
export interface LineState {
  state: 'open' | 'waiting' | 'trouble';
  trouble: string;
  /** Each direction by itself. If it is left out, both are as the line. */
  sides?: { in: Side; out: Side };
  /** When it is tried again, in milliseconds since 1970; left out if trying again would not help. */
  nextTryAt?: number;
  /** Of a port of a browser: the number of the connection that has it (`HereSeen.id`). */
  carrier?: number;
  /** The sources of a universe, those that are heard first. */
  sources?: SourceSeen[];
  /** The sound devices of the server's machine, and how loud the line's own is. */
  sound?: SoundSeen;
  /** Who takes part in a session of network MIDI. */
  network?: NetworkSeen;
  /** The last input that could not be understood. */
  lastBad?: BadSeen;
}

/** A session of another machine, as it is announced on the network. */
export interface FoundSession {
  name: string;
  host: string;
  /** The first port of its pair. */
  port: number;
}

/** A session of network MIDI. Times are milliseconds since 1970. */
export interface NetworkSeen {
  /** The first port of its pair; null while it is not open. */
  port: number | null;
  participants: {
    name: string;
    host: string;
    port: number;
    since: number;
    weCalled: boolean;
    /** Half of the shortest round trip of the last ones, and each of the last minutes, the oldest first, in ms. Null before the first. */
    latencyMs: number | null;
    latencies: { at: number; ms: number }[];
    /** How far its clock is ahead of ours, in ms. */
    offsetMs: number | null;
    /** Packets that were lost, or came late; messages that were made good. */
    lost: number;
    recovered: number;
    late: number;
  }[];
  /** Messages that came too late to be played evenly, and were played at once. */
  lateToPlay: number;
  /** Machines that we call and that have not answered. */
  calling: { host: string; port: number; refused: boolean }[];
  /** Those who wanted to connect and may not. */
  refused: { name: string; host: string; at: number; count: number }[];
  /** Other sessions that were found on the network; null where nobody looks for them. */
  found: FoundSession[] | null;
}

export interface SoundSeen {
  /** The names of what can be listened to and played to. */
  devices: { in: readonly string[]; out: readonly string[] };
  /** How loud it is, in dB below full scale, in steps; null for silence. */
  hearsDb: number | null;
}

export interface SourceSeen {
  name: string;
  address: string;
  priority: number;
  /** False if another source has a higher priority. */
  heard: boolean;
}

export interface BadSeen {
  /** Milliseconds since 1970. */
  at: number;
  reason: string;
  /** The first bytes. */
  bytes: number[];
}
