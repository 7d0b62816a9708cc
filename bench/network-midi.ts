/**
 * (z) Network MIDI on loopback: what a session with its journal adds to a bare UDP packet, the octets of journal in play, a flood of commands, and what
 * eight participants cost.
 */
import { createSocket, type Socket } from 'node:dgram';
import { decodeCommandSection } from '@tawny-signal/core/network-midi/command-section';
import { decodeRtp } from '@tawny-signal/core/network-midi/rtp';
import { isSessionCommand } from '@tawny-signal/core/network-midi/session-command';
import { createSession, type Session } from '@tawny-signal/core/network-midi/session/session';
import { makeLine } from '@tawny-signal/core/show/line';
import type { MidiSignal } from '@tawny-signal/core/signal';
import type { LineState } from '@tawny-signal/core/live/line-state';
import { openNetworkMidi } from '../engine/drivers/network-midi/network-midi.js';
import type { LineListener } from '../engine/drivers/driver.js';
import type { Results } from './results.js';

const TRIPS = 3000;
const FLOOD_PER_SECOND = 5000;
const FLOOD_SECONDS = 10;
const PLAYED = 4000;
const PAIR = 29_500;

const quantile = (values: number[], at: number): number =>
  [...values].sort((one, other) => one - other)[Math.floor(values.length * at)]!;
const wait = (ms: number): Promise<void> => new Promise((done) => setTimeout(done, ms));

interface End {
  driver: ReturnType<typeof openNetworkMidi>;
  state: () => LineState | null;
  onHeard: (heard: () => void) => void;
}

function openEnd(port: number, calls: string[]): End {
  let state: LineState | null = null;
  let seen = {};
  let heard = (): void => undefined;
  const listener: LineListener = {
    heard: () => heard(),
    bad: () => undefined,
    gone: () => undefined,
    carried: () => undefined,
    holdUp: () => false,
    take: (work) => work(Infinity),
    state: (next) => (state = { ...next, ...seen }),
    seen(next) {
      seen = next;
      if (state) state = { ...state, ...next };
    },
  };
  const line = makeLine({
    id: 'z',
    kind: 'midi-network',
    name: 'Z',
    session: 'Z',
    port,
    calls,
    mayJoin: 'anyone',
  });
  return { driver: openNetworkMidi(line, listener), state: () => state, onHeard: (next) => (heard = next) };
}

const press = (number: number): MidiSignal => ({ kind: 'noteOn', channel: 0, number, value: 100 });
const release = (number: number): MidiSignal => ({ kind: 'noteOff', channel: 0, number, value: 64 });

async function openBare(): Promise<{ send(): void; onHeard(heard: () => void): void; close(): void }> {
  const [one, other] = [createSocket('udp4'), createSocket('udp4')];
  const bound = (socket: Socket): Promise<void> =>
    new Promise((done) => socket.bind(0, '127.0.0.1', () => done()));
  await Promise.all([bound(one), bound(other)]);
  const { port } = other.address();
  const bytes = Uint8Array.of(0x90, 60, 100);
  let heard = (): void => undefined;
  other.on('message', () => heard());
  return {
    send: () => one.send(bytes, port, '127.0.0.1', () => undefined),
    onHeard: (next) => void (heard = next),
    close() {
      one.close();
      other.close();
    },
  };
}

/** How long each message takes, in ms: by turns over a session and over bare sockets. */
async function trips(near: End, far: End): Promise<{ ours: number[]; bare: number[] }> {
  const plain = await openBare();
  const ours: number[] = [];
  const bare: number[] = [];
  const once = (send: () => void, on: (heard: () => void) => void): Promise<number> =>
    new Promise((done) => {
      const began = performance.now();
      on(() => done(performance.now() - began));
      send();
    });
  for (let n = 0; n < TRIPS; n++) {
    const number = 36 + ((n >> 1) % 48);
    const signal = n % 2 === 0 ? press(number) : release(number);
    ours.push(await once(() => near.driver.send(signal), far.onHeard));
    bare.push(await once(plain.send, plain.onHeard));
    await wait(1);
  }
  plain.close();
  return { ours, bare };
}

/** @returns how many of the commands were heard */
async function flood(near: End, far: End): Promise<{ sent: number; heard: number }> {
  let heard = 0;
  let sent = 0;
  far.onHeard(() => heard++);
  const began = performance.now();
  while (performance.now() - began < FLOOD_SECONDS * 1000) {
    const due = ((performance.now() - began) * FLOOD_PER_SECOND) / 1000;
    for (; sent < due; sent++) {
      const signal: MidiSignal = {
        kind: 'controlChange',
        channel: sent % 4,
        number: sent % 32,
        value: sent % 128,
      };
      if (!near.driver.send(signal)) throw new Error('nobody is there');
    }
    await wait(1);
  }
  await wait(1000);
  return { sent, heard };
}

/** Sessions that are linked without sockets. @param count of participants that the first one calls */
function linked(count: number): { first: Session; rtp: Uint8Array[]; pass(ms: number): void } {
  const rtp: Uint8Array[] = [];
  const sessions = new Map<string, Session>();
  const queue: (() => void)[] = [];
  let now = 0;
  let number = 1;
  for (let n = 0; n <= count; n++) {
    const host = `m${n}`;
    sessions.set(
      host,
      createSession(
        { name: host, ssrc: n + 1, firstSequence: 1, sysexLimit: 1024, mayJoin: () => true },
        {
          send(port, to, bytes) {
            if (n === 0 && !isSessionCommand(bytes)) rtp.push(bytes);
            queue.push(() =>
              sessions.get(to.host)?.hear(port, { host, port: port === 'control' ? 4 : 5 }, bytes, now),
            );
          },
          heard: () => undefined,
          bad: () => undefined,
          changed: () => undefined,
          random: () => number++,
        },
      ),
    );
  }
  const first = sessions.get('m0')!;
  for (let n = 1; n <= count; n++) first.call({ host: `m${n}`, port: 4 });
  return {
    first,
    rtp,
    pass(ms) {
      for (const end = now + ms; now < end; now++) {
        for (const one of queue.splice(0)) one();
        for (const one of sessions.values()) if (one.wakeAt() <= now) one.wake(now);
      }
    },
  };
}

/** Plays notes and faders 5 ms apart. @returns µs that a command took, and the octets of journal in a packet */
function play(count: number): { us: number; journals: number[] } {
  const { first, rtp, pass } = linked(count);
  pass(100);
  rtp.length = 0;
  let took = 0;
  let now = 100;
  for (let n = 0; n < PLAYED; n++) {
    const number = 36 + ((n >> 1) % 48);
    const note = Uint8Array.of(n % 2 === 0 ? 0x90 : 0x80, number, 64);
    const fader = Uint8Array.of(0xb0, n % 8, n % 128);
    const began = performance.now();
    first.play(
      [
        { at: now, bytes: note },
        { at: now, bytes: fader },
      ],
      now,
    );
    took += performance.now() - began;
    pass(5);
    now += 5;
  }
  const journals = rtp.map((bytes) => decodeCommandSection(decodeRtp(bytes).payload).journal?.length ?? 0);
  return { us: (took * 1000) / (PLAYED * 2), journals };
}

export async function benchNetworkMidi(results: Results): Promise<void> {
  const far = openEnd(PAIR, []);
  const near = openEnd(PAIR + 2, [`127.0.0.1:${PAIR}`]);
  while (near.state()?.state !== 'open' || far.state()?.state !== 'open') await wait(20);
  await wait(500);
  const { ours, bare } = await trips(near, far);
  const { sent, heard } = await flood(near, far);
  const lost = far.state()!.network!.participants[0]!.lost;
  await near.driver.close();
  await far.driver.close();
  play(1);
  const [one, eight] = [play(1), play(8)];
  const added = (at: number): number => quantile(ours, at) - quantile(bare, at);
  console.log(
    `(z) network MIDI on loopback: a message takes ${quantile(ours, 0.5).toFixed(3)} ms (p99 ${quantile(ours, 0.99).toFixed(3)}), ` +
      `a bare packet ${quantile(bare, 0.5).toFixed(3)} ms (p99 ${quantile(bare, 0.99).toFixed(3)}): ` +
      `${added(0.5).toFixed(3)} ms more, ${added(0.99).toFixed(3)} at p99`,
  );
  console.log(
    `    ${FLOOD_PER_SECOND} commands a second for ${FLOOD_SECONDS} s: ${heard} of ${sent} were heard, ${lost} packets were lost; ` +
      `journals of ${quantile(one.journals, 0.5)} octets (p99 ${quantile(one.journals, 0.99)}) with 200 notes and 200 faders a second; ` +
      `a command takes ${one.us.toFixed(2)} µs with one participant, ${eight.us.toFixed(2)} µs with eight`,
  );
  results.add('z ms that a session adds to a bare packet', added(0.5), 1);
  results.add('z ms that it adds at p99', added(0.99), 2);
  results.add('z commands of a flood that were not heard', sent - heard, 0);
  results.add('z octets of journal, median', quantile(one.journals, 0.5), 100);
  results.add('z command with eight participants to one', eight.us / one.us, 2);
}
