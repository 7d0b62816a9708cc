/**
 * The lantern rig: lamps along a pier and the lantern at its end, lit over sACN or Art-Net, whose packets are read by
 * packages that are not ours.
 */
import { decode as decodeArtNet, type ArtDmx } from 'artnet-protocol/dist/protocol.js';
import { Packet } from 'sacn';
import { connectStandIn, endWithParent, fromEnvironment, portsFromEnvironment } from '../live/connection.js';
import { listenUdp } from '../live/udp.js';
import { createRig, RIG, type RigFrame } from './rig.js';

const { rigSacn, rigArtnet } = portsFromEnvironment();
const rig = createRig();
const troubles = { sacn: '', artnet: '' };
let bad = 0;

const connection = connectStandIn({
  name: 'lantern-rig',
  serverPort: fromEnvironment('TAWNY_PORT'),
  ports: [],
  asked: () => undefined,
  state: () => ({
    sacnPort: rigSacn,
    artnetPort: rigArtnet,
    has: RIG,
    bad,
    trouble: [troubles.sacn, troubles.artnet].filter(Boolean).join(' '),
    ...rig.state(performance.now()),
  }),
});

/** E1.31's vector of data packets; others, such as discovery, carry no levels. */
const ROOT_DATA = 4;

function readSacn(bytes: Uint8Array): RigFrame | null {
  const buffer = Buffer.from(bytes);
  if (buffer.length > 22 && buffer.readUInt32BE(18) !== ROOT_DATA) return null;
  const { universe, sourceName, priority, sequence, options, payloadAsBuffer } = new Packet(buffer);
  return {
    protocol: 'sACN',
    universe,
    source: sourceName.replace(/\0.*$/s, ''),
    priority,
    sequence,
    levels: payloadAsBuffer ?? new Uint8Array(0),
    ended: (options & 0x40) !== 0,
  };
}

function readArtNet(bytes: Uint8Array, source: string): RigFrame | null {
  const packet = decodeArtNet(Buffer.from(bytes));
  if (!packet) throw new Error('no Art-Net');
  if (!('data' in packet)) return null;
  const { universe, sequence, data } = packet as ArtDmx;
  const levels = Uint8Array.from(data);
  return { protocol: 'Art-Net', universe, source, priority: null, sequence, levels, ended: false };
}

function take(read: () => RigFrame | null): void {
  try {
    const frame = read();
    if (frame) rig.take(frame, performance.now());
  } catch {
    bad++;
  }
  connection.changed();
}

function trouble(of: keyof typeof troubles): (words: string) => void {
  return (words) => {
    troubles[of] = words;
    connection.changed();
  };
}

listenUdp(rigSacn, { packet: (bytes) => take(() => readSacn(bytes)), trouble: trouble('sacn') });
listenUdp(rigArtnet, {
  packet: (bytes, from) => take(() => readArtNet(bytes, from.address)),
  trouble: trouble('artnet'),
});
// The rate falls, and a sender is missed, when nothing comes.
setInterval(() => connection.changed(), 500);
endWithParent();
