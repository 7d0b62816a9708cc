/** The open lines: their drivers, their totals and their numbers. */
import type { Signal } from '@tawny-signal/core/signal';
import type { LineTotals } from '@tawny-signal/core/live/batch';
import type { BadSeen, LineState } from '@tawny-signal/core/live/line-state';
import { createHeldNotes, type HeldNotes } from '@tawny-signal/core/midi/held';
import { CARRIES, type Line, type Protocol } from '@tawny-signal/core/show/line';
import type { Carriers } from './carriers.js';
import { openCarried } from './drivers/carried.js';
import type { Intake } from './intake.js';
import type { Outside } from './outside.js';
import { watchDrops } from './drops.js';
import { openDmx } from './drivers/dmx.js';
import { createDmxHubs } from './drivers/dmx-hub.js';
import { waiting, type LineDriver, type LineListener } from './drivers/driver.js';
import { openKeysMachine } from './drivers/keys-machine.js';
import { openMachineMidi } from './drivers/machine-midi.js';
import { openNetworkMidi } from './drivers/network-midi/network-midi.js';
import { openOscTcp } from './drivers/osc-tcp.js';
import { openOscUdp } from './drivers/osc-udp.js';
import { openOscWs } from './drivers/osc-ws.js';
import { openSoundMachine } from './drivers/sound-machine.js';

/** Protocols with presses that have to be released. */
const PRESSES: readonly Protocol[] = ['midi', 'keys'];

export interface OpenLine {
  id: string;
  index: number;
  row: Line;
  driver: LineDriver;
  intake: Intake;
  totals: LineTotals;
  /** Notes that are down on the input. The ledger has those on the output. */
  heldIn: HeldNotes;
  lastBad: BadSeen | null;
  /** True if the totals have changed since the last report. */
  changed: boolean;
}

/** Is told about changes of lines. */
export interface LinesWatcher {
  /** The state of a line has changed. */
  state(): void;
  /** A line has opened, or a new receiver is connected to it. */
  open(index: number): void;
  /** A line is about to close. This is the last chance to send on it. */
  closing(line: OpenLine): void;
}

export interface Lines {
  byIndex: (OpenLine | undefined)[];
  /** The number of each line that was ever opened. Numbers are never reused. */
  indexes: ReadonlyMap<string, number>;
  /** Numbers new lines. @returns whether there were any */
  number(rows: Line[]): boolean;
  /** Opens, reopens and closes lines until exactly these are open. */
  sync(rows: Line[]): void;
  states(): Record<string, LineState>;
  /** Closes all lines. Resolves when everything is done. */
  closeAll(): Promise<void>;
}

/** What a line reports to the switchboard. */
export interface LineWatcher extends Pick<LineListener, 'bad' | 'gone' | 'carried'> {
  /** @param arrivedAt when it arrived, in monotonic ms */
  heard(signal: Signal, bytes: Uint8Array, arrivedAt: number, note?: string): void;
}

/** Returns the part of a line that makes it reopen when it changes. Its name, its delay and whether it is muted do not. */
const wiring = ({ id, kind, ...rest }: Line): string =>
  JSON.stringify([id, kind, { ...rest, name: undefined, muted: undefined, delayMs: undefined }]);

export function createLines(
  carriers: Carriers,
  listenerOf: (index: number) => LineWatcher,
  watcher: LinesWatcher,
  { cid, intakes }: Pick<Outside, 'cid' | 'intakes'>,
): Lines {
  const indexes = new Map<string, number>();
  const byIndex: (OpenLine | undefined)[] = [];
  const states = new Map<string, LineState>();
  const seen = new Map<string, Pick<LineState, 'network'>>();
  const hubs = createDmxHubs();
  const drops = watchDrops(() => byIndex, watcher.state);

  /** Opens the driver of each kind of line. */
  function openDriver(row: Line, listener: LineListener): LineDriver {
    switch (row.kind) {
      case 'osc-udp':
        return openOscUdp(row, listener);
      case 'osc-tcp':
        return openOscTcp(row, listener);
      case 'osc-ws':
        return openOscWs(row, listener);
      case 'artnet':
      case 'sacn':
        return openDmx(row, listener, hubs, cid);
      case 'keys-machine':
        return openKeysMachine(row, listener);
      case 'sound-machine':
        return openSoundMachine(row, listener);
      case 'midi-network':
        return openNetworkMidi(row, listener);
      case 'midi-machine':
      case 'midi-virtual':
        return openMachineMidi(row, listener);
      case 'midi-browser':
      case 'midi-inside':
      case 'keys-browser':
      case 'keys-inside':
      case 'sound-browser': {
        const driver = openCarried(row, listener);
        carriers.join(row, driver);
        return driver;
      }
    }
  }

  function open(row: Line): void {
    const index = indexes.get(row.id)!;
    states.set(row.id, waiting('Opening.'));
    const totals = { index, inCount: 0, outCount: 0, badCount: 0, inBytes: 0, outBytes: 0 };
    const intake = intakes.open();
    const { heard, ...others } = listenerOf(index);
    let losing = false;
    /** Dropped MIDI or keys may have been releases. Once the rest is processed, everything that the line holds is released. */
    function dropped(): void {
      if (losing || !PRESSES.includes(CARRIES[row.kind])) return;
      losing = true;
      intake.whenEmpty(() => {
        losing = false;
        others.gone();
      });
    }
    const driver = openDriver(row, {
      ...others,
      heard: (signal, bytes, note) => heard(signal, bytes, intake.arrivedAt(), note),
      take(work, bytes, ageMs) {
        const taken = intake.take(work, bytes, ageMs);
        if (!taken) dropped();
        return taken;
      },
      holdUp(resume) {
        if (!intake.isBehind()) return false;
        intake.whenEmpty(resume);
        return true;
      },
      state(state) {
        states.set(row.id, state);
        watcher.state();
        if (state.state === 'open') watcher.open(index);
      },
      seen(next) {
        seen.set(row.id, next);
        watcher.state();
      },
    });
    byIndex[index] = {
      id: row.id,
      index,
      row,
      driver,
      intake,
      totals,
      heldIn: createHeldNotes(),
      lastBad: null,
      changed: true,
    };
  }

  function close(line: OpenLine): void | Promise<void> {
    watcher.closing(line);
    const closing = line.driver.close();
    line.intake.close();
    carriers.part(line.id);
    states.delete(line.id);
    seen.delete(line.id);
    byIndex[line.index] = undefined;
    watcher.state();
    return closing;
  }

  return {
    byIndex,
    indexes,
    number(rows) {
      const before = indexes.size;
      for (const row of rows) if (!indexes.has(row.id)) indexes.set(row.id, indexes.size);
      return indexes.size > before;
    },
    sync(rows) {
      const wanted = new Map(rows.map((row) => [row.id, row]));
      for (const line of byIndex) {
        if (!line) continue;
        const row = wanted.get(line.id);
        if (row && wiring(row) === wiring(line.row)) line.row = row;
        else void close(line);
      }
      for (const row of rows) if (!byIndex[indexes.get(row.id)!]) open(row);
    },
    states: () =>
      Object.fromEntries(
        [...states].map(([id, state]) => {
          const lastBad = byIndex[indexes.get(id)!]?.lastBad;
          const said = { ...drops.withDrops(id, state), ...seen.get(id) };
          return [id, lastBad ? { ...said, lastBad } : said];
        }),
      ),
    async closeAll() {
      drops.stop();
      await Promise.all(byIndex.map((line) => line && close(line)));
    },
  };
}
