/** The live state of the show, and who is told of it: ties show, engine and live connection together. */
import { Injectable, type OnApplicationShutdown } from '@nestjs/common';
import type { DeskState } from '@tawny-signal/core/live/messages';
import { liveOf } from '@tawny-signal/core/show/live';
import { ShowService } from '../shows/show.service.js';
import { EngineService } from './engine.service.js';
import { LiveGateway } from './live.gateway.js';

/** How often it is asked whether the database answers. */
const CHECK_MS = 1000;

@Injectable()
export class DeskService implements OnApplicationShutdown {
  private saving = true;
  private check: NodeJS.Timeout | null = null;

  constructor(
    private readonly show: ShowService,
    private readonly engine: EngineService,
    private readonly live: LiveGateway,
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
    engine.start(() => show.current.placed, show.armedAtStart, show.standingBy, {
      batch: (bytes) => live.broadcastBatch(bytes),
      slots: (slots) => live.broadcast({ t: 'slots', slots }),
      lineStates: (states) => live.broadcast({ t: 'lineStates', states }),
      held: (held) => live.broadcast({ t: 'held', held }),
      cutRoutes: (cut) => live.broadcast({ t: 'cutRoutes', cut }),
      live: (state, beatAt) => {
        live.broadcast({ t: 'live', live: state, beatAt });
        show.keepLive(state);
      },
      order: (order) => {
        live.broadcast({ t: 'order', order });
        show.keepStandingBy(engine.standingBy);
      },
      portBytes: (carrier, port, bytes) => live.portBytes(carrier, port, bytes),
      restarted: () => this.tell(),
    });
    show.follow(({ rev, label, ops }) => {
      engine.edited(ops);
      live.broadcast({ t: 'edit', rev, label, ops });
    });
    this.watchDatabase();
  }

  get state(): DeskState {
    return { armed: this.engine.armed, saving: this.saving, engineRestarts: this.engine.restarts };
  }

  async setArmed(armed: boolean): Promise<DeskState> {
    // The signals first; that it is kept for a restart can wait, and can fail.
    this.engine.setArmed(armed);
    this.tell();
    await this.show.keepArmed(armed).catch(() => undefined);
    return this.state;
  }

  panic(): void {
    this.engine.panic();
  }

  onApplicationShutdown(): void {
    if (this.check) clearTimeout(this.check);
    this.check = null;
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
