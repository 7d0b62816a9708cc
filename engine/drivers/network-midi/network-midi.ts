/** A session of network MIDI: its sockets, its timers, and what is seen of it. Who takes part and what is said is decided in core/network-midi/session. */
import { randomBytes } from 'node:crypto';
import { isIPv6 } from 'node:net';
import { encodeSignal } from '@tawny-signal/core/bytes';
import type { FoundSession, NetworkSeen } from '@tawny-signal/core/live/line-state';
import { createMidiParser } from '@tawny-signal/core/midi/parser';
import type { HowHeard } from '@tawny-signal/core/network-midi/session/host';
import { createSession, type Session } from '@tawny-signal/core/network-midi/session/session';
import type { Participant } from '@tawny-signal/core/network-midi/session/participant';
import type { OutgoingCommand } from '@tawny-signal/core/network-midi/stream-out';
import { foundNameOf } from '@tawny-signal/core/show/whom';
import { isMidi } from '@tawny-signal/core/signal';
import { inSlices } from '../../intake.js';
import { tellBad, waiting, type LineDriver, type LineListener, type LineOf } from '../driver.js';
import { createEvenly } from './evenly.js';
import { openFinder, type Finder } from './finder.js';
import { createListenTrouble } from '../listening.js';
import { addressOf, createSends, openPortPair, PairTrouble, type PortPair } from './port-pair.js';
import { createTimers } from '../retry.js';
import { createTroubles } from '../troubles.js';
import { createGate } from '../who-may.js';
import { callWhom, type Whom } from './whom.js';
import { ORIGIN } from '../../origin.js';

export type NetworkMidiLine = LineOf<'midi-network'>;

/** What is seen is told this often while somebody is there. */
const SEEN_MS = 1000;
/** Commands that wait to leave together. More are not sent. */
const MOST_WAITING = 4096;
const NOBODY = 'Nobody is connected.';

/** What the traffic says of a message that nobody played just now. */
function noteOf({ name, control }: Participant, how: HowHeard): string | undefined {
  const who = name || control.host;
  if (how === 'repaired') return `made good: what ${who} played was lost, and a later packet told of it`;
  return how === 'left' ? `released, because nothing comes from ${who} any more` : undefined;
}

/** The pair that each line had last: others call it there, also after its row has changed. */
const pairsBefore = new Map<string, number>();

const random32 = (): number => randomBytes(4).readUInt32BE();

function seenOf(one: Participant, now: number): NetworkSeen['participants'][number] {
  const latency = one.clock.latencyMs();
  return {
    name: one.name || one.control.host,
    host: one.control.host,
    port: one.control.port,
    since: one.since + ORIGIN,
    weCalled: one.weCalled,
    latencyMs: Number.isFinite(latency) ? latency : null,
    latencies: one.clock.latencies().map(({ at, ms }) => ({ at: at + ORIGIN, ms })),
    offsetMs: one.clock.offsetMs(now),
    lost: one.lost,
    recovered: one.recovered,
    late: one.late,
  };
}

export function openNetworkMidi(line: NetworkMidiLine, listener: LineListener): LineDriver {
  const timers = createTimers();
  const first = waiting('Opening its ports.');
  const { say, wait } = createTroubles<'calls' | 'session' | 'names'>(
    listener,
    first,
    { in: 'open', out: 'open' },
    {
      calls: [],
      names: [],
      session: ['in', 'out'],
    },
  );
  const listenTrouble = createListenTrouble('udp', (words, wait) => say('in', words, wait));
  const isListed = createGate(line.hearFrom);
  const parser = createMidiParser(
    {
      message: (signal, bytes) => listener.heard(signal, bytes, note),
      bad: (reason, bytes) => listener.bad(`Not MIDI: ${reason}.`, bytes),
    },
    line.sysexKb * 1024,
  );
  const evenly = createEvenly(line.evenMs, take);
  /** What is special about the message that is heard now. */
  let note: string | undefined;
  const sends = createSends();
  let pair: PortPair | null = null;
  let session: Session | null = null;
  let whom: Whom | null = null;
  let finder: Finder | null = null;
  let found: FoundSession[] | null = null;
  let closed = false;
  let toSend: OutgoingCommand[] = [];
  let wakeTimer: NodeJS.Timeout | null = null;

  function mayJoin(host: string): boolean {
    if (line.mayJoin === 'anyone') return true;
    return line.mayJoin === 'listed' && line.hearFrom.length > 0 && isListed(host);
  }

  function take(bytes: Uint8Array, ageMs: number, words?: string): void {
    listener.take(
      inSlices(bytes, (part) => {
        note = words;
        parser.feed(part);
      }),
      bytes.length,
      ageMs,
    );
  }

  function tellSeen(): void {
    if (!session || closed) return;
    const now = performance.now();
    const network: NetworkSeen = {
      port: pair?.port ?? null,
      participants: session
        .participants()
        .filter(({ isProven }) => isProven)
        .map((one) => seenOf(one, now)),
      lateToPlay: evenly.late(),
      calling: session
        .calls()
        .filter(({ state, isOnce }) => state !== 'connected' && !isOnce)
        .map(({ to, isRefused }) => ({ ...to, refused: isRefused })),
      refused: session.refused().map((one) => ({ ...one, at: one.at + ORIGIN })),
      found,
    };
    listener.seen({ network });
    if (network.participants.length > 0) say('session', null);
    else if (line.calls.length > 0) say('session', nobodyWords(network));
    // Nobody is missed where others may come when they like.
    else wait('session', nobodyWords(network));
  }

  /** Says whom it waits for. */
  function nobodyWords({ calling, port }: NetworkSeen): string {
    const refusing = calling.find(({ refused }) => refused);
    if (refusing)
      return `${refusing.host}:${refusing.port} does not let us in. Let “${line.session}” in there.`;
    const [one] = calling;
    if (one) return `${NOBODY} ${one.host}:${one.port} has not answered; it is called again and again.`;
    const [name] = whom?.missing() ?? [];
    if (name !== undefined) return `${NOBODY} “${name}” has not been found on the network yet.`;
    if (line.mayJoin === 'nobody') return `${NOBODY} Write whom to call, or let others in.`;
    return `${NOBODY} Others reach it at port ${port ?? '?'}.`;
  }

  /** After everything that may have brought something due nearer. */
  function schedule(): void {
    if (!session || closed) return;
    if (wakeTimer) clearTimeout(wakeTimer);
    const inMs = session.wakeAt() - performance.now();
    if (inMs === Infinity) return;
    wakeTimer = setTimeout(wake, Math.max(0, inMs));
  }

  function wake(): void {
    if (closed) return;
    session?.wake(performance.now());
    schedule();
  }

  function opened(next: PortPair): void {
    pair = next;
    pairsBefore.set(line.id, next.port);
    listenTrouble.over();
    say('in', null);
    session = createSession(
      {
        name: line.session,
        ssrc: random32(),
        firstSequence: random32() & 0xffff,
        sysexLimit: line.sysexKb * 1024,
        mayJoin,
      },
      {
        send: (port, to, bytes) => sends.send(next[port], to, bytes),
        heard: (from, bytes, ageMs, how) => evenly.take(bytes, ageMs, noteOf(from, how)),
        bad: (reason, bytes) => tellBad(listener, reason, bytes.slice()),
        changed: tellSeen,
        random: random32,
      },
    );
    for (const port of ['control', 'data'] as const)
      next[port].on('message', (bytes, from) => {
        session?.hear(port, addressOf(from), bytes, performance.now());
        schedule();
      });
    whom = callWhom(line, session, next.port, timers, {
      called: schedule,
      trouble: (words, tryInMs) => !closed && say('calls', words, tryInMs),
    });
    if (line.byName) look(next.port);
    tellSeen();
    tellAgain();
    schedule();
  }

  /** Announces the session, and looks for others. */
  function look(port: number): void {
    if (isIPv6(line.listenHost))
      return say('names', 'Sessions are found by name over IPv4 only. Addresses work as before.');
    finder = openFinder(
      {
        name: line.session,
        port,
        host: line.listenHost,
        called: line.calls.flatMap((text) => foundNameOf(text) ?? []),
      },
      {
        found(all) {
          found = all;
          whom?.found(all);
          tellSeen();
        },
        trouble: (words) => say('names', words),
      },
    );
  }

  function tellAgain(): void {
    timers.later(SEEN_MS, () => {
      if (found) whom?.found(found);
      if (session?.participants().length) tellSeen();
      tellAgain();
    });
  }

  function listen(tries: number): void {
    void openPortPair(line.listenHost, line.port, pairsBefore.get(line.id) ?? null).then(
      (next) => (closed ? next.close() : opened(next)),
      (error: unknown) => {
        if (closed) return;
        const { port, code } =
          error instanceof PairTrouble ? error : new PairTrouble(line.port ?? 0, undefined);
        const wait = listenTrouble.failed(port, line.listenHost, code, tries);
        timers.later(wait, () => listen(tries + 1));
      },
    );
  }
  listen(0);

  /** What was sent in the same turn leaves together. */
  function flush(): void {
    const commands = toSend;
    toSend = [];
    if (closed || !session) return;
    session.play(commands, performance.now());
    schedule();
  }

  return {
    send(signal) {
      if (!isMidi(signal) || !session?.participants().some(({ isProven }) => isProven)) return null;
      if (toSend.length >= MOST_WAITING) return null;
      const bytes = encodeSignal(signal);
      if (toSend.length === 0) setImmediate(flush);
      toSend.push({ at: performance.now(), bytes });
      return bytes;
    },
    close() {
      flush();
      session?.close(performance.now());
      closed = true;
      if (wakeTimer) clearTimeout(wakeTimer);
      evenly.stop();
      timers.stop();
      listenTrouble.over();
      const closePair = (): void => {
        pair?.close();
        pair = null;
      };
      return Promise.all([sends.done().then(closePair), finder?.close()]).then(() => undefined);
    },
  };
}
