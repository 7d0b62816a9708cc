/** The engine thread as the server sees it: started, told of edits, and started again if it fails. */
import { Worker } from 'node:worker_threads';
import { Injectable, Logger, type OnApplicationShutdown } from '@nestjs/common';
import type { Op, PlacedShow } from '@tawny-signal/core/edits';
import { AT_THE_END, type OrderAct, type OrderEvent } from '@tawny-signal/core/cues/runner';
import {
  NO_ORDER,
  type LineHeld,
  type LineState,
  type OrderSeen,
  type Slots,
  type WhyStep,
} from '@tawny-signal/core/live/messages';
import type { LiveShow } from '@tawny-signal/core/show/live';
import type { Send } from '@tawny-signal/core/show/send';
import type { OfferedPort } from '../engine-thread/carriers.js';
import type { Before, FromThread, ToThread } from '../engine-thread/messages.js';
import type { MomentTally } from '../engine-thread/tallies.js';

const THREAD = new URL('../engine-thread/thread.js', import.meta.url);
/** A thread that fails again at once is given this long, so that failing does not become all that is done. */
const AGAIN_MS = 100;
/** Who asks why is not kept waiting longer than this by a thread that is just being started again. */
const WHY_MS = 2000;

/** What the thread tells, for whoever passes it on to people. */
export interface EngineWatcher {
  batch(bytes: Uint8Array): void;
  slots(slots: Slots): void;
  lineStates(states: Record<string, LineState>): void;
  held(held: Record<string, LineHeld>): void;
  cutRoutes(cut: Record<string, number>): void;
  /** Signals changed which banks are on, or the tempo. */
  live(live: LiveShow, beatAt: number): void;
  order(order: OrderSeen): void;
  log(tallies: MomentTally[], events: OrderEvent[]): void;
  /** The levels of lines are others than they were. */
  levels(): void;
  portBytes(carrier: number, port: number, bytes: Uint8Array): void;
  /** The thread failed, and was started again with the show it had. */
  restarted(times: number): void;
}

@Injectable()
export class EngineService implements OnApplicationShutdown {
  private readonly log = new Logger('engine');
  private worker: Worker | null = null;
  private watcher: EngineWatcher | null = null;
  private showNow: (() => PlacedShow) | null = null;
  private readonly offers = new Map<number, OfferedPort[]>();
  private closing = false;
  private armedNow = true;
  restarts = 0;
  slots: Slots = { lines: {}, senders: {} };
  cutRoutes: Record<string, number> = {};
  lineStates: Record<string, LineState> = {};
  /** The tempo's beat 0, in milliseconds since 1970. */
  beatAt = 0;
  orderSeen: OrderSeen = NO_ORDER;
  /** Where the running order stands, to restart into. */
  standingBy: string | null = null;
  /** By line, the levels of its slots. */
  levels: Record<string, Uint8Array> = {};
  private lastAsk = 0;
  private readonly asks = new Map<number, (steps: WhyStep[] | null) => void>();

  /** @param showNow the show as it is whenever the thread has to be started. @param before what the server goes on from */
  start(showNow: () => PlacedShow, armed: boolean, before: Before, watcher: EngineWatcher): void {
    this.showNow = showNow;
    this.armedNow = armed;
    this.watcher = watcher;
    this.standingBy = before.standingBy;
    // Until the thread says more, this is what is known.
    this.orderSeen = { ...NO_ORDER, standingBy: before.standingBy || null };
    this.levels = before.levels;
    this.startThread(before);
  }

  get armed(): boolean {
    return this.armedNow;
  }

  setArmed(armed: boolean): void {
    this.armedNow = armed;
    this.tell({ t: 'armed', armed });
  }

  edited(ops: Op[] | null): void {
    if (ops) this.tell({ t: 'ops', ops });
    else this.tellShow({ standingBy: this.standingBy, finished: [], levels: {} });
  }

  panic(desk: string): void {
    this.tell({ t: 'panic', desk });
  }

  tryMapping(mappingId: string, pressed: boolean): void {
    this.tell({ t: 'try', mappingId, pressed });
  }

  tryLine(lineId: string, send: Send, pressed: boolean, value?: number): void {
    this.tell({ t: 'tryLine', lineId, send, pressed, value });
  }

  /** @param desk the name of the desk that asks */
  order(act: OrderAct, desk: string): void {
    this.tell({ t: 'order', act, desk });
  }

  tap(): void {
    this.tell({ t: 'tap' });
  }

  /** What the engine made of the message with this `seq`; null where it is too long ago, or no engine answers. */
  async why(seq: number): Promise<WhyStep[] | null> {
    const ask = ++this.lastAsk;
    return new Promise((done) => {
      const late = setTimeout(() => answer(null), WHY_MS);
      const answer = (steps: WhyStep[] | null): void => {
        clearTimeout(late);
        this.asks.delete(ask);
        done(steps);
      };
      this.asks.set(ask, answer);
      this.tell({ t: 'why', ask, seq });
    });
  }

  restoreRoute(routeId: string): void {
    this.tell({ t: 'restoreRoute', routeId });
  }

  offer(carrier: number, ports: OfferedPort[]): void {
    this.offers.set(carrier, ports);
    this.tell({ t: 'offer', carrier, ports });
  }

  leave(carrier: number): void {
    if (this.offers.delete(carrier)) this.tell({ t: 'leave', carrier });
  }

  /** Has the next batch say everything, for somebody who has just begun to look. */
  tellAll(): void {
    this.tell({ t: 'tellAll' });
  }

  portBytes(carrier: number, port: number, bytes: Uint8Array): void {
    this.tell({ t: 'portBytes', carrier, port, bytes });
  }

  /** Makes the thread fail, to show what happens then. */
  fail(): void {
    this.tell({ t: 'fail' });
  }

  async onApplicationShutdown(): Promise<void> {
    this.closing = true;
    const { worker } = this;
    if (!worker) return;
    const closed = new Promise<void>((done) => {
      worker.on('message', (message: FromThread) => message.t === 'closed' && done());
      worker.on('exit', () => done());
    });
    this.tell({ t: 'close' });
    await closed;
    await worker.terminate();
  }

  private tell(message: ToThread): void {
    this.worker?.postMessage(message);
  }

  private tellShow(before: Before): void {
    this.tell({ t: 'show', placed: this.showNow!(), armed: this.armedNow, before });
  }

  /** What a thread goes on from that is started in the place of one that failed. */
  private before(): Before {
    const { settings } = this.showNow!().show;
    const finished = settings.afterRestart === 'ended' ? this.orderSeen.running.map(({ id }) => id) : [];
    return { standingBy: this.standingBy, finished, levels: this.levels };
  }

  private startThread(before: Before): void {
    const worker = new Worker(THREAD);
    this.worker = worker;
    worker.on('message', (message: FromThread) => this.hear(message));
    worker.on('error', (error) =>
      this.log.error(`the engine thread failed: ${error.stack ?? error.message}`),
    );
    worker.on('exit', () => {
      if (this.closing || this.worker !== worker) return;
      this.worker = null;
      this.restarts++;
      setTimeout(() => {
        this.startThread(this.before());
        this.watcher!.restarted(this.restarts);
      }, AGAIN_MS);
    });
    // Messages wait in the thread's queue until it is ready for them.
    this.tellShow(before);
    for (const [carrier, ports] of this.offers) this.tell({ t: 'offer', carrier, ports });
  }

  private hear(message: FromThread): void {
    switch (message.t) {
      case 'batch':
        this.tell({ t: 'took' });
        return this.watcher!.batch(message.bytes);
      case 'slots':
        this.slots = message.slots;
        return this.watcher!.slots(message.slots);
      case 'lineStates':
        this.lineStates = message.states;
        return this.watcher!.lineStates(message.states);
      case 'held':
        return this.watcher!.held(message.held);
      case 'cutRoutes':
        this.cutRoutes = message.cut;
        return this.watcher!.cutRoutes(message.cut);
      case 'live':
        this.beatAt = message.beatAt;
        return this.watcher!.live(message.live, message.beatAt);
      case 'order':
        this.orderSeen = message.order;
        this.standingBy = message.order.standingBy ?? (message.order.called ? AT_THE_END : null);
        return this.watcher!.order(message.order);
      case 'log':
        return this.watcher!.log(message.tallies, message.events);
      case 'levels':
        this.levels = { ...this.levels, ...message.levels };
        return this.watcher!.levels();
      case 'why':
        return this.asks.get(message.ask)?.(message.steps);
      case 'portBytes':
        return this.watcher!.portBytes(message.carrier, message.port, message.bytes);
      case 'ready':
      case 'closed':
        return;
    }
  }
}
