/**
 * The front-of-house machine: takes part in a network MIDI session as the side that is called, draws what it plays, and loses, repeats, delays and
 * reorders what comes. No package speaks the session, so that part is written here from the figures; RTP is read and written by a package.
 */
import { randomBytes } from 'node:crypto';
import type { RemoteInfo } from 'node:dgram';
import { connectStandIn, endWithParent, fromEnvironment, portsFromEnvironment } from '../live/connection.js';
import { createLog } from '../live/log.js';
import { listenUdp } from '../live/udp.js';
import { createBadAir, WAYS, type Way } from './bad-air.js';
import { createDesk } from './desk.js';
import { readJournal } from './journal.js';
import { readPacket, writePacket } from './packet.js';
import { createHouseSession, isCommand, ticks, type SessionPort } from './session.js';

const FEEDBACK_MS = 500;
const SHOW_MS = 1000;
const NAME = 'Front of house';

const { house } = portsFromEnvironment();
const ssrc = randomBytes(4).readUInt32BE();
const now = (): number => performance.now();
const desk = createDesk();
const log = createLog<{ bytes: number[]; understood: boolean }>();
const session = createHouseSession(ssrc, NAME, () => desk.begin());
const air = createBadAir(Math.random, (ms, act) => setTimeout(act, ms));
let sequence = randomBytes(2).readUInt16BE();
let bad = 0;
const troubles = { control: '', data: '' };
/** Where the caller's packets come from. */
let theirs: RemoteInfo | null = null;

type Ask = { do: 'air'; way: Way; percent: number } | { do: 'play'; number: number; velocity: number };

const isByte = (value: unknown): boolean =>
  Number.isInteger(value) && Number(value) >= 0 && Number(value) < 128;

function asked(ask: unknown): void {
  const wish = ask as Ask;
  if (wish.do === 'air' && WAYS.includes(wish.way) && wish.percent >= 0 && wish.percent <= 100)
    air.set(wish.way, wish.percent);
  if (wish.do === 'play' && isByte(wish.number) && isByte(wish.velocity)) play(wish.number, wish.velocity);
  connection.changed();
}

/** Presses a note on channel 1, or releases it with a force of 0. */
function play(number: number, velocity: number): void {
  if (!theirs || !session.caller(now())) return;
  sequence = (sequence + 1) & 0xffff;
  const command = [velocity > 0 ? 0x90 : 0x80, number, velocity || 64];
  data.send(writePacket(ssrc, sequence, ticks(now()) >>> 0, command), theirs);
}

function takePacket(bytes: Uint8Array): void {
  const packet = readPacket(bytes);
  if (packet.ssrc !== session.caller(now())?.ssrc) return;
  for (const command of desk.take(packet, readJournal))
    log.add({ bytes: command.slice(0, 8), understood: true });
}

function hear(port: SessionPort, bytes: Uint8Array, from: RemoteInfo): void {
  try {
    if (!isCommand(bytes)) takePacket(bytes);
    else {
      const answer = session.hear(port, bytes, now());
      if (answer) sockets[port].send(answer, from);
      if (answer && port === 'data') theirs = from;
    }
  } catch {
    bad++;
  }
  connection.changed();
}

const connection = connectStandIn({
  name: 'front-of-house',
  serverPort: fromEnvironment('TAWNY_PORT'),
  ports: [],
  asked,
  state: () => ({
    port: house,
    caller: session.caller(now())?.name ?? null,
    ...desk.state(),
    percent: air.percent,
    met: air.met,
    received: log.seen().received,
    bad,
    trouble: troubles.control || troubles.data,
  }),
});

const listen = (port: SessionPort, number: number): ReturnType<typeof listenUdp> =>
  listenUdp(number, {
    packet: (bytes, from) => air.pass(() => hear(port, bytes, from)),
    trouble(words) {
      troubles[port] = words;
      connection.changed();
    },
  });
const control = listen('control', house);
const data = listen('data', house + 1);
const sockets = { control, data };

let fedBack: number | null = null;
setInterval(() => {
  const last = desk.last();
  if (last === null || last === fedBack || !theirs) return;
  fedBack = last;
  control.send(session.feedback(last), { address: theirs.address, port: theirs.port - 1 });
}, FEEDBACK_MS);
// A caller that is silent for too long is dropped. No packet tells of that.
setInterval(() => connection.changed(), SHOW_MS);
endWithParent();
