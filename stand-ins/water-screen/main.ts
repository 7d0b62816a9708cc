/**
 * The water screen: a program of its own that hears OSC over UDP, decoded by a package that is not ours,
 * and shows what it understood as a moving scene.
 */
import { fromBuffer, type OscPacketOutput } from 'osc-min';
import { connectStandIn, endWithParent, fromEnvironment, portsFromEnvironment } from '../live/connection.js';
import { listenUdp } from '../live/udp.js';
import { createLog } from '../live/log.js';
import { firstScene, take, takeTime, understood } from './scene.js';

interface Received {
  address: string;
  args: unknown[];
  understood: boolean;
}

const port = portsFromEnvironment().water;
const scene = firstScene();
const log = createLog<Received>();
let bad = 0;
let trouble = '';

const connection = connectStandIn({
  name: 'water-screen',
  serverPort: fromEnvironment('TAWNY_PORT'),
  ports: [],
  asked: () => undefined,
  state: () => ({ port, scene, ...log.seen(), bad, trouble, understood }),
});

function hear(packet: OscPacketOutput): void {
  if (packet.oscType === 'bundle') {
    for (const element of packet.elements) hear(element);
    return;
  }
  const args = packet.args.map((arg) => ('value' in arg && typeof arg.value !== 'object' ? arg.value : null));
  if (takeTime(scene, packet.address, args)) return;
  log.add({ address: packet.address, args, understood: take(scene, packet.address, args) });
}

listenUdp(port, {
  packet(bytes) {
    try {
      hear(fromBuffer(Buffer.from(bytes)));
    } catch {
      bad++;
    }
    connection.changed();
  },
  trouble(words) {
    trouble = words;
    connection.changed();
  },
});
endWithParent();
