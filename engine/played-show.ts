/** The show that the engine plays: loads it, applies edits to it, and restores it after a restart. */
import { AT_THE_END } from '@tawny-signal/core/cues/order';
import { applyOps, type Op, type PlacedShow } from '@tawny-signal/core/edits';
import { TABLES } from '@tawny-signal/core/show/tables';
import type { Engine, EngineInput } from '@tawny-signal/core/engine';
import type { Before, Restored, RowsPiece, ShowMark, ToEngine } from '@tawny-signal/core/link/messages';
import { withLive, type LiveShow } from '@tawny-signal/core/show/live';
import type { Mapping } from '@tawny-signal/core/show/mapping';
import { bytesOfBase64 } from '@tawny-signal/core/base64';
import { positionBefore, tempoOf } from '@tawny-signal/core/time/transport';
import { replacedIn } from './in-place.js';
import { createPieces } from '@tawny-signal/core/link/pieces';
import { emptyShow, type Show } from '@tawny-signal/core/show';
import { createCompiler } from './compile-ahead.js';
import type { KeptShow } from './kept-state.js';
import type { LeftBehind } from './left-behind.js';
import type { Left } from './note.js';
import type { Lines, OpenLine } from './lines.js';
import type { Outside } from './outside.js';
import type { Releases } from './releases.js';
import type { Reports } from './reports.js';
import { movedOn, type MotionsKept } from '@tawny-signal/core/motion/kept';
import { fewSendersOf, sendersOf, type Senders } from './senders.js';
import type { Tallies } from './tallies.js';
import type { Telling } from './telling.js';
import { ORIGIN } from './origin.js';

export interface PlayedShow {
  /** Null before there is a show. */
  mark(): ShowMark | null;
  placed(): PlacedShow;
  armed(): boolean;
  setArmed(armed: boolean): void;
  /** True while a large show that was taken is not played yet. What the server says of it waits. */
  isCompiling(): boolean;
  /** Compiles no more: the engine ends. */
  stop(): void;
  /** True if the engine has no live state for this show, and wants the server's. */
  isFresh(): boolean;
  /** Takes rows of a show that the server tells next. */
  takeRows(message: RowsPiece, json: string): void;
  /** Loads a show from the server. `before` restores the live state of a show that was not loaded until now. @param json the message as it came */
  take(message: Extract<ToEngine, { t: 'show' }>, json: string): void;
  takeOps(message: Extract<ToEngine, { t: 'ops' }>, json: string): void;
  /** Signals have switched banks. */
  takeLive(live: LiveShow): void;
  /** Starts from the files and the ledger of the engine process before this one. */
  begin(show: KeptShow | null, left: Left): void;
}

export interface PlayedShowParts {
  engine: Engine;
  lines: () => Lines;
  /** Passes an input to the engine, and sends the output. */
  give(input: EngineInput): void;
  releases: Releases;
  leftBehind: LeftBehind;
  telling: () => Telling;
  reports: Reports;
  senders: Senders;
  tallies: Tallies;
  outside: Outside;
  /** New lines or senders have been numbered. @param more the new senders */
  numbersChanged(more: Record<string, number>): void;
  /** A large show that was taken is played now. */
  compiled(): void;
}

export function createPlayedShow(parts: PlayedShowParts): PlayedShow {
  const { engine, lines, give, releases, leftBehind, telling, reports, senders, tallies, outside } = parts;
  const compiler = createCompiler(getReady, () => lines().indexes, parts.compiled);
  const pieces = createPieces();
  let mark: ShowMark | null = null;
  let placed: PlacedShow = { show: emptyShow('Nothing yet'), position: {} };
  let armed = true;
  let fresh = true;
  /** Somebody has armed the show or made it safe meanwhile: that holds. */
  let armedMeanwhile = false;
  /** State that names moments which are missing in the kept show. The server's show may have them. */
  let unresolved: Omit<Before, 'armed'> | null = null;

  function setArmed(next: boolean): void {
    give({ t: 'armed', armed: next });
    armed = next;
    telling().changed();
  }

  function number(rows: readonly { id: string }[]): void {
    const more = senders.number(rows);
    if (more) parts.numbersChanged(more);
  }

  /** Numbers every sender: traffic records refer to senders by number. */
  function numberSenders(): void {
    const { show } = placed;
    tallies.setMoments(show.moments.map(({ id }) => id));
    sendersOf(show).forEach(number);
  }

  function* getReady(show: Show, lineIndex: ReadonlyMap<string, number>): Generator<void> {
    yield* engine.prepare(show, lineIndex);
    // Their numbers harm nobody if the show is never played.
    for (const rows of fewSendersOf(show)) yield number(rows);
  }

  function begins(next: ShowMark, show: PlacedShow, before: Before | null): void {
    if (before && before.armed !== null && !armedMeanwhile) setArmed(before.armed);
    armedMeanwhile = false;
    mark = next;
    leftBehind.find(show.show.lines, true);
    load(show);
    if (before) restore(before);
    else if (unresolved) restore({ ...unresolved, transport: null, levels: {} }, true);
    else releases.owed();
    unresolved = null;
    fresh = false;
    telling().changed();
  }

  /** Applies an edit in the cheapest way, so that signals hardly wait for it. */
  function edit(ops: Op[], next: ShowMark): void {
    if (ops.every((op) => op.op !== 'settings' && TABLES[op.table].ofTheOrder)) {
      mark = next;
      placed = applyOps(placed, ops);
      numberSenders();
      return give({ t: 'moments', show: placed.show });
    }
    const rows = replacedIn(placed, ops);
    if (rows) {
      mark = next;
      return replace(rows, ops);
    }
    const base = placed;
    const edited = applyOps(base, ops);
    compiler.first(edited.show, base.show, () => {
      mark = next;
      if (placed === base) return load(edited);
      // Signals have switched banks meanwhile.
      const { banks } = applyOps(placed, ops).show;
      load({ ...edited, show: { ...edited.show, banks } });
    });
  }

  function replace(rows: readonly Mapping[], ops: Op[]): void {
    placed = applyOps(placed, ops);
    number(rows);
    for (const row of rows) {
      const order = placed.show.mappings.findIndex(({ id }) => id === row.id);
      give({ t: 'mapping', row, order });
    }
  }

  function load(next: PlacedShow): void {
    const before = placed.show;
    placed = next;
    const { show } = placed;
    if (lines().number(show.lines)) parts.numbersChanged({});
    numberSenders();
    const lineIndex = new Map(show.lines.map((line) => [line.id, lines().indexes.get(line.id)!]));
    // Changed mappings and routes release what they hold before their lines may close.
    give({ t: 'show', show, lineIndex });
    if (before.lines !== show.lines) syncLines();
    if (before.routes !== show.routes) reports.routesChanged();
  }

  function syncLines(): void {
    const open = new Set(lines().byIndex);
    lines().sync(placed.show.lines);
    for (const line of lines().byIndex) if (line && !open.has(line)) giveLevels(line);
    reports.heldChanged();
  }

  /** Sends its current levels on a line that has just opened. */
  function giveLevels(line: OpenLine): void {
    if (!armed || line.row.muted) return;
    engine.levels(line.index).forEach((level, at) => {
      if (level > 0) line.driver.send({ kind: 'slot', slot: at + 1, level });
    });
  }

  /** The levels as they were kept. What somebody or something held up then is put down: nobody will let it go any more. */
  function levelsWithoutHeld(known: Record<string, string>): Map<string, Uint8Array> {
    return new Map(
      Object.entries(known).flatMap(([id, base64]) => {
        const levels = bytesOfBase64(base64);
        if (!levels) return [];
        for (const [slot, level] of releases.owedSlots(id))
          if (slot <= levels.length) levels[slot - 1] = level;
        return [[id, levels]];
      }),
    );
  }

  function restoreLevels(known: ReadonlyMap<string, Uint8Array>): void {
    for (const [id, levels] of known) {
      const line = lines().byIndex[lines().indexes.get(id) ?? -1];
      if (!line) continue;
      give({ t: 'restoreLevels', line: line.index, levels });
      giveLevels(line);
      telling().levelChanged(line.index);
    }
  }

  /** Restores the state before a restart: releases first, then levels, then the running order. */
  function restore(
    { standingBy, called, transport, finished, levels }: Omit<Before, 'armed'>,
    goesOn = false,
    motions?: MotionsKept,
  ): void {
    const known = levelsWithoutHeld(levels);
    releases.owed();
    restoreLevels(known);
    const last = called && { ...called, at: called.at - ORIGIN };
    const tempo = transport && tempoOf(transport, ORIGIN);
    const position = transport && positionBefore(transport, ORIGIN);
    const before = {
      standingBy,
      called: last,
      finished,
      tempo,
      ...(motions && { motions: movedOn(motions, -ORIGIN) }),
    };
    give({ t: 'restore', before: goesOn ? before : { ...before, position } });
  }

  return {
    mark: () => mark,
    placed: () => placed,
    armed: () => armed,
    setArmed(next) {
      armedMeanwhile = compiler.isBusy();
      setArmed(next);
    },
    isCompiling: () => compiler.isBusy(),
    stop: () => compiler.stop(),
    isFresh: () => fresh,
    takeRows(piece, json) {
      pieces.add(piece);
      outside.keeper.rows(json);
    },
    take(message, json) {
      const { mark: next, before } = message;
      const show = pieces.whole(message);
      if (!show) return outside.tell({ t: 'wantShow' });
      // A server that came while this show was compiled could not know that we had it.
      if (!fresh && mark?.showId === next.showId && mark.rev === next.rev) return;
      outside.keeper.show(json);
      compiler.first(show.show, placed.show, () => begins(next, show, before));
    },
    takeOps({ mark: next, ops }, json) {
      if (!mark || next.showId !== mark.showId || next.rev !== mark.rev + 1)
        return outside.tell({ t: 'wantShow' });
      outside.keeper.ops(json);
      edit(ops, next);
    },
    takeLive(live) {
      placed = withLive(placed, live);
    },
    begin(show, { live, owed }) {
      leftBehind.begin(owed);
      if (!show) return;
      leftBehind.find(show.placed.show.lines, false);
      fresh = live === null;
      ({ mark } = show);
      const { settings, moments } = show.placed.show;
      if (live) setArmed(live.armed);
      load(live ? withLive(show.placed, live.live) : show.placed);
      const ended = settings.afterRestart === 'ended';
      const running = live?.running ?? [];
      const before = {
        standingBy: live?.standingBy ?? null,
        called: live?.called ?? null,
        transport: live?.transport ?? null,
        finished: ended ? running : [],
        levels: live?.levels ?? {},
      };
      restore(before, false, live?.motions);
      const known = new Set(moments.map(({ id }) => id));
      const named = [...running, before.standingBy, before.called?.id ?? null].filter((id) => id !== null);
      // The last edits may not have reached the file. The server's show has them.
      if (named.some((id) => id !== AT_THE_END && !known.has(id))) unresolved = before;
      // It is shown as a time of day: after a machine has slept, the one clock is behind that.
      // eslint-disable-next-line no-restricted-properties
      const restored: Restored = { at: Date.now(), running, ended };
      // Finishing the fades is an event too, but nobody has pressed Go yet.
      engine.orderEvents();
      telling().restored = running.length > 0 ? restored : null;
      telling().changed();
    },
  };
}
