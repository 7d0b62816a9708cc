/**
 * The engine thread's middle: what a line hears goes through the core engine and out to other lines,
 * at once; what people look at is noted after that and leaves in batches.
 */
import { applyOps, type PlacedShow } from '@tawny-signal/core/edits';
import { createEngine, type Outs } from '@tawny-signal/core/engine';
import {
  createBatchWriter,
  NO_SLOT,
  type LineTotals,
  type MappingFired,
} from '@tawny-signal/core/live/batch';
import { encodeOsc } from '@tawny-signal/core/osc/packet';
import { emptyShow, type Mapping } from '@tawny-signal/core/show';
import type { Signal } from '@tawny-signal/core/signal';
import { createCarriers } from './carriers.js';
import { createLines } from './lines.js';
import type { FromThread, ToThread } from './messages.js';

/** About 30 batches a second: the pace of the eye. */
export const BATCH_MS = 33;
/** Batches that the main thread may have untaken; past that they wait here, and are dropped when full. */
const BATCHES_AHEAD = 3;

export interface Switchboard {
  take(message: ToThread): void;
}

/** @param post to the main thread, with the buffers that may be handed over. */
export function createSwitchboard(
  post: (message: FromThread, transfer?: ArrayBuffer[]) => void,
): Switchboard {
  const engine = createEngine();
  const writer = createBatchWriter();
  const mappingSlots = new Map<string, number>();
  const carriers = createCarriers((carrier, port, bytes) =>
    post({ t: 'portBytes', carrier, port, bytes: bytes.slice() }),
  );
  const sentBytes: (Uint8Array | null)[] = [];
  let placed: PlacedShow = { show: emptyShow('Nothing yet'), position: {} };
  let seq = 0;
  let ahead = 0;
  let statesChanged = false;

  const lines = createLines(
    carriers,
    (slot) => ({
      heard: (signal, bytes) => heard(slot, signal, bytes),
      bad: (reason, bytes) => bad(slot, reason, bytes),
      gone: () => act(engine.lineGone(slot, performance.now())),
    }),
    () => {
      statesChanged = true;
    },
  );

  function heard(slot: number, signal: Signal, bytes: Uint8Array): void {
    const line = lines.bySlot[slot];
    if (!line) return; // a driver that still had something to say when its line was closed
    const now = performance.now();
    const outs = engine.step(slot, signal, now);
    send(outs);
    line.totals.inCount++;
    line.totals.inBytes += bytes.length;
    line.changed = true;
    const cause = nextSeq();
    const at = performance.timeOrigin + now;
    writer.traffic({
      seq: cause,
      cause: 0,
      at,
      lineSlot: slot,
      mappingSlot: NO_SLOT,
      direction: 'in',
      bytes,
      reason: '',
    });
    note(outs, cause);
  }

  function bad(slot: number, reason: string, bytes: Uint8Array): void {
    const line = lines.bySlot[slot];
    if (!line) return;
    line.totals.badCount++;
    line.totals.inBytes += bytes.length;
    line.changed = true;
    const at = performance.timeOrigin + performance.now();
    writer.traffic({
      seq: nextSeq(),
      cause: 0,
      at,
      lineSlot: slot,
      mappingSlot: NO_SLOT,
      direction: 'bad',
      bytes,
      reason,
    });
  }

  function nextSeq(): number {
    seq = seq >= 0xffff_fffe ? 1 : seq + 1;
    return seq;
  }

  function send(outs: Outs): void {
    for (let i = 0; i < outs.count; i++) {
      const line = lines.bySlot[outs.line[i]!];
      sentBytes[i] = line && !outs.heldBack[i] ? line.driver.send(outs.signal[i]!) : null;
    }
  }

  /** Notes what was sent. @param cause seq of what caused it, 0 for a person. */
  function note(outs: Outs, cause: number): void {
    for (let i = 0; i < outs.count; i++) {
      const line = lines.bySlot[outs.line[i]!];
      if (!line) continue;
      const bytes = sentBytes[i] ?? null;
      if (bytes) {
        line.totals.outCount++;
        line.totals.outBytes += bytes.length;
        line.changed = true;
      } else if (!outs.heldBack[i]) continue; // the line's own trouble says why nothing left
      writer.traffic({
        seq: nextSeq(),
        cause,
        at: performance.timeOrigin + performance.now(),
        lineSlot: line.slot,
        mappingSlot: mappingSlots.get(outs.mapping[i]!.source.id) ?? NO_SLOT,
        direction: bytes ? 'out' : 'heldBack',
        bytes: bytes ?? encodeOsc(outs.signal[i]!),
        reason: '',
      });
    }
  }

  /** Sends and notes what no signal caused. */
  function act(outs: Outs): void {
    send(outs);
    note(outs, 0);
  }

  function load(next: PlacedShow): void {
    placed = next;
    const { show } = placed;
    const newLines = lines.number(show.lines);
    const newMappings = numberMappings(show.mappings);
    const present = new Map(show.lines.map((line) => [line.id, lines.slots.get(line.id)!]));
    // What a changed mapping held is released over the lines as they still are.
    act(engine.load(show, present, performance.now()));
    lines.sync(show.lines);
    if (newLines || newMappings)
      post({
        t: 'slots',
        slots: { lines: Object.fromEntries(lines.slots), mappings: Object.fromEntries(mappingSlots) },
      });
  }

  function numberMappings(mappings: Mapping[]): boolean {
    const before = mappingSlots.size;
    for (const { id } of mappings) if (!mappingSlots.has(id)) mappingSlots.set(id, mappingSlots.size);
    return mappingSlots.size > before;
  }

  function batch(): void {
    if (statesChanged) {
      statesChanged = false;
      post({ t: 'lineStates', states: lines.states() });
    }
    if (ahead >= BATCHES_AHEAD) return;
    const totals: LineTotals[] = [];
    for (const line of lines.bySlot) {
      if (!line?.changed) continue;
      line.changed = false;
      totals.push(line.totals);
    }
    const fired = engine.drainFired().map((mapping): MappingFired => ({
      slot: mappingSlots.get(mapping.source.id) ?? NO_SLOT,
      count: mapping.fired,
      at: performance.timeOrigin + mapping.lastAt,
      heard: mapping.lastHeard,
      shaped: mapping.lastShaped,
    }));
    const bytes = writer.take(totals, fired);
    if (!bytes) return;
    ahead++;
    post({ t: 'batch', bytes }, [bytes.buffer as ArrayBuffer]);
  }

  const pace = setInterval(batch, BATCH_MS);

  return {
    take(message) {
      switch (message.t) {
        case 'show':
          act(engine.setArmed(message.armed, performance.now()));
          return load(message.placed);
        case 'ops':
          return load(applyOps(placed, message.ops));
        case 'armed':
          return act(engine.setArmed(message.armed, performance.now()));
        case 'panic':
          return act(engine.panic(performance.now()));
        case 'try':
          return act(engine.tryMapping(message.mappingId, message.pressed, performance.now()));
        case 'offer':
          return carriers.offer(message.carrier, message.ports);
        case 'leave':
          return carriers.leave(message.carrier);
        case 'portBytes':
          return carriers.receive(message.carrier, message.port, message.bytes);
        case 'tellAll':
          for (const line of lines.bySlot) if (line) line.changed = true;
          return engine.tellAll();
        case 'took':
          ahead = Math.max(0, ahead - 1);
          return;
        case 'fail':
          throw new Error('failed on purpose');
        case 'close':
          act(engine.panic(performance.now()));
          clearInterval(pace);
          lines.closeAll();
          post({ t: 'closed' });
      }
    },
  };
}
