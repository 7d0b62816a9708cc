/** A bad network between two pairs of UDP ports on loopback: what is sent to its pair arrives at the other one, or is lost, repeated or late. */
import { createSocket, type Socket } from 'node:dgram';

export interface BadNetwork {
  /** The first port of the pair that stands for the far end. */
  port: number;
  /** Percent of the packets that are lost, each way. */
  lose(percent: number): void;
  /** How many packets came, and were lost. */
  seen(): { packets: number; lost: number };
  close(): void;
}

const MOST_PAIRS = 200;

const bind = (port: number): Promise<Socket> =>
  new Promise((done, fail) => {
    const socket = createSocket('udp4');
    socket.once('error', (error) => {
      socket.close();
      fail(error);
    });
    socket.bind({ port, address: '127.0.0.1', exclusive: true }, () => done(socket));
  });

/** Two free ports that stand side by side, the first one even. */
async function bindPair(): Promise<[Socket, Socket]> {
  for (let tries = 0; ; tries++) {
    const first = 30_000 + 2 * Math.floor(Math.random() * 10_000);
    try {
      const control = await bind(first);
      try {
        return [control, await bind(first + 1)];
      } catch (error) {
        control.close();
        throw error;
      }
    } catch (error) {
      if (tries >= MOST_PAIRS) throw error;
    }
  }
}

/** The first port of a pair that is free now. */
export async function freePair(): Promise<number> {
  const pair = await bindPair();
  const { port } = pair[0].address();
  for (const socket of pair) await new Promise<void>((done) => socket.close(done));
  return port;
}

/** @param far the first port of the pair at the other end */
export async function openBadNetwork(far: number): Promise<BadNetwork> {
  const [near, away] = [await bindPair(), await bindPair()];
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
