/**
 * Sends the outputs of mappings: now or after a delay, with the release of what sounds, the end of notes with a length, and repeated keys. Given
 * the time; reads no clock.
 */
import type { KeyHolders } from '../keys/holders.js';
import { copySignal, type Signal } from '../signal.js';
import {
  eachTyped,
  noteTyped,
  restOfTyping,
  type ShowAct,
  type TapsDown,
  type TypedPart,
} from '../sends/compiled.js';
import { inMs, isNone, type Span } from '../time/span.js';
import type { ActiveSend } from './compiled.js';
import type { Heard } from './heard.js';

/** What sends: a mapping, or a voice of a motion. */
export interface SendingRow {
  source: { id: string };
  /** The last accepted input. */
  heard: Heard;
  sends: readonly ActiveSend[];
}

/** Something that a send does later. It is out of date if its `turn` is not that of its send any more. */
export type SendPlan<Row extends SendingRow> =
  /** A delayed send, with the values that were heard and shaped at the time. */
  | { do: 'send'; mapping: Row; send: ActiveSend; shaped: number; heard: Heard; turn: null }
  /** Keys that are typed after others. */
  | { do: 'type'; mapping: Row; send: ActiveSend; part: TypedPart; down: TapsDown; turn: null }
  /** The end of a note with a length, or the delayed release of a note. */
  | { do: 'release'; mapping: Row; send: ActiveSend; turn: number | null }
  /** The next repeat of a key that is down. */
  | { do: 'repeat'; mapping: Row; send: ActiveSend; turn: number };

export interface SenderStage<Row extends SendingRow> {
  put(line: number, signal: Signal, sender: string, muted: boolean): void;
  keys: KeyHolders;
  /** Returns false while output is held back. */
  armed(): boolean;
  /** Does something to the show itself. @param by id of the row */
  act(act: ShowAct, by: string): void;
  /** Fades a slot to the level in the signals of `send`, in the time of the send. */
  fade(mapping: Row, send: ActiveSend, now: number): void;
  plan(after: Span, now: number, what: SendPlan<Row>): void;
}

export interface Sender<Row extends SendingRow> {
  /** Sends a shaped value, or plans it if the send has a delay. @param copied true if another send may reuse the signals before they leave */
  send(mapping: Row, send: ActiveSend, shaped: number, now: number, copied: boolean): void;
  /** Sends a shaped value now, whatever its delay. The signals are copied. */
  sendNow(mapping: Row, send: ActiveSend, shaped: number, now: number): void;
  /** Releases what sounds. */
  stop(mapping: Row, send: ActiveSend): void;
  /** Releases everything that sounds until its control is let go, each with its delay. */
  release(mapping: Row, now: number): void;
  /** Releases one thing that sounds, or will, with its delay. What has a length ends by itself. */
  letGo(mapping: Row, send: ActiveSend, now: number): void;
  /** Does what was planned. */
  later(plan: SendPlan<Row>, now: number): void;
  /** A plan was dropped: keys that it would have released are released now. */
  dropped(plan: SendPlan<Row>): void;
}

export function createSender<Row extends SendingRow>({
  put,
  keys,
  armed,
  act,
  fade,
  plan,
}: SenderStage<Row>): Sender<Row> {
  /** Sends a signal of a send, unless it is a key that somebody else still holds. */
  function leave(mapping: Row, send: ActiveSend, signal: Signal): void {
    if (keys.passes(send.line, signal, send, send.muted || !armed()))
      put(send.line, signal, mapping.source.id, send.muted);
  }

  function stop(mapping: Row, send: ActiveSend): void {
    send.sounding = false;
    send.turn++;
    for (const signal of send.releases) leave(mapping, send, signal);
  }

  function fire(
    mapping: Row,
    send: ActiveSend,
    shaped: number,
    heard: Heard,
    now: number,
    copied: boolean,
  ): void {
    const filled = send.fill(send.own(shaped), heard);
    if (filled === 'nothing') return;
    if (send.act) return armed() ? act(send.act, mapping.source.id) : undefined;
    if (send.fade) return fade(mapping, send, now);
    // A note with a length, or a tapped key, ends before it starts again.
    if (send.sounding && send.length !== null) stop(mapping, send);
    const signals = filled === 'signals' ? send.signals : send.releases;
    for (const signal of signals) leave(mapping, send, copied ? copySignal(signal) : signal);
    eachTyped(send.later, (part, down) =>
      plan(inMs(part.afterMs), now, { do: 'type', mapping, send, part, down, turn: null }),
    );
    if (send.releases.length > 0) sound(mapping, send, filled === 'signals', now);
  }

  /** Records that a send sounds now, or does not any more, and plans its end. */
  function sound(mapping: Row, send: ActiveSend, sounding: boolean, now: number): void {
    // Output that is held back never sounds.
    if (!armed() || send.muted) return;
    send.sounding = sounding;
    send.turn++;
    if (!sounding) return;
    const { turn } = send;
    if (send.length && isNone(send.length)) return stop(mapping, send);
    if (send.length) plan(send.length, now, { do: 'release', mapping, send, turn });
    if (send.repeat) plan(send.repeat, now, { do: 'repeat', mapping, send, turn });
  }

  function letGo(mapping: Row, send: ActiveSend, now: number): void {
    if (send.releases.length === 0 || send.length !== null) return;
    if (send.delay) plan(send.delay, now, { do: 'release', mapping, send, turn: null });
    else if (send.sounding) stop(mapping, send);
  }

  return {
    send(mapping, send, shaped, now, copied) {
      if (send.delay === null) return fire(mapping, send, shaped, mapping.heard, now, copied);
      const heard = { ...mapping.heard };
      plan(send.delay, now, { do: 'send', mapping, send, shaped, heard, turn: null });
    },
    sendNow: (mapping, send, shaped, now) => fire(mapping, send, shaped, mapping.heard, now, true),
    stop,
    release(mapping, now) {
      for (const send of mapping.sends) letGo(mapping, send, now);
    },
    letGo,
    dropped(later) {
      if (later.do !== 'type') return;
      const { mapping, send, part, down } = later;
      for (const signal of restOfTyping(part, down)) leave(mapping, send, signal);
    },
    later(later, now) {
      const { mapping, send } = later;
      switch (later.do) {
        case 'send':
          return fire(mapping, send, later.shaped, later.heard, now, true);
        case 'type':
          noteTyped(later.part, later.down);
          for (const signal of later.part.signals) leave(mapping, send, signal);
          return;
        case 'release':
          if (send.sounding && (later.turn === null || later.turn === send.turn)) stop(mapping, send);
          return;
        case 'repeat':
          if (!send.sounding || later.turn !== send.turn) return;
          // Only the key itself repeats; modifiers stay down.
          put(send.line, copySignal(send.signals.at(-1)!), mapping.source.id, send.muted);
          plan(send.repeat!, now, later);
      }
    },
  };
}
