/** One universe of DMX over the network, Art-Net or sACN: heard as slots that change, sent as frames. */
import { encodeArtDmx, encodeArtPoll, encodeArtTimecode } from '@tawny-signal/core/dmx/artnet';
import { createFrames } from '@tawny-signal/core/dmx/frames';
import { encodeSacn, encodeSacnDiscovery, multicastAddress } from '@tawny-signal/core/dmx/sacn';
import { encodeSlot } from '@tawny-signal/core/dmx/slot';
import { createUniverse, SOURCE_LOST_MS } from '@tawny-signal/core/dmx/universe';
import type { TimecodeSignal } from '@tawny-signal/core/signal';
import { encodeTimecode, TIMECODE_BYTES } from '@tawny-signal/core/timecode/signal';
import type { LineState, SourceSeen } from '@tawny-signal/core/live/line-state';
import type { DmxHubs, DmxMember } from './dmx-hub.js';
import { OPEN, tellBad, type LineDriver, type LineListener, type LineOf } from './driver.js';
import { createTimers } from './retry.js';
import { createTroubles } from './troubles.js';
import { openUdpOut, sideOfTarget, type UdpOut, type UdpTarget } from './udp-out.js';
import { createGate, strangerWords } from './who-may.js';

export type DmxLine = LineOf<'artnet' | 'sacn'>;

/** A source that stops says so in three packets (E1.31, 6.2.6). */
const FAREWELLS = 3;
const LOOK_MS = 250;

/** Returns the target of the frames of a line; null for a line that only hears. One machine, unless broadcast or multicast was chosen. */
export function targetOf(line: DmxLine, cid: string): UdpTarget | null {
  const { port, everyone } = line;
  if (line.kind === 'sacn') {
    if (everyone) return { host: multicastAddress(line.universe), port, probe: null, everyone };
    const probe = encodeSacnDiscovery(cid, line.sourceName, [line.universe]);
    return line.host === null ? null : { host: line.host, port, probe };
  }
  if (line.host === null) return null;
  return { host: line.host, port, probe: everyone ? null : encodeArtPoll(), everyone };
}

/** @param cid the component identifier for sACN. It stays the same after a restart, so that receivers do not see two sources */
export function openDmx(line: DmxLine, listener: LineListener, hubs: DmxHubs, cid: string): LineDriver {
  const timers = createTimers();
  let sources: SourceSeen[] = [];
  let told: LineState = OPEN;
  const listening = line.listenPort !== null;
  const target = targetOf(line, cid);
  const { say, proven } = createTroubles(
    {
      state(state) {
        told = state;
        listener.state(listening ? { ...state, sources } : state);
      },
    },
    OPEN,
    { in: listening ? 'open' : 'none', out: sideOfTarget(target?.host ?? null) },
  );
  const leave = listening ? hear() : null;
  const out = target && openUdpOut(target, (words, wait) => say('out', words, wait), proven, timers);
  const frames = out && pace(out);

  function hear(): () => void {
    const universe = createUniverse();
    const mayHear = createGate(line.hearFrom);
    const signal = { kind: 'slot' as const, slot: 1, level: 0 };
    const record = new Uint8Array(3);
    const changed = (slot: number, level: number): void => {
      signal.slot = slot;
      signal.level = level;
      listener.heard(signal, encodeSlot(signal, record));
    };

    function listSources(): void {
      const now = universe.sources();
      const highest = now[0]?.priority ?? 0;
      const next = now.map(({ name, address, priority }) => ({
        name,
        address,
        priority,
        heard: priority === highest,
      }));
      if (JSON.stringify(next) === JSON.stringify(sources)) return;
      sources = next;
      if (sources.some(({ address }) => out?.isAt(address))) proven();
      listener.state({ ...told, sources });
    }

    const member: DmxMember = {
      universe: line.universe,
      group: line.everyone && line.kind === 'sacn' ? multicastAddress(line.universe) : null,
      levels(source, bytes) {
        listener.carried('in', bytes);
        listener.take(() => {
          universe.hear(source, performance.now(), changed);
          return true;
        }, bytes);
      },
      timecode(frame, from, bytes) {
        listener.carried('in', bytes);
        if (out?.isAt(from)) proven();
        listener.take(() => {
          const told: TimecodeSignal = { ...frame, speed: 1 };
          listener.heard(told, encodeTimecode(told, timeRecord));
          return true;
        }, bytes);
      },
      ended: (key) => universe.end(key, changed),
      bad: (reason, bytes) => tellBad(listener, reason, bytes),
      mayHear,
      stranger: (address, bytes) => tellBad(listener, strangerWords(address), bytes),
      trouble: (words, wait) => say('in', words, wait),
    };
    const look = setInterval(
      () => {
        universe.tick(performance.now(), changed);
        listSources();
      },
      Math.min(LOOK_MS, SOURCE_LOST_MS),
    );
    const part = hubs.join(line.kind, line.listenHost, line.listenPort!, member);
    return () => {
      clearInterval(look);
      part();
    };
  }

  /** Sends frames as they are due. */
  function pace(socket: UdpOut) {
    const universe = createFrames(line.kind === 'sacn');
    let timer: NodeJS.Timeout | null = null;
    let timerAt = Infinity;
    /** Waits until everything that is sent together has been set, so that no frame contains half of it. */
    let looking = false;
    let closed = false;

    function encode(levels: Uint8Array, sequence: number, terminated: boolean): Uint8Array {
      if (line.kind === 'artnet') return encodeArtDmx(line.universe, sequence, levels);
      const { universe: number, priority, sourceName } = line;
      return encodeSacn({
        cid,
        sourceName,
        priority,
        sequence,
        universe: number,
        preview: false,
        terminated,
        startCode: 0,
        levels,
      });
    }
    function send(terminated = false): void {
      const { levels, sequence } = universe.take(performance.now());
      const bytes = encode(levels, sequence, terminated);
      if (socket.send(bytes)) listener.carried('out', bytes.length);
      else universe.lost();
    }
    function plan(): void {
      const dueAt = universe.dueAt();
      if (dueAt >= timerAt) return;
      if (timer) clearTimeout(timer);
      timerAt = dueAt;
      timer = setTimeout(due, Math.max(0, Math.ceil(dueAt - performance.now())));
    }
    function due(): void {
      timerAt = Infinity;
      send();
      plan();
    }
    function look(): void {
      looking = false;
      if (closed) return;
      if (universe.dueAt() <= performance.now()) send();
      plan();
    }
    return {
      set(slot: number, level: number): void {
        universe.set(slot, level);
        if (looking) return;
        looking = true;
        queueMicrotask(look);
      },
      close(): void {
        closed = true;
        if (timer) clearTimeout(timer);
        if (!universe.begun || line.kind !== 'sacn') return;
        for (let i = 0; i < FAREWELLS; i++) send(true);
      },
    };
  }

  const record = new Uint8Array(3);
  const timeRecord = new Uint8Array(TIMECODE_BYTES);

  function sendTimecode(signal: TimecodeSignal): Uint8Array | null {
    if (line.kind !== 'artnet' || !out?.send(encodeArtTimecode(signal))) return null;
    return encodeTimecode(signal, timeRecord);
  }

  return {
    send(signal) {
      if (signal.kind === 'timecode') return sendTimecode(signal);
      if (signal.kind !== 'slot' || !frames) return null;
      frames.set(signal.slot, signal.level);
      return encodeSlot(signal, record);
    },
    close() {
      frames?.close();
      leave?.();
      timers.stop();
      out?.close();
    },
  };
}
