/** The open lines of the thread: their drivers, their totals, and the numbers they are known by. */
import type { Line } from '@tawny-signal/core/show';
import type { LineTotals } from '@tawny-signal/core/live/batch';
import type { LineState } from '@tawny-signal/core/live/messages';
import type { Carriers } from './carriers.js';
import { openCarriedMidi } from './drivers/carried-midi.js';
import { waiting, type LineDriver, type LineListener } from './drivers/driver.js';
import { openOscTcp } from './drivers/osc-tcp.js';
import { openOscUdp } from './drivers/osc-udp.js';

export interface OpenLine {
  id: string;
  slot: number;
  row: Line;
  driver: LineDriver;
  totals: LineTotals;
  /** Whether the totals changed since they were last reported. */
  changed: boolean;
}

export interface Lines {
  bySlot: (OpenLine | undefined)[];
  /** The number of each line that has had one; a number is never given twice. */
  slots: ReadonlyMap<string, number>;
  /** Gives every line its number. @returns whether there were new ones. */
  number(rows: Line[]): boolean;
  /** Opens, reopens and closes, so that the open lines are these. */
  sync(rows: Line[]): void;
  states(): Record<string, LineState>;
  closeAll(): void;
}

/** What of a line makes it open anew when it changes; a new name or being muted does not. */
const wiring = ({ id, kind, ...rest }: Line): string =>
  JSON.stringify([id, kind, { ...rest, name: undefined, muted: undefined }]);

export function createLines(
  carriers: Carriers,
  listenerOf: (slot: number) => Omit<LineListener, 'state'>,
  onState: () => void,
): Lines {
  const slots = new Map<string, number>();
  const bySlot: (OpenLine | undefined)[] = [];
  const states = new Map<string, LineState>();

  /** One row for each kind of line: how it is opened. */
  function openDriver(row: Line, listener: LineListener): LineDriver {
    switch (row.kind) {
      case 'osc-udp':
        return openOscUdp(row, listener);
      case 'osc-tcp':
        return openOscTcp(row, listener);
      case 'midi-browser':
      case 'midi-inside': {
        const driver = openCarriedMidi(row, listener);
        carriers.join(row, driver);
        return driver;
      }
    }
  }

  function open(row: Line): void {
    const slot = slots.get(row.id)!;
    states.set(row.id, waiting('Opening.'));
    const totals = { slot, inCount: 0, outCount: 0, badCount: 0, inBytes: 0, outBytes: 0 };
    const driver = openDriver(row, {
      ...listenerOf(slot),
      state(state) {
        states.set(row.id, state);
        onState();
      },
    });
    bySlot[slot] = { id: row.id, slot, row, driver, totals, changed: true };
  }

  function close(line: OpenLine): void {
    line.driver.close();
    carriers.part(line.id);
    states.delete(line.id);
    bySlot[line.slot] = undefined;
    onState();
  }

  return {
    bySlot,
    slots,
    number(rows) {
      const before = slots.size;
      for (const row of rows) if (!slots.has(row.id)) slots.set(row.id, slots.size);
      return slots.size > before;
    },
    sync(rows) {
      const wanted = new Map(rows.map((row) => [row.id, row]));
      for (const line of bySlot) {
        if (!line) continue;
        const row = wanted.get(line.id);
        if (row && wiring(row) === wiring(line.row)) line.row = row;
        else close(line);
      }
      for (const row of rows) if (!bySlot[slots.get(row.id)!]) open(row);
    },
    states: () => Object.fromEntries(states),
    closeAll() {
      for (const line of bySlot) if (line) close(line);
    },
  };
}
