/** A bad network between two pairs of UDP ports on loopback: what is sent to its pair arrives at the other one, or is lost, repeated or late. */
import type { Socket } from 'node:dgram';
import { bindUdpPair } from './ports.js';

export interface BadNetwork {
  /** The first port of the pair that stands for the far end. */
  port: number;
  /** Percent of the packets that are lost, each way. */
  lose(percent: number): void;
  /** How many packets came, and were lost. */
  seen(): { packets: number; lost: number };
  close(): void;
}

/** @param far the first port of the pair at the other end */
export async function openBadNetwork(far: number): Promise<BadNetwork> {
  const [near, away] = [await bindUdpPair(), await bindUdpPair()];
  let percent = 0;
  let seed = 1;
  let packets = 0;
  let lost = 0;
  const chance = (): number => (seed = (seed * 48_271) % 0x7fff_ffff) / 0x7fff_ffff;

  for (const at of [0, 1]) {
    let caller = 0;
    const pass = (bytes: Buffer, from: Socket, to: number): void => {
      packets++;
      if (chance() * 100 < percent) lost++;
      else if (to !== 0) from.send(bytes, to, '127.0.0.1');
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
    seen: () => ({ packets, lost }),
    close() {
      for (const socket of [...near, ...away]) socket.close();
    },
  };
}
