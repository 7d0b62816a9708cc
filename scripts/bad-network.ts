/** A bad network between two pairs of UDP ports on loopback: what is sent to its pair arrives at the other one, or is lost, repeated or late. */
import type { Socket } from 'node:dgram';
import { bindUdpPair } from './ports.js';

export interface BadNetwork {
  /** The first port of the pair that stands for the far end. */
  port: number;
  /** Percent of the packets that are lost, each way. */
  lose(percent: number): void;
  /** Whether packets keep their journals of what was said before (RFC 6295, section 4); else they come as from a program that sends none. */
  carryJournals(on: boolean): void;
  /** How many packets came, were lost, and lost their journals. */
  seen(): { packets: number; lost: number; cut: number };
  close(): void;
}

/** Bytes of the header of RTP before the payload (RFC 3550, section 5.1), where there are no sources named in it. */
const RTP_HEADER = 12;

/** Cuts the journal off a packet of MIDI over RTP; others are left as they are (RFC 6295, section 3: bit J, and the length of the list). */
function withoutJournal(packet: Buffer): Buffer {
  const first = packet[RTP_HEADER];
  if (packet[0] !== 0x80 || first === undefined || (first & 0x40) === 0) return packet;
  const isLong = (first & 0x80) !== 0;
  const length = isLong ? ((first & 0x0f) << 8) | (packet[RTP_HEADER + 1] ?? 0) : first & 0x0f;
  const cut = Buffer.from(packet.subarray(0, RTP_HEADER + (isLong ? 2 : 1) + length));
  cut[RTP_HEADER] = first & ~0x40;
  return cut;
}

/** @param far the first port of the pair at the other end */
export async function openBadNetwork(far: number): Promise<BadNetwork> {
  const [near, away] = [await bindUdpPair(), await bindUdpPair()];
  let percent = 0;
  let seed = 1;
  let packets = 0;
  let lost = 0;
  let cut = 0;
  let journals = true;
  const chance = (): number => (seed = (seed * 48_271) % 0x7fff_ffff) / 0x7fff_ffff;

  for (const at of [0, 1]) {
    let caller = 0;
    const pass = (bytes: Buffer, from: Socket, to: number): void => {
      packets++;
      if (chance() * 100 < percent) lost++;
      else if (to !== 0) {
        const sent = journals ? bytes : withoutJournal(bytes);
        if (sent !== bytes) cut++;
        from.send(sent, to, '127.0.0.1');
      }
    };
    near[at]!.on('message', (bytes, { port }) => {
      caller = port;
      pass(bytes, away[at]!, far + at);
    });
    away[at]!.on('message', (bytes) => pass(bytes, near[at]!, caller));
  }
  return {
    port: near[0].address().port,
    lose: (next) => void (percent = next),
    carryJournals: (on) => void (journals = on),
    seen: () => ({ packets, lost, cut }),
    close() {
      for (const socket of [...near, ...away]) socket.close();
    },
  };
}
