/**
 * MIDI on a port that somebody carries to us over the live connection: a browser tab its Web MIDI ports,
 * a stand-in its own. The line knows its port by kind and name, so it opens whenever that port appears.
 */
import { encodeMidi } from '@tawny-signal/core/midi/message';
import { createMidiParser, type MidiParser } from '@tawny-signal/core/midi/parser';
import type { LineState } from '@tawny-signal/core/live/messages';
import { OPEN, waiting, type LineDriver, type LineListener, type LineOf } from './driver.js';

export type CarriedLine = LineOf<'midi-browser' | 'midi-inside'>;

/** A port as the thread knows it: who carries it, and how to send to it. */
export interface CarriedPort {
  kind: CarriedLine['kind'];
  name: string;
  in: boolean;
  out: boolean;
  /** Copies the bytes. */
  send(bytes: Uint8Array): void;
}

export interface CarriedDriver extends LineDriver {
  /** Gives the line the ports that it wants, or says why there are none. */
  plug(ports: CarriedPort[], why: PortGone): void;
  /** Bytes from a port; those of a port that is not plugged are not heard. */
  receive(port: CarriedPort, bytes: Uint8Array): void;
}

/** Why there is no port: not seen yet, unplugged while its carrier is still here, or the carrier itself gone. */
export type PortGone = 'unseen' | 'unplugged' | 'carrier gone';

function absence(line: CarriedLine, why: PortGone): LineState {
  const port = `“${line.port}”`;
  if (line.kind === 'midi-inside') {
    return waiting(
      `Nobody plays ${port}: its stand-in is not running, or no page with it is open. It is picked up by itself.`,
    );
  }
  switch (why) {
    case 'unseen':
      return waiting(
        `No open browser tab has a MIDI port called ${port}. Plug it in, or allow MIDI under Lines.`,
      );
    case 'unplugged':
      return waiting(`${port} was unplugged. It is picked up when it is plugged in again.`);
    case 'carrier gone':
      return waiting(`The browser tab that held ${port} is gone. Open Tawny Signal in that browser again.`);
  }
}

export function openCarriedMidi(line: CarriedLine, listener: LineListener): CarriedDriver {
  const buffer = new Uint8Array(65_536);
  /** Each port is a byte stream of its own, with its own running status. */
  let plugged = new Map<CarriedPort, MidiParser>();
  const newParser = (): MidiParser =>
    createMidiParser({
      message: (signal, bytes) => listener.heard(signal, bytes),
      bad: (reason, bytes) => listener.bad(`Not MIDI: ${reason}.`, bytes),
    });
  listener.state(absence(line, 'unseen'));

  return {
    plug(ports, why) {
      const before = plugged;
      plugged = new Map(ports.map((port) => [port, before.get(port) ?? newParser()]));
      if ([...before.keys()].some((port) => !plugged.has(port))) listener.gone();
      if (before.size > 0 !== plugged.size > 0) listener.state(plugged.size > 0 ? OPEN : absence(line, why));
    },
    receive(port, bytes) {
      plugged.get(port)?.feed(bytes);
    },
    send(signal) {
      if (signal.kind === 'osc') return null;
      if (signal.kind === 'sysex' && signal.bytes.length > buffer.length) return null;
      const bytes = buffer.subarray(0, encodeMidi(signal, buffer));
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
