/** The carriers that are connected, their ports, and the line that each port is plugged into. */
import type { OfferedPort } from '@tawny-signal/core/link/messages';
import {
  portOf,
  type CarriedDriver,
  type CarriedLine,
  type CarriedPort,
  type PortGone,
} from './drivers/carried.js';

interface Carrier {
  id: number;
  ports: CarriedPort[];
}

interface CarriedEntry {
  line: CarriedLine;
  driver: CarriedDriver;
}

export interface Carriers {
  /** Sets all ports of a carrier. Ports that are not named any more are unplugged. */
  offer(carrier: number, ports: OfferedPort[]): void;
  /** The connection of a carrier has closed. */
  leave(carrier: number): void;
  /** All connections have closed. */
  leaveAll(): void;
  /** Takes bytes from a port of a carrier, which is named by its place in the last offer. @param ageMs how long ago they arrived there */
  receive(carrier: number, port: number, bytes: Uint8Array, ageMs?: number): void;
  /** A line that wants a port was opened. */
  join(line: CarriedLine, driver: CarriedDriver): void;
  part(lineId: string): void;
}

/** @param send sends bytes to a port of a carrier */
export function createCarriers(send: (carrier: number, port: number, bytes: Uint8Array) => void): Carriers {
  const carriers = new Map<number, Carrier>();
  const entries = new Map<string, CarriedEntry>();

  /**
   * Returns the ports for a line. A browser's port is taken from the first carrier that offers it, so that two tabs do not send everything twice. A
   * stand-in's port may be played from several places.
   */
  function find(line: CarriedLine): CarriedPort[] {
    const found = [...carriers.values()].flatMap(({ ports }) =>
      ports.filter((port) => port.kind === line.kind && port.name === portOf(line)),
    );
    return line.kind.endsWith('-browser') ? found.slice(0, 1) : found;
  }

  function plugAll(why: PortGone): void {
    for (const { line, driver } of entries.values()) driver.plug(find(line), why);
  }

  return {
    offer(id, offered) {
      const before = carriers.get(id)?.ports ?? [];
      const ports = offered.map((port, at): CarriedPort => {
        // A port that is offered again at the same place keeps its state.
        const same = before[at];
        if (
          same?.kind === port.kind &&
          same.name === port.name &&
          same.in === port.in &&
          same.out === port.out &&
          same.held === port.held
        )
          return same;
        return { ...port, carrier: id, send: (bytes) => send(id, at, bytes) };
      });
      carriers.set(id, { id, ports });
      plugAll('unplugged');
    },
    leave(id) {
      if (carriers.delete(id)) plugAll('carrier gone');
    },
    leaveAll() {
      if (carriers.size === 0) return;
      carriers.clear();
      plugAll('carrier gone');
    },
    receive(id, at, bytes, ageMs) {
      const port = carriers.get(id)?.ports[at];
      if (!port) return;
      for (const { driver } of entries.values()) driver.receive(port, bytes, ageMs);
    },
    join(line, driver) {
      entries.set(line.id, { line, driver });
      driver.plug(find(line), 'unseen');
    },
    part(lineId) {
      entries.delete(lineId);
    },
  };
}
