/**
 * The sockets that receive DMX. All universes of a protocol arrive on one port, so lines that listen on the same address and port share a socket.
 * Packets are sorted by universe here.
 */
import { createSocket, type RemoteInfo, type Socket } from 'node:dgram';
import {
  decodeArtNet,
  encodeArtPollReply,
  ArtNetError,
  type ArtTimecode,
} from '@tawny-signal/core/dmx/artnet';
import { decodeSacn, isStale, SACN_PRIORITY, SacnError } from '@tawny-signal/core/dmx/sacn';
import type { Source } from '@tawny-signal/core/dmx/universe';
import { createListenTrouble } from './listening.js';
import { createTimers } from './retry.js';

export type DmxProtocol = 'artnet' | 'sacn';

export interface DmxMember {
  universe: number;
  /** A multicast address to listen on as well; null for none. */
  group: string | null;
  /** Levels of one sender. They are not reused. */
  levels(source: Omit<Source, 'heardAt'>, bytes: number): void;
  /** A frame of timecode, which belongs to no universe. */
  timecode(frame: ArtTimecode, from: string, bytes: number): void;
  /** A sender has stopped. */
  ended(key: string): void;
  bad(reason: string, bytes: Uint8Array): void;
  mayHear(address: string): boolean;
  stranger(address: string, bytes: Uint8Array): void;
  trouble(words: string | null, tryInMs?: number): void;
}

interface DmxPacket {
  universe: number;
  source: Omit<Source, 'heardAt'>;
  /** 0 if the sender does not count. */
  sequence: number;
  counted: boolean;
  ended: boolean;
}

export interface DmxHubs {
  /** @returns a function that ends it */
  join(protocol: DmxProtocol, host: string, port: number, member: DmxMember): () => void;
}

/** The size of the receive buffer that is requested. The system may give less. */
const RECEIVE_BYTES = 1 << 21;
/** The most poll replies a second, whatever is asked. */
const MOST_REPLIES = 20;
/** The most senders whose sequences are remembered. */
const MOST_SENDERS = 1024;

function readSacn(bytes: Uint8Array, from: RemoteInfo): DmxPacket | null {
  const data = decodeSacn(bytes);
  if (!data || data.preview || data.startCode !== 0) return null;
  const { cid: key, sourceName: name, priority, levels, universe, sequence } = data;
  const source = { key, name, address: from.address, priority, levels };
  return { universe, source, sequence, counted: true, ended: data.terminated };
}

function readArtNet(
  bytes: Uint8Array,
  from: RemoteInfo,
  polled: () => void,
  timed: (frame: ArtTimecode) => void,
): DmxPacket | null {
  const packet = decodeArtNet(bytes);
  if (packet.kind === 'poll') polled();
  if (packet.kind === 'timecode') timed(packet);
  if (packet.kind !== 'dmx') return null;
  const key = `${from.address}:${from.port}`;
  const source = {
    key,
    name: from.address,
    address: from.address,
    priority: SACN_PRIORITY.usual,
    levels: packet.levels,
  };
  const { universe, sequence } = packet;
  return { universe, source, sequence, counted: sequence !== 0, ended: false };
}

function openHub(protocol: DmxProtocol, host: string, port: number, empty: () => void) {
  const members = new Set<DmxMember>();
  const byUniverse = new Map<number, DmxMember[]>();
  const sequences = new Map<string, number>();
  const timers = createTimers();
  const listenTrouble = createListenTrouble('udp', (words, wait) => tell(words, wait));
  let socket: Socket | null = null;
  let trouble: { words: string; wait: number } | null = null;
  let replies = 0;
  let repliesSince = 0;

  function tell(words: string | null, wait?: number): void {
    trouble = words === null ? null : { words, wait: wait! };
    for (const member of members) member.trouble(words, wait);
  }

  function stale({ universe, source, sequence, counted }: DmxPacket): boolean {
    if (!counted) return false;
    const key = `${source.key} ${universe}`;
    const last = sequences.get(key);
    if (last !== undefined && isStale(last, sequence)) return true;
    if (sequences.size >= MOST_SENDERS && last === undefined) sequences.clear();
    sequences.set(key, sequence);
    return false;
  }

  function answerPoll(from: RemoteInfo): void {
    const now = performance.now();
    if (now - repliesSince > 1000) {
      replies = 0;
      repliesSince = now;
    }
    const address = host.split('.').map(Number) as [number, number, number, number];
    const universes = [...byUniverse.keys()];
    // A reply names universes of one net and subnet, four at the most.
    for (const group of new Set(universes.map((universe) => universe >> 4))) {
      const ours = universes.filter((universe) => universe >> 4 === group);
      for (let at = 0; at < ours.length; at += 4) {
        if (replies++ >= MOST_REPLIES) return;
        const reply = encodeArtPollReply({
          address: address.length === 4 && host !== '0.0.0.0' ? address : [127, 0, 0, 1],
          shortName: 'Tawny Signal',
          longName: 'Tawny Signal',
          universes: ours.slice(at, at + 4),
        });
        socket?.send(reply, from.port, from.address, () => undefined);
      }
    }
  }

  function hearTimecode(frame: ArtTimecode, bytes: Uint8Array, from: RemoteInfo): void {
    for (const member of members)
      if (member.mayHear(from.address)) member.timecode(frame, from.address, bytes.length);
      else member.stranger(from.address, bytes);
  }

  function hear(bytes: Uint8Array, from: RemoteInfo): void {
    let packet: DmxPacket | null;
    try {
      packet =
        protocol === 'sacn'
          ? readSacn(bytes, from)
          : readArtNet(
              bytes,
              from,
              () => {
                if ([...members].some((member) => member.mayHear(from.address))) answerPoll(from);
              },
              (frame) => hearTimecode(frame, bytes, from),
            );
    } catch (error) {
      if (!(error instanceof SacnError || error instanceof ArtNetError)) throw error;
      const name = protocol === 'sacn' ? 'sACN' : 'Art-Net';
      for (const member of members) member.bad(`Not ${name}: ${error.message}.`, bytes);
      return;
    }
    if (!packet) return;
    const hearing = byUniverse.get(packet.universe);
    if (!hearing) return;
    const late = stale(packet);
    for (const member of hearing) {
      if (!member.mayHear(from.address)) member.stranger(from.address, bytes);
      else if (packet.ended) member.ended(packet.source.key);
      else if (!late) member.levels(packet.source, bytes.length);
    }
  }

  function listen(tries: number): void {
    const opened = createSocket({ type: 'udp4', recvBufferSize: RECEIVE_BYTES });
    socket = opened;
    opened.on('error', (error: NodeJS.ErrnoException) => {
      const wait = listenTrouble.failed(port, host, error.code, tries);
      socket = null;
      opened.close();
      timers.later(wait, () => listen(tries + 1));
    });
    opened.on('message', hear);
    opened.bind({ port, address: host, exclusive: true }, () => {
      listenTrouble.over();
      tell(null);
      for (const member of members) enter(member);
    });
  }

  function enter({ group }: DmxMember): void {
    if (group === null) return;
    try {
      socket?.addMembership(group);
    } catch {
      return; // entered already, or not open yet: then it is entered when it is
    }
  }

  listen(0);
  return {
    join(member: DmxMember): () => void {
      members.add(member);
      byUniverse.set(member.universe, [...(byUniverse.get(member.universe) ?? []), member]);
      if (trouble) member.trouble(trouble.words, trouble.wait);
      enter(member);
      return () => {
        members.delete(member);
        const rest = (byUniverse.get(member.universe) ?? []).filter((other) => other !== member);
        if (rest.length > 0) byUniverse.set(member.universe, rest);
        else byUniverse.delete(member.universe);
        if (members.size > 0) return;
        timers.stop();
        listenTrouble.over();
        socket?.close();
        socket = null;
        empty();
      };
    },
  };
}

export function createDmxHubs(): DmxHubs {
  const hubs = new Map<string, ReturnType<typeof openHub>>();
  return {
    join(protocol, host, port, member) {
      const key = `${protocol} ${host} ${port}`;
      let hub = hubs.get(key);
      if (!hub) {
        hub = openHub(protocol, host, port, () => hubs.delete(key));
        hubs.set(key, hub);
      }
      return hub.join(member);
    },
  };
}
