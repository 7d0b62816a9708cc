/** Sends the engine's output on its lines at once, then records it for the traffic view and the log. */
import { encodeSignal } from '@tawny-signal/core/bytes';
import { encodeSlot } from '@tawny-signal/core/dmx/slot';
import type { Engine, Outs } from '@tawny-signal/core/engine';
import type { Ledger } from '@tawny-signal/core/ledger';
import type { Signal } from '@tawny-signal/core/signal';
import type { Causes } from './causes.js';
import { createKeptBytes } from './kept-bytes.js';
import type { Lines, OpenLine } from './lines.js';
import type { Reports } from './reports.js';
import type { Tallies } from './tallies.js';

const DELAYS_FULL = 'Too many messages are waiting for this line’s delay. This one was dropped.';

export interface Delivery {
  /** Sends everything that is not held back. Called before anything else is done with the output. */
  send(outs: Outs, now: number): void;
  /** Records what `send` has sent, held back or failed to send. */
  note(outs: Outs): void;
  /** Sends and records a release that did not come from the engine. @returns whether it was sent */
  release(line: OpenLine, signal: Signal, now: number): boolean;
}

export interface DeliveryParts {
  engine: Engine;
  lines: () => Lines;
  ledger: Ledger;
  reports: Reports;
  tallies: Tallies;
  causes: Causes;
  /** The level of a slot of this line has changed. */
  levelChanged(line: number): void;
  /** A slot was sent. @param sender the id of what sent it */
  slotSent(line: number, slot: number, sender: string): void;
}

export function createDelivery(parts: DeliveryParts): Delivery {
  const { engine, lines, ledger, reports, tallies, causes, levelChanged, slotSent } = parts;
  const kept = createKeptBytes();
  /** The bytes that were sent for each output; null if none were. */
  const sentBytes: (Uint8Array | null)[] = [];
  const slotBytes = new Uint8Array(3);

  /** The bytes to record. Indexes are encoded again here, so that a fading universe needs no copies. */
  const shown = (signal: Signal, bytes: Uint8Array): Uint8Array =>
    signal.kind === 'slot' ? encodeSlot(signal, slotBytes) : bytes;

  /** @param lamp true for feedback, which needs no release. @returns the bytes that were sent; null if the line could not send */
  function sendOn(line: OpenLine, signal: Signal, now: number, lamp = false): Uint8Array | null {
    const bytes = line.driver.send(signal);
    if (!bytes) {
      if (!lamp) ledger.missed(line.id, signal);
      return null;
    }
    line.totals.outCount++;
    if (signal.kind === 'slot') levelChanged(line.index);
    else line.totals.outBytes += bytes.length; // a slot's frame is counted
    line.changed = true;
    if (lamp) return bytes;
    if (ledger.left(line.id, signal, now)) reports.heldChanged();
    return bytes;
  }

  /** Records in the ledger what mappings started or stopped holding. */
  function noteHolds(): void {
    for (const { key, lowEnds } of engine.drainHolds())
      ledger.holds(
        key,
        lowEnds.flatMap(({ line, signal }) => {
          const open = lines().byIndex[line];
          return open ? [{ lineId: open.id, signal }] : [];
        }),
      );
    ledger.settle();
  }

  function noteOne(outs: Outs, at: number): void {
    const signal = outs.signal[at]!;
    const sender = outs.sender[at]!;
    const line = lines().byIndex[outs.line[at]!];
    if (!line) return tallies.count(sender, null, 'failed');
    const bytes = sentBytes[at];
    const heldBack = outs.heldBack[at]!;
    tallies.count(sender, line.id, bytes ? 'sent' : heldBack ? 'heldBack' : 'failed');
    if (outs.dropped[at]) return reports.bad(line, DELAYS_FULL, encodeSignal(signal));
    // If nothing was sent, the trouble of the line says why.
    if (!bytes && !heldBack) return;
    if (bytes && signal.kind === 'slot') slotSent(line.index, signal.slot, sender);
    const step = outs.because[at]!;
    reports.note({
      cause: causes.find(step),
      later: step !== outs.step,
      lineIndex: line.index,
      direction: bytes ? 'out' : 'heldBack',
      bytes: bytes ? shown(signal, bytes) : encodeSignal(signal),
      sender,
    });
  }

  return {
    send(outs, now) {
      kept.clear();
      for (let i = 0; i < outs.count; i++) {
        const line = lines().byIndex[outs.line[i]!];
        if (!line || outs.heldBack[i] || outs.dropped[i]) {
          sentBytes[i] = null;
          continue;
        }
        const signal = outs.signal[i]!;
        const bytes = sendOn(line, signal, now, outs.lamp[i]);
        // The driver reuses its buffer for the next output.
        sentBytes[i] = bytes && outs.count > 1 && signal.kind !== 'slot' ? kept.keep(bytes) : bytes;
      }
      noteHolds();
    },
    note(outs) {
      for (let i = 0; i < outs.count; i++) noteOne(outs, i);
    },
    release(line, signal, now) {
      const bytes = sendOn(line, signal, now);
      if (bytes)
        reports.note({ cause: 0, lineIndex: line.index, direction: 'out', bytes: shown(signal, bytes) });
      return bytes !== null;
    },
  };
}
