/** The live state of the show, and who is told of it: ties show, engine and live connection together. */
import { Injectable, type OnApplicationShutdown } from '@nestjs/common';
import type { DeskState, LineState } from '@tawny-signal/core/live/messages';
import { momentName } from '@tawny-signal/core/cues/words';
import { liveOf } from '@tawny-signal/core/show/live';
import type { Before } from '../engine-thread/messages.js';
import { LogService } from '../log/log.service.js';
import { ShowService } from '../shows/show.service.js';
import { EngineService } from './engine.service.js';
import { Locked } from '../http/problems.js';
import { LiveGateway } from './live.gateway.js';

/** How often it is asked whether the database answers. */
const CHECK_MS = 1000;

@Injectable()
export class DeskService implements OnApplicationShutdown {
  private saving = true;
  private check: NodeJS.Timeout | null = null;
  /** What was running when the server stopped; null once somebody has gone on. */
  private restored: DeskState['restored'] = null;
  /** Lines that are in trouble, of those that were well once. */
  private readonly troubled = new Set<string>();
  private readonly wereWell = new Set<string>();

  constructor(
    private readonly show: ShowService,
    private readonly engine: EngineService,
    private readonly live: LiveGateway,
    private readonly log: LogService,
  ) {}

  /** After the show was opened: starts the engine with it. */
  start(): void {
    const { engine, live, show } = this;
    live.greeting = () => [
      { t: 'desk', desk: this.state },
      { t: 'slots', slots: engine.slots },
      { t: 'lineStates', states: engine.lineStates },
      { t: 'cutRoutes', cut: engine.cutRoutes },
      { t: 'order', order: engine.orderSeen },
      { t: 'live', live: liveOf(show.current.placed), beatAt: engine.beatAt },
    ];
    this.log.changed = () => this.tell();
    engine.start(() => show.current.placed, show.armedAtStart, this.before(), {
      batch: (bytes) => live.broadcastBatch(bytes),
      slots: (slots) => live.broadcast({ t: 'slots', slots }),
      lineStates: (states) => {
        live.broadcast({ t: 'lineStates', states });
        this.noteLines(states);
      },
      held: (held) => live.broadcast({ t: 'held', held }),
      cutRoutes: (cut) => live.broadcast({ t: 'cutRoutes', cut }),
      live: (state, beatAt) => {
        live.broadcast({ t: 'live', live: state, beatAt });
        show.keepLive(state);
      },
      order: (order) => {
        live.broadcast({ t: 'order', order });
        show.keepStandingBy(engine.standingBy);
        this.keepState();
      },
      levels: () => this.keepState(),
      log: (tallies, events) => {
        this.log.hear(tallies, events);
        if (this.restored && events.length > 0) {
          this.restored = null;
          this.tell();
        }
      },
      portBytes: (carrier, port, bytes) => live.portBytes(carrier, port, bytes),
      restarted: () => {
        this.log.note('engineRestarted');
        this.tell();
      },
    });
    show.follow(({ rev, label, ops }) => {
      engine.edited(ops);
      live.broadcast({ t: 'edit', rev, label, ops });
    });
    this.watchDatabase();
  }

  get state(): DeskState {
    return {
      armed: this.engine.armed,
      locked: this.show.locked,
      saving: this.saving,
      engineRestarts: this.engine.restarts,
      performance: this.log.current,
      restored: this.restored,
    };
  }

  /** @throws Locked when it would make a locked show safe */
  async setArmed(armed: boolean): Promise<DeskState> {
    if (!armed && this.show.locked) throw new Locked();
    if (armed !== this.engine.armed) this.log.note(armed ? 'armed' : 'safe');
    // The signals first; that it is kept for a restart can wait, and can fail.
    this.engine.setArmed(armed);
    this.tell();
    await this.show.keepArmed(armed).catch(() => undefined);
    return this.state;
  }

  /** Locked: armed, and nothing can be edited. */
  async setLocked(locked: boolean): Promise<DeskState> {
    // It is so at once; that it can't be kept for a restart is said by the check whether the database answers.
    const kept = this.show.lock(locked).catch(() => undefined);
    this.log.note(locked ? 'locked' : 'unlocked');
    if (locked && !this.engine.armed) await this.setArmed(true);
    this.tell();
    await kept;
    return this.state;
  }

  panic(desk: string): void {
    this.engine.panic(desk);
  }

  onApplicationShutdown(): void {
    if (this.check) clearTimeout(this.check);
    this.check = null;
  }

  /** What a server that was stopped goes on from, and what is said of it. */
  private before(): Before {
    const { kept, standingBy, current } = this.show;
    const { moments, settings } = current.placed.show;
    const running = moments.filter(({ id }) => kept?.running.includes(id));
    const ended = settings.afterRestart === 'ended';
    if (kept) {
      this.log.note('serverStarted');
      if (running.length > 0) this.restored = { at: Date.now(), running: running.map(momentName), ended };
    }
    return {
      standingBy,
      finished: ended ? running.map(({ id }) => id) : [],
      levels: Object.fromEntries(
        Object.entries(kept?.levels ?? {}).map(([id, text]) => [id, Buffer.from(text, 'base64')]),
      ),
    };
  }

  private keepState(): void {
    const { orderSeen, levels } = this.engine;
    this.show.keepState({
      running: orderSeen.running.map(({ id }) => id),
      levels: Object.fromEntries(
        Object.entries(levels).map(([id, bytes]) => [id, Buffer.from(bytes).toString('base64')]),
      ),
    });
  }

  /** A line that was well and fails, or is well again, is written down. */
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

  private watchDatabase(): void {
    this.check = setTimeout(() => {
      void this.show.isSaving().then((saving) => {
        if (saving !== this.saving) {
          this.saving = saving;
          this.tell();
        }
        if (this.check) this.watchDatabase();
      });
    }, CHECK_MS);
  }
}
