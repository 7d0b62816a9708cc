/** Numbered OSC messages through a mapping of the show, and where they arrive. */
import { createSocket, type Socket } from 'node:dgram';
import { encodeOsc } from '@tawny-signal/core/osc/packet';
import { until, type TestStage } from '../scripts/test-stage.js';
import { addOscLine, post } from './post.js';

export interface Numbered {
  /** Sends a number from 1 on. */
  say(number: number): void;
  /** Sends until enough has arrived: the line may just be opening. */
  warmUp(): Promise<unknown>;
  close(): void;
}

/** So many have to arrive before anything is measured. */
const WARM = 2000;
const AT_ONCE = 20;

const bound = (): Promise<Socket> =>
  new Promise((done) => {
    const socket = createSocket({ type: 'udp4', recvBufferSize: 1 << 22 });
    socket.bind(0, '127.0.0.1', () => done(socket));
  });

/** Adds a line and a mapping to the show, and warms them up. @param arrived is called with each number that arrives */
export async function openNumbered(stage: TestStage, arrived: (number: number) => void): Promise<Numbered> {
  const source = await bound();
  const target = await bound();
  const { line, listenPort } = await addOscLine(stage, 'Bench', target.address().port);
  await post(stage, 'mappings', {
    hear: { message: 'osc', lineId: line.id, address: '/bench/in' },
    shape: { from: 'value', in: [0, 1_000_000], out: [0, 1_000_000], curve: 'straight' },
    sends: [{ kind: 'osc', lineId: line.id, address: '/bench/out', args: [{ type: 'i', value: 'shaped' }] }],
  });
  let warm = 0;
  target.on('message', (bytes) => {
    if (bytes[0] === 0x23) return; // a bundle that asks whether anybody is there
    const number = bytes.readInt32BE(bytes.length - 4);
    if (number === 0) warm++;
    else arrived(number);
  });
  const template = Buffer.from(
    encodeOsc({ kind: 'osc', address: '/bench/in', args: [{ type: 'i', value: 0 }] }),
  );
  const say = (number: number): void => {
    const packet = Buffer.from(template);
    packet.writeInt32BE(number, packet.length - 4);
    source.send(packet, listenPort, '127.0.0.1');
  };
  const warmUp = (): Promise<unknown> => {
    warm = 0;
    return until(() => {
      for (let times = 0; times < AT_ONCE; times++) say(0);
      return warm > WARM;
    }, 'it is warm');
  };
  await warmUp();
  return {
    say,
    warmUp,
    close() {
      source.close();
      target.close();
    },
  };
}
