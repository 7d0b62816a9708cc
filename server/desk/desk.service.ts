/** The live state of the show, and who is told of it: ties show, engine and live connection together. */
import { Injectable } from '@nestjs/common';
import type { DeskState, FromServer, SlotsSeen } from '@tawny-signal/core/live/messages';
import type { LineState } from '@tawny-signal/core/live/line-state';
import { momentName } from '@tawny-signal/core/show/moment-name';
import { liveOf } from '@tawny-signal/core/show/live';
import type { Before, Hello } from '@tawny-signal/core/link/messages';
import { nameOfAsker, pageOfAsker } from '../people/asking.js';
import { Saving } from '../database/saving.js';
import { LogService } from '../log/log.service.js';
import { ShowService } from '../shows/show.service.js';
import { EngineService } from './engine.service.js';
import { Locked } from '../http/problems.js';
import { LiveGateway } from './live.gateway.js';

/** `by Mara`, for the log; empty where nobody had to sign in. */
function byAsker(): string {
  const name = nameOfAsker();
  return name && `by ${name}`;
}

@Injectable()
export class DeskService {
  /** What was running when the engine ended before; null once somebody has gone on. */
  private restored: DeskState['restored'] = null;
  /** By line, what else is known of its slots. The engine tells all of it to a server that joins. */
  private slots: Record<string, SlotsSeen> = {};
  /** Lines that are in trouble, of those that were well once. */
  private readonly troubled = new Set<string>();
  private readonly wereWell = new Set<string>();

  constructor(
    private readonly show: ShowService,
    private readonly engine: EngineService,
    private readonly live: LiveGateway,
    private readonly log: LogService,
    private readonly saving: Saving,
  ) {}

  /** Connects the engine, the show and the browsers. */
  start(): void {
    const { engine, live, show } = this;
    live.greeting = () => this.greeting();
    this.log.changed = () => this.tell();
    this.saving.changed = () => this.tell();
    engine.start(
      () =>
        show.isOpen ? { mark: show.mark, placed: show.current.placed, before: () => this.before() } : null,
      {
        joined: (hello, again) => this.joined(hello, again),
        left: () => this.tell(),
        show: (mark, placed) => show.takeFromEngine(mark, placed),
        batch: (bytes) => live.broadcastBatch(bytes),
        indexes: (indexes) => live.broadcast({ t: 'indexes', indexes, more: true }),
        lineStates: (states) => {
          live.broadcast({ t: 'lineStates', states });
          this.noteLines(states);
        },
        held: (held) => live.broadcast({ t: 'held', held }),
        cutRoutes: (cut) => live.broadcast({ t: 'cutRoutes', cut }),
        live: (state) => {
          live.broadcast({ t: 'live', live: state });
          show.keepLive(state);
        },
        motions: (motions) => live.broadcast({ t: 'motions', motions }),
        transport: (transport) => live.broadcast({ t: 'transport', transport }),
        order: (order) => {
          live.broadcast({ t: 'order', order });
          show.keepStandingBy(engine.standingBy);
          this.keepState();
        },
        levels: (levels) => {
          this.keepState();
          live.broadcast({ t: 'levels', levels });
        },
        slots: (slots) => {
          this.slots = { ...this.slots, ...slots };
          live.broadcast({ t: 'slots', slots });
        },
        log: (tallies, events) => {
          this.log.hear(tallies, events);
          if (this.restored && events.length > 0) {
            this.restored = null;
            this.tell();
          }
        },
        portBytes: (carrier, port, bytes) => live.portBytes(carrier, port, bytes),
      },
    );
    show.follow(({ rev, label, ops }) => {
      if (show.isOpen) engine.edited(show.mark, ops);
      const page = pageOfAsker();
      const by = nameOfAsker() || live.here.nameOf(page);
      live.broadcast({ t: 'edit', showId: show.showId, rev, label, ops, page, by });
    });
  }

  /** The show is open. The engine is told to play it, unless it already does. */
  async opened(): Promise<void> {
    await this.log.open();
    if (this.show.kept) this.log.note('serverStarted');
    if (this.engine.here) this.engine.agree();
    this.tell();
  }

  /**
   * Opens another show. What runs is ended and what sounds is released, unless the other show has it too.
   * @throws Locked, NotThere
   */
  async openShow(id: string): Promise<void> {
    const { show, engine, log } = this;
    if (show.locked) throw new Locked();
    if (id === show.showId) return;
    // Nothing ends if the other show can't be opened.
    this.saving.wanted();
    await log.leave();
    await show.openAnother(id, engine.armed);
    await log.open();
    if (engine.armed !== show.armedAtStart) await show.keepArmed(engine.armed);
    this.restored = null;
    this.troubled.clear();
    this.wereWell.clear();
    for (const message of this.greeting()) this.live.broadcast(message);
  }

  /** The first messages to a browser. The running order is unknown while the engine is away. */
  private greeting(): FromServer[] {
    const { engine, show } = this;
    const all: FromServer[] = [
      { t: 'desk', desk: this.state },
      { t: 'indexes', indexes: engine.indexes, more: false },
      { t: 'lineStates', states: engine.lineStates },
      { t: 'cutRoutes', cut: engine.cutRoutes },
      { t: 'live', live: liveOf(show.current.placed) },
      { t: 'levels', levels: engine.levels },
      { t: 'slots', slots: this.slots },
    ];
    all.push({ t: 'motions', motions: engine.motions.seen() });
    if (engine.transport) all.push({ t: 'transport', transport: engine.transport });
    return engine.here ? [...all, { t: 'order', order: engine.orderSeen }] : all;
  }

  /** The engine is connected: takes over what signals have changed in the show. */
  private joined({ mark, live, restored }: Hello, again: boolean): void {
    const { show } = this;
    this.slots = {};
    const plays = mark !== null && mark.showId === show.showId;
    if (plays) {
      show.keepLive(live);
      show.keepStandingBy(this.engine.standingBy);
    }
    const { moments } = show.current.placed.show;
    if (restored)
      this.restored = {
        at: restored.at,
        running: restored.running.map((id) => {
          const moment = moments.find((row) => row.id === id);
          return moment ? momentName(moment) : 'a removed moment';
        }),
        ended: restored.ended,
      };
    if (again) this.log.note('engineRestarted');
    for (const message of this.greeting()) this.live.broadcast(message);
  }

  get state(): DeskState {
    return {
      armed: this.engine.armed,
      locked: this.show.locked,
      saving: this.saving.works,
      savingTrouble: this.saving.trouble,
      engine: this.engine.here,
      engineRestarts: this.engine.restarts,
      performance: this.log.current,
      restored: this.restored,
    };
  }

  /** @throws Locked when it would make a locked show safe */
  async setArmed(armed: boolean): Promise<DeskState> {
    if (!armed && this.show.locked) throw new Locked();
    // The signals first; that it is kept for a restart can wait, and can fail.
    const was = this.engine.armed;
    await this.engine.setArmed(armed);
    if (armed !== was) this.log.note(armed ? 'armed' : 'safe', '', byAsker());
    this.tell();
    await this.show.keepArmed(armed).catch(() => undefined);
    return this.state;
  }

  /** Locked: armed, and nothing can be edited. */
  async setLocked(locked: boolean): Promise<DeskState> {
    // It is so at once; that it can't be kept for a restart is said by the check whether the database answers.
    const kept = this.show.lock(locked).catch(() => undefined);
    this.log.note(locked ? 'locked' : 'unlocked', '', byAsker());
    if (locked && !this.engine.armed) await this.setArmed(true).catch(() => undefined);
    this.tell();
    await kept;
    return this.state;
  }

  /** @returns false where the engine is away: Panic is done first of all once it is back */
  panic(desk: string): Promise<boolean> {
    return this.engine.panic(desk);
  }

  /** Returns the state for an engine that has not played this show, from the database. */
  private before(): Before {
    const { kept, standingBy, current, armedAtStart } = this.show;
    const { moments, settings } = current.placed.show;
    const running = moments.filter(({ id }) => kept?.running.includes(id));
    const ended = settings.afterRestart === 'ended';
    if (running.length > 0) this.restored = { at: Date.now(), running: running.map(momentName), ended };
    return {
      armed: armedAtStart,
      standingBy,
      called: null,
      transport: null,
      finished: ended ? running.map(({ id }) => id) : [],
      levels: kept?.levels ?? {},
    };
  }

  private keepState(): void {
    const { orderSeen, levels } = this.engine;
    this.show.keepState({ running: orderSeen.running.map(({ id }) => id), levels });
  }

  /** Records lines that fail or work again in the log. */
  private noteLines(states: Record<string, LineState>): void {
    for (const { id, name } of this.show.current.placed.show.lines) {
      const state = states[id];
      if (!state) continue;
      const isWell = state.state === 'open' && state.trouble === '';
      if (isWell && this.troubled.delete(id)) this.log.note('lineBack', name);
      if (!isWell && this.wereWell.delete(id)) {
        this.troubled.add(id);
        this.log.note('lineTrouble', name, state.trouble);
      }
      if (isWell) this.wereWell.add(id);
    }
  }

  private tell(): void {
    this.live.broadcast({ t: 'desk', desk: this.state });
  }
}
