/**
 * The engine as the server sees it: a process of its own at the other end of a link. It plays on without us; whenever we are connected it says how
 * things are, and is told what it does not know yet.
 */
import { connect, type Socket } from 'node:net';
import { Inject, Injectable, type OnApplicationShutdown } from '@nestjs/common';
import type { Op } from '@tawny-signal/core/edits';
import { AT_THE_END, type OrderAct } from '@tawny-signal/core/cues/order';
import type { Press } from '@tawny-signal/core/cues/presses';
import { createLinkReader, messageFrame, portFrame } from '@tawny-signal/core/link/frames';
import { inPieces } from '@tawny-signal/core/link/pieces';
import type { FromEngine, Hello, OfferedPort, ShowMark, ToEngine } from '@tawny-signal/core/link/messages';
import { NO_ORDER, type OrderSeen, type Indexes, type WhyStep } from '@tawny-signal/core/live/messages';
import type { LineState } from '@tawny-signal/core/live/line-state';
import type { Transport } from '@tawny-signal/core/time/transport';
import type { Send } from '@tawny-signal/core/sends';
import { CONFIG, type Config } from '../config.js';
import { createAsks } from './asks.js';
import { createBackAgain } from './back-again.js';
import { giveOrder } from './presses.js';
import { onOurClock, type EngineWatcher, type Playing } from './engine-watcher.js';
import { createMotionsDesk } from './motions-desk.js';
import { EngineAway } from '../http/problems.js';

/** The time between two tries to connect to the engine. */
const AGAIN_MS = 30;
/** The longest wait for an answer of the engine. */
const ANSWER_MS = 2000;
/** An edit of more rows is told as a show, which comes in pieces. */
const MOST_OPS = 1000;
/** An engine with more unread bytes than this is disconnected. */
const BEHIND_BYTES = 64 << 20;

@Injectable()
export class EngineService implements OnApplicationShutdown {
  /** The connection, once the engine has said hello; null while it is away. */
  private link: Socket | null = null;
  private connecting: Socket | null = null;
  private watcher!: EngineWatcher;
  private playing: () => Playing | null = () => null;
  private readonly offers = new Map<number, OfferedPort[]>();
  private closing = false;
  /** The desk that asked for Panic while the engine was away. It is done first when the engine is back. */
  private panicFor: string | null = null;
  private instance: string | null = null;
  /** The version of the show that the engine was told. */
  private mark: ShowMark | null = null;
  private readonly backAgain = createBackAgain();
  private readonly asks = createAsks<FromEngine>(ANSWER_MS);
  restarts = 0;
  armed = true;
  indexes: Indexes = { lines: {}, senders: {} };
  cutRoutes: Record<string, number> = {};
  lineStates: Record<string, LineState> = {};
  /** The last known tempo; null until the engine has reported it. */
  transport: Transport | null = null;
  readonly motions = createMotionsDesk((message) => this.tell(message));
  /** The last known state. Out of date while the engine is away. */
  orderSeen: OrderSeen = NO_ORDER;
  /** By line, the levels of its slots in base64. */
  levels: Record<string, string> = {};

  constructor(@Inject(CONFIG) private readonly config: Config) {}

  /** @param playing the show as the server has it; null while it has none */
  start(playing: () => Playing | null, watcher: EngineWatcher): void {
    this.playing = playing;
    this.watcher = watcher;
    this.connect();
  }

  get here(): boolean {
    return this.link !== null;
  }

  /** Sets what stands by, to restart from. */
  get standingBy(): string | null {
    return this.orderSeen.standingBy ?? (this.orderSeen.called ? AT_THE_END : null);
  }

  /** @throws EngineAway if it was not done */
  async setArmed(armed: boolean): Promise<void> {
    await this.doing({ t: 'armed', armed });
    this.armed = armed;
  }

  /** The show has changed. @param ops null if the engine must load the whole show */
  edited(mark: ShowMark, ops: Op[] | null): void {
    if (!ops || ops.length > MOST_OPS) return this.agree();
    this.mark = mark;
    this.tell({ t: 'ops', mark, ops });
  }

  /** Makes sure that the engine plays the show of the server. Called whenever they may differ. */
  agree(): void {
    const playing = this.playing();
    if (!playing) return this.tell({ t: 'giveShow' });
    const known = this.mark?.showId === playing.mark.showId;
    if (!known || this.mark?.rev !== playing.mark.rev) this.tellShow(!known);
  }

  /** @returns false if the engine is away: then Panic is done first when it is back */
  async panic(desk: string): Promise<boolean> {
    try {
      await this.doing({ t: 'panic', desk });
      return true;
    } catch {
      this.panicFor = desk;
      return false;
    }
  }

  tryMapping(mappingId: string, pressed: boolean): void {
    this.tell({ t: 'try', mappingId, pressed });
  }

  tryLine(lineId: string, send: Send, pressed: boolean, value?: number): void {
    this.tell({ t: 'tryLine', lineId, send, pressed, value });
  }

  /** @param desk the name of the desk that asks. @param press null where it has no id. @throws EngineAway if it was not done, TooLate, NotSure */
  async order(act: OrderAct, desk: string, press: Press | null): Promise<OrderSeen> {
    const give = (now: Press | null) => this.asking((ask) => ({ t: 'order', ask, act, desk, press: now }));
    await giveOrder(give, press, () => this.link !== null && this.backAgain.isBack(this.lineStates));
    return this.orderSeen;
  }

  /** Returns what mappings did with the message with this `seq`; null if it is too long ago, or no engine answers. */
  async why(seq: number): Promise<WhyStep[] | null> {
    const answer = await this.asking((ask) => ({ t: 'why', ask, seq }));
    return answer?.t === 'why' ? answer.steps : null;
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

  /** @param ageMs how many ms ago the bytes arrived at their port */
  portBytes(carrier: number, port: number, bytes: Uint8Array, ageMs: number): void {
    this.link?.write(portFrame(carrier, port, bytes, ageMs));
  }

  /** Makes the engine fail. Used by tests. */
  fail(): void {
    this.tell({ t: 'fail' });
  }

  onApplicationShutdown(): void {
    this.closing = true;
    this.connecting?.destroy();
    this.link?.end();
  }

  private connect(): void {
    if (this.closing) return;
    const socket = connect(this.config.engineSocket);
    this.connecting = socket;
    const reader = createLinkReader({
      message: (json) => this.hear(socket, JSON.parse(json) as FromEngine),
      batch: (bytes) => {
        this.tell({ t: 'took' });
        this.watcher.batch(bytes);
      },
      portBytes: (carrier, port, bytes) => this.watcher.portBytes(carrier, port, bytes),
    });
    socket.on('data', (bytes) => reader.feed(bytes as Buffer));
    socket.on('error', () => undefined); // the close that follows is enough
    socket.on('close', () => {
      if (this.link === socket) this.left();
      if (!this.closing) setTimeout(() => this.connect(), AGAIN_MS);
    });
  }

  private left(): void {
    this.link = null;
    this.backAgain.left(this.lineStates);
    this.asks.end();
    if (!this.closing) this.watcher.left();
  }

  private join(socket: Socket, hello: Hello): void {
    this.link = socket;
    this.backAgain.joined();
    if (this.panicFor !== null) this.tell({ t: 'panic', desk: this.panicFor });
    this.panicFor = null;
    const again = this.instance !== null && this.instance !== hello.instance;
    if (again) this.restarts++;
    this.instance = hello.instance;
    this.armed = hello.armed;
    this.indexes = hello.indexes;
    this.cutRoutes = hello.cutRoutes;
    this.lineStates = hello.lineStates;
    this.transport = hello.transport;
    this.orderSeen = hello.order;
    this.motions.joined(hello.motions);
    this.levels = hello.levels;
    for (const [carrier, ports] of this.offers) this.tell({ t: 'offer', carrier, ports });
    this.mark = hello.fresh ? null : hello.mark;
    this.watcher.joined(hello, again);
    this.agree();
  }

  /** @param anew true if the engine has not played this show yet */
  private tellShow(anew: boolean): void {
    const playing = this.playing();
    if (!playing) return;
    const { mark, placed } = playing;
    const before = anew ? playing.before() : null;
    if (before && this.mark) before.armed = null;
    this.armed = before?.armed ?? this.armed;
    this.mark = mark;
    for (const one of inPieces({ t: 'show', mark, placed, before })) this.tell(one);
  }

  /** Tells the engine something that nobody waits for; nothing while it is away. */
  tell(message: ToEngine): void {
    const { link } = this;
    if (!link) return;
    if (link.writableLength <= BEHIND_BYTES) link.write(messageFrame(message));
    else link.destroy();
  }

  /** Asks the engine. @returns the answer; null if none came */
  private asking(make: (ask: number) => ToEngine): Promise<FromEngine | null> {
    if (!this.link) return Promise.resolve(null);
    return this.asks.ask(
      (ask) => this.tell(make(ask)),
      // The engine hangs. What is known of it is out of date until it says hello again.
      () => this.link?.destroy(),
    );
  }

  /** @throws EngineAway if the engine has not confirmed it */
  async doing(message: ToEngine): Promise<void> {
    this.tell(message);
    if ((await this.asking((ask) => ({ t: 'done', ask }))) === null) throw new EngineAway();
  }

  /** Whether the engine was still playing another show when it said this. */
  private isOfAnother(showId: string): boolean {
    return this.mark !== null && this.mark.showId !== showId;
  }

  private hear(socket: Socket, message: FromEngine): void {
    switch (message.t) {
      case 'hello':
        return this.join(socket, message);
      case 'indexes':
        this.indexes.lines = message.indexes.lines;
        Object.assign(this.indexes.senders, message.indexes.senders);
        return this.watcher.indexes(message.indexes);
      case 'lineStates':
        this.lineStates = message.states;
        return this.watcher.lineStates(message.states);
      case 'held':
        return this.watcher.held(message.held);
      case 'cutRoutes':
        this.cutRoutes = message.cut;
        return this.watcher.cutRoutes(message.cut);
      case 'live':
        if (this.isOfAnother(message.showId)) return;
        return this.watcher.live(message.live);
      case 'transport':
        this.transport = message.transport;
        return this.watcher.transport(message.transport);
      case 'motions':
        this.motions.take(message.motions);
        return this.watcher.motions(message.motions);
      case 'order':
        if (this.isOfAnother(message.showId)) return;
        this.orderSeen = message.order;
        return this.watcher.order(message.order);
      case 'log':
        return this.watcher.log(message.tallies, onOurClock(message.events, message.now));
      case 'levels':
        this.levels = { ...this.levels, ...message.levels };
        return this.watcher.levels(message.levels);
      case 'slots':
        return this.watcher.slots(message.slots);
      case 'why':
      case 'done':
      case 'ordered':
        return this.asks.answer(message.ask, message);
      case 'show':
        if (message.mark) this.watcher.show(message.mark, message.placed);
        return;
      case 'wantShow':
        return this.tellShow(false);
    }
  }
}
