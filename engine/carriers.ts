/** Who carries which ports to us now, and which line each of them is plugged into. */
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
  /** All the ports that a carrier has now; what it had and does not name is unplugged. */
  offer(carrier: number, ports: OfferedPort[]): void;
  /** The carrier's connection closed. */
  leave(carrier: number): void;
  /** All of theirs did. */
  leaveAll(): void;
  /** Bytes from a carrier's port, by its place in what was offered last. */
  receive(carrier: number, port: number, bytes: Uint8Array): void;
  /** A line was opened that wants a port. */
  join(line: CarriedLine, driver: CarriedDriver): void;
  part(lineId: string): void;
}

/** @param send bytes out to a carrier's port */
export function createCarriers(send: (carrier: number, port: number, bytes: Uint8Array) => void): Carriers {
  const carriers = new Map<number, Carrier>();
  const entries = new Map<string, CarriedEntry>();

  /**
   * The ports that a line wants. Of a browser's port there is one: the first carrier to have offered it keeps the
   * line, so that two tabs don't say everything twice. A stand-in's port may be played from several places.
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
        // The same port at the same place is the same: what goes on through it is not interrupted.
        const same = before[at];
        if (
          same?.kind === port.kind &&
          same.name === port.name &&
          same.in === port.in &&
          same.out === port.out &&
          same.held === port.held
        )
          return same;
        return { ...port, send: (bytes) => send(id, at, bytes) };
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
    receive(id, at, bytes) {
      const port = carriers.get(id)?.ports[at];
      if (!port) return;
      for (const { driver } of entries.values()) driver.receive(port, bytes);
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
