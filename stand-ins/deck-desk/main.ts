/** The deck desk: twelve faders that send their levels as Art-Net, written by a package that is not ours. */
import { createSocket } from 'node:dgram';
import { ArtDmx } from 'artnet-protocol/dist/protocol.js';
import { connectStandIn, endWithParent, fromEnvironment, portsFromEnvironment } from '../live/connection.js';
import { createDesk, FADERS } from './desk.js';

const UNIVERSE = 0;
/** DMX512-A: a full universe can't be sent faster than 44 times a second. */
const FRAME_MS = 1000 / 44;
const REPEAT_MS = 1000;
const DUST_MS = 60;

const port = portsFromEnvironment().deck;
const socket = createSocket('udp4');
// A desk does not know whether anybody receives it.
socket.on('error', () => undefined);
const desk = createDesk();
let sequence = 0;
let frames = 0;
let sentAt = -Infinity;
let due: NodeJS.Timeout | null = null;

type Ask = { do: 'set'; fader: number; level: number } | { do: 'dust'; fader: number | null };

const connection = connectStandIn({
  name: 'deck-desk',
  serverPort: fromEnvironment('TAWNY_PORT'),
  ports: [],
  asked(ask) {
    const wish = ask as Ask;
    if (wish.do === 'set') desk.set(wish.fader, wish.level);
    else desk.dust(wish.fader);
    soon();
    connection.changed();
  },
  state: () => ({ port, universe: UNIVERSE, count: FADERS, frames, ...desk.state() }),
});

function send(): void {
  due = null;
  sentAt = performance.now();
  sequence = (sequence % 255) + 1;
  frames++;
  const packet = new ArtDmx(sequence, 0, UNIVERSE, desk.levels(Math.random())).encode();
  socket.send(packet, port, '127.0.0.1', () => undefined);
}

function soon(): void {
  due ??= setTimeout(send, Math.max(0, sentAt + FRAME_MS - performance.now()));
}

setInterval(() => {
  const { dusty } = desk.state();
  if (performance.now() - sentAt >= (dusty === null ? REPEAT_MS : DUST_MS)) soon();
}, DUST_MS);
endWithParent();
