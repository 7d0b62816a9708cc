/**
 * The water screen: a program of its own that hears OSC over UDP, decoded by a package that is not ours,
 * and shows what it understood as a moving scene.
 */
import { createSocket } from 'node:dgram';
import { fromBuffer, type OscPacketOutput } from 'osc-min';
import { connectStandIn, endWithParent, fromEnvironment } from '../live/connection.js';
import { firstScene, take, understood } from './scene.js';

interface Received {
  seq: number;
  at: number;
  address: string;
  args: unknown[];
  understood: boolean;
}

const KEEP = 8;
const port = fromEnvironment('TAWNY_WATER_PORT');
const scene = firstScene();
let received: Received[] = [];
let count = 0;
let bad = 0;
let trouble = '';

const connection = connectStandIn({
  name: 'water-screen',
  serverPort: fromEnvironment('TAWNY_PORT'),
  ports: [],
  asked: () => undefined,
  state: () => ({ port, scene, received, count, bad, trouble, understood }),
});

function hear(packet: OscPacketOutput): void {
  if (packet.oscType === 'bundle') {
    for (const element of packet.elements) hear(element);
    return;
  }
  const args = packet.args.map((arg) => ('value' in arg && typeof arg.value !== 'object' ? arg.value : null));
  count++;
  const known = take(scene, packet.address, args);
  received = [
    { seq: count, at: Date.now(), address: packet.address, args, understood: known },
    ...received,
  ].slice(0, KEEP);
}

function listen(): void {
  const socket = createSocket('udp4');
  socket.on('message', (bytes) => {
    try {
      hear(fromBuffer(bytes));
    } catch {
      bad++;
    }
    connection.changed();
  });
  socket.on('error', (error: NodeJS.ErrnoException) => {
    trouble = error.code === 'EADDRINUSE' ? `Port ${port} is in use by another program.` : String(error.code);
    connection.changed();
    socket.close();
    setTimeout(listen, 1000);
  });
  socket.bind({ port, address: '127.0.0.1', exclusive: true }, () => {
    trouble = '';
    connection.changed();
  });
}

listen();
endWithParent();
