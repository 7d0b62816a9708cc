/**
 * A port that a client connects over the live connection: a browser tab its Web MIDI ports and its keyboard, a stand-in its own. The line knows
 * its port by kind and name, and opens whenever that port appears.
 */
import { encodeSignal } from '@tawny-signal/core/bytes';
import { decodeKey, encodeKey, KeyError } from '@tawny-signal/core/keys/key';
import { encodeMidi } from '@tawny-signal/core/midi/message';
import { createMidiParser } from '@tawny-signal/core/midi/parser';
import type { LineState, Side } from '@tawny-signal/core/live/line-state';
import { CARRIES, soundPort } from '@tawny-signal/core/show/line';
import { isMidi, type Signal } from '@tawny-signal/core/signal';
import { decodeTimecode, encodeTimecode } from '@tawny-signal/core/timecode/signal';
import { inSlices } from '../intake.js';
import { OPEN, trouble, waiting, type LineDriver, type LineListener, type LineOf } from './driver.js';

export type CarriedLine = LineOf<
  'midi-browser' | 'midi-inside' | 'keys-browser' | 'keys-inside' | 'sound-browser'
>;

/** Returns the name of the port of a line. A browser has one keyboard; each channel of its sound is a port. */
export function portOf(line: CarriedLine): string {
  if (line.kind === 'keys-browser') return 'Keyboard';
  return line.kind === 'sound-browser' ? soundPort(line) : line.port;
}

/** A port: the client that it belongs to, and how to send to it. */
export interface CarriedPort {
  /** The number of its client. */
  carrier: number;
  kind: CarriedLine['kind'];
  name: string;
  in: boolean;
  out: boolean;
  /** True if its client cannot open it because another program uses it. */
  held?: boolean | undefined;
  /** Copies the bytes. */
  send(bytes: Uint8Array): void;
}

export interface CarriedDriver extends LineDriver {
  /** Gives the line its ports, or the reason why there are none. */
  plug(ports: CarriedPort[], why: PortGone): void;
  /** Bytes from a port. Those of a port that the line does not use are ignored. */
  receive(port: CarriedPort, bytes: Uint8Array, ageMs?: number): void;
}

/** Why there is no port: not seen yet, unplugged while its carrier is still here, the carrier itself gone, or held by another program. */
export type PortGone = 'unseen' | 'unplugged' | 'carrier gone' | 'held';

function absence(line: CarriedLine, why: PortGone): LineState {
  const port = `“${portOf(line)}”`;
  switch (line.kind) {
    case 'midi-inside':
    case 'keys-inside':
      return waiting(`${port} isn’t running. It reconnects automatically.`);
    case 'keys-browser':
      return waiting(
        'No browser tab plays its keyboard on this line. Switch it on under Lines, where this line is open.',
      );
    case 'sound-browser':
      return why === 'unplugged'
        ? waiting(
            `${port} is not there any more, or its sound was switched off. Switch it on under Lines, where this line is open.`,
          )
        : waiting(
            `No open browser tab has the sound of ${port} switched on. Open this line under Lines in that browser, and switch it on.`,
          );
    case 'midi-browser':
      switch (why) {
        case 'unseen':
          return waiting(
            `No open browser tab has a MIDI port called ${port}. Plug it in, or allow MIDI under Lines.`,
          );
        case 'unplugged':
          return waiting(`${port} was unplugged. It reconnects when it is plugged in.`);
        case 'held':
          return trouble(
            `Another program uses ${port}. Close it there; it reconnects when the port is free.`,
          );
        case 'carrier gone':
          return waiting(`The browser tab with ${port} was closed. Open Tawny Signal in that browser again.`);
      }
  }
}

interface Receiver {
  feed(bytes: Uint8Array): void;
}

function createReceiver(line: CarriedLine, listener: LineListener): Receiver {
  if (CARRIES[line.kind] === 'midi') {
    const { sysexKb } = line as LineOf<'midi-browser' | 'midi-inside'>;
    return createMidiParser(
      {
        message: (signal, bytes) => listener.heard(signal, bytes),
        bad: (reason, bytes) => listener.bad(`Not MIDI: ${reason}.`, bytes),
      },
      sysexKb * 1024,
    );
  }
  if (line.kind === 'sound-browser')
    return {
      feed(bytes) {
        const frame = decodeTimecode(bytes);
        if (frame) listener.heard(frame, bytes);
        else listener.bad('Not a frame of timecode.', bytes);
      },
    };
  return {
    feed(bytes) {
      try {
        listener.heard(decodeKey(bytes), bytes);
      } catch (error) {
        if (!(error instanceof KeyError)) throw error;
        listener.bad(`Not a key: ${error.message}.`, bytes);
      }
    },
  };
}

export function openCarried(line: CarriedLine, listener: LineListener): CarriedDriver {
  const buffer = new Uint8Array(65_536);
  const protocol = CARRIES[line.kind];
  /** Each port is a byte stream of its own, with its own running status. */
  let plugged = new Map<CarriedPort, Receiver>();
  let told: PortGone | 'plugged' = 'unseen';
  listener.state(absence(line, told));

  function bytesOf(signal: Signal): Uint8Array | null {
    if (protocol === 'sound') return signal.kind === 'timecode' ? encodeTimecode(signal) : null;
    if (protocol === 'keys') return signal.kind === 'key' ? encodeKey(signal) : null;
    if (!isMidi(signal)) return null;
    if (signal.kind === 'sysex') return encodeSignal(signal);
    return buffer.subarray(0, encodeMidi(signal, buffer));
  }

  return {
    plug(ports, why) {
      const before = plugged;
      const free = ports.filter(({ held }) => !held);
      plugged = new Map(free.map((port) => [port, before.get(port) ?? createReceiver(line, listener)]));
      if ([...before.keys()].some((port) => !plugged.has(port))) listener.gone();
      const isNew = free.some((port) => !before.has(port));
      const now = plugged.size > 0 ? 'plugged' : ports.length > 0 ? 'held' : why;
      // While there is no port, the last reason stays unless a better one is known. That another client left is no reason.
      const same =
        now === told || (told !== 'plugged' && now !== 'plugged' && now !== 'held' && told !== 'held');
      if (same && !(now === 'plugged' && isNew)) return;
      told = now;
      if (now !== 'plugged') return listener.state(absence(line, now));
      const side = (of: 'in' | 'out'): Side => (free.some((port) => port[of]) ? 'open' : 'none');
      const [first] = free;
      const carrier = line.kind.endsWith('-browser') && first ? { carrier: first.carrier } : {};
      listener.state({ ...OPEN, sides: { in: side('in'), out: side('out') }, ...carrier });
    },
    receive(port, bytes, ageMs) {
      const receiver = plugged.get(port);
      if (!receiver) return;
      // A key is one message; MIDI is a stream.
      const feed = (part: Uint8Array): void => receiver.feed(part);
      const work = protocol === 'midi' ? inSlices(bytes, feed) : () => (feed(bytes), true);
      listener.take(work, bytes.length, ageMs);
    },
    send(signal) {
      const bytes = bytesOf(signal);
      if (!bytes) return null;
      let left = false;
      for (const port of plugged.keys()) {
        if (!port.out) continue;
        port.send(bytes);
        left = true;
      }
      return left ? bytes : null;
    },
    close() {
      plugged.clear();
    },
  };
}
