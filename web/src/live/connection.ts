/** The live connection to the server. It reconnects whenever it breaks. */
import { inflateSync } from 'fflate';
import { BATCH, PACKED_BATCH, PORT_BYTES, timedPortBytes } from '@tawny-signal/core/live/batch';
import type { CARRIED_KINDS, FromClient, FromServer, Port } from '@tawny-signal/core/live/messages';
import type { LiveShow } from '@tawny-signal/core/show/live';
import type { Send } from '@tawny-signal/core/sends';
import { createClockOffset } from '@tawny-signal/core/time/clock-offset';
import type { Here } from '@tawny-signal/core/people/here';
import { askWho, isLetIn, whyNot } from '../people/me';
import { PAGE_ID } from '../people/page-id';
import { followThisDesk, thisDesk } from '../show/this-desk';
import { setServerClock } from './server-clock';
import type { LiveStore } from './store';

export type CarriedPort = Port & { kind: (typeof CARRIED_KINDS)[number] };
export type ServerEdit = Extract<FromServer, { t: 'edit' }>;

export interface Connection {
  /** Offers all ports of this tab to the server. */
  offer(ports: CarriedPort[]): void;
  /** MIDI or a key heard on a port, by its place in what was offered. @param timeStamp when, if the browser says it (`Event.timeStamp`) */
  midi(port: number, bytes: Uint8Array, timeStamp?: number): void;
  tryMapping(mappingId: string, pressed: boolean): void;
  /** Sends something on a line by hand, at the top of its range, or releases it. */
  tryLine(lineId: string, send: Send, pressed: boolean, value?: number): void;
  askStandIn(name: string, ask: unknown): void;
  /** Says to the others what has changed of where this page is. */
  here(change: Partial<Pick<Here, 'path' | 'field' | 'hidden'>>): void;
  /** Asks who is everywhere, and not only at this place, until the function that it returns is called. */
  listHere(): () => void;
  /** Asks for what motions make, until the result is called. */
  watchMotions(): () => void;
}

export interface ConnectionEvents {
  edited(edit: ServerEdit): void;
  /** Signals have switched banks. */
  live(live: LiveShow): void;
  /** Connected again. What was missed must be read again. */
  reconnected(): void;
  /** An action was refused because this browser only watches, or its person may not. */
  refused(why: string): void;
  /** Who is here has changed, or somebody has given a wrong passphrase. */
  people(guesses: Extract<FromServer, { t: 'people' }>['guesses']): void;
  /** The server sends MIDI out of a port of this tab. */
  portBytes(port: number, bytes: Uint8Array): void;
}

const AGAIN_MS = 500;
/** The same once the server has said that this page is let in. */
const LET_IN_MS = 100;
/** How often it is looked whether anything was heard, and after how many looks in vain the connection is given up: one that is open, one that is being made. */
const LOOK_MS = 1500;
const MOST_VAIN = { open: 3, connecting: 6 };
/** A question that only asks whether the server is there. */
const NO_CLOCK = -1;
/** How long what is said of where this page is waits for more of it. */
const HERE_MS = 150;
/** The session has ended: the page asks to sign in. */
const ENDED = 4401;
/** How often the server's clock is asked, and how often at the start of a connection. */
const CLOCK_MS = 10_000;
const CLOCK_ASKS = 4;

export function connectLive(store: LiveStore, events: ConnectionEvents): Connection {
  let socket: WebSocket | null = null;
  let ports: CarriedPort[] = [];
  /** How many parts of this page show what motions make. */
  let motionWatchers = 0;
  /** How often in a row it was looked in vain whether the server has said anything. */
  let vain = 0;
  let retry: ReturnType<typeof setTimeout> | null = null;
  const here = {
    path: location.pathname,
    field: null as string | null,
    hidden: document.hidden,
    lists: false,
  };
  /** How many parts of this page list who is here. */
  let lists = 0;
  let sayingHere: ReturnType<typeof setTimeout> | null = null;
  /** The offset of the server's clock. Measured for each connection, since the server may be a different one. */
  let clock = createClockOffset();

  const send = (message: FromClient): void => {
    if (socket?.readyState === WebSocket.OPEN) socket.send(JSON.stringify(message));
  };

  /** Sends a command of operators, unless this browser only watches. Releases are always sent, so that nothing hangs. */
  function act(message: FromClient, lettingGo = false): void {
    const why = lettingGo ? null : whyNot('operator');
    if (why !== null) events.refused(why);
    else send(message);
  }

  /** A browser that only watches offers the on-screen pads, to show their lamps, and nothing that it could play; one whose person may not play, nothing. */
  function offerPorts(): void {
    if (whyNot('operator') === null) send({ t: 'ports', ports });
    else if (thisDesk().watches) send({ t: 'ports', ports: ports.slice(0, 1) });
  }

  function hearText(message: FromServer): void {
    switch (message.t) {
      case 'desk':
        return store.setDesk(message.desk);
      case 'indexes':
        return store.setIndexes(message.indexes, message.more);
      case 'lineStates':
        return store.setLineStates(message.states);
      case 'held':
        return store.setHeld(message.held);
      case 'cutRoutes':
        return store.setCutRoutes(message.cut);
      case 'order':
        return store.setOrder(message.order);
      case 'live':
        return events.live(message.live);
      case 'motions':
        return store.setMotions(message.motions);
      case 'transport':
        return store.setTransport(message.transport);
      case 'slots':
        return store.setSlots(message.slots);
      case 'levels':
        return store.setLevels(message.levels);
      case 'clock':
        return clockAnswered(message.sent, message.now);
      case 'edit':
        return events.edited(message);
      case 'standIn':
        return store.setStandIn(message.name, message.state);
      case 'here':
        return store.setHere(message);
      case 'you':
        return store.setMe(message.id);
      case 'people':
        return events.people(message.guesses);
      case 'ask':
        return;
    }
  }

  function clockAnswered(sentAt: number, there: number): void {
    if (sentAt === NO_CLOCK) return;
    const now = performance.now();
    clock.answered(sentAt, there, now);
    setServerClock(clock.toOther(now) ?? there, now);
  }

  function changeHere(change: Partial<typeof here>): void {
    if (Object.entries(change).every(([name, value]) => here[name as keyof typeof here] === value)) return;
    Object.assign(here, change);
    sayingHere ??= setTimeout(sayHere, HERE_MS);
  }

  function sayHere(): void {
    sayingHere = null;
    send({ t: 'here', page: PAGE_ID, name: thisDesk().name, ...here });
  }

  const askClock = (): void => send({ t: 'clock', sent: performance.now() });

  function connect(): void {
    if (retry !== null) clearTimeout(retry);
    retry = null;
    vain = 0;
    const attempt = new WebSocket(`${location.protocol === 'https:' ? 'wss' : 'ws'}://${location.host}/live`);
    attempt.binaryType = 'arraybuffer';
    socket = attempt;
    let opened = false;
    attempt.onopen = () => {
      opened = true;
      vain = 0;
      store.setConnected(true);
      clock = createClockOffset();
      for (let asks = 0; asks < CLOCK_ASKS; asks++) askClock();
      sayHere();
      offerPorts();
      if (motionWatchers > 0) send({ t: 'watchMotions', on: true });
      events.reconnected();
    };
    attempt.onmessage = ({ data }: MessageEvent<string | ArrayBuffer>) => {
      vain = 0;
      if (typeof data === 'string') return hearText(JSON.parse(data) as FromServer);
      const bytes = new Uint8Array(data);
      if (bytes[0] === BATCH) store.takeBatch(bytes, performance.now());
      else if (bytes[0] === PACKED_BATCH) store.takeBatch(inflateSync(bytes.subarray(1)), performance.now());
      else if (bytes[0] === PORT_BYTES) events.portBytes(bytes[1]!, bytes.subarray(2));
    };
    attempt.onclose = ({ code }) => {
      store.setConnected(false);
      if (!opened || code === ENDED) return void askWhether();
      retry = setTimeout(connect, AGAIN_MS);
    };
  }

  /** A page can't see why it was not let in: the server is asked as soon as it answers. Whoever is not let in signs in, and does not try again. */
  async function askWhether(): Promise<void> {
    await askWho();
    if (isLetIn()) retry ??= setTimeout(connect, LET_IN_MS);
  }

  /** A network that has gone says nothing: the server is asked, and a connection on which nothing comes is given up. */
  function look(): void {
    if (socket === null || retry !== null || socket.readyState > WebSocket.OPEN) return;
    const most = socket.readyState === WebSocket.OPEN ? MOST_VAIN.open : MOST_VAIN.connecting;
    if (vain++ < most) return send({ t: 'clock', sent: NO_CLOCK });
    socket.onopen = socket.onmessage = socket.onclose = null;
    socket.close();
    store.setConnected(false);
    connect();
  }

  /** The machine has slept, or the network is back. */
  function wake(): void {
    if (retry !== null) connect();
    else look();
  }

  connect();
  followThisDesk(() => {
    offerPorts();
    sayHere();
  });
  setInterval(look, LOOK_MS);
  window.addEventListener('online', wake);
  document.addEventListener('visibilitychange', () => {
    if (!document.hidden) wake();
  });
  // The browser may keep a page that was left, with its connection and what it holds still open.
  window.addEventListener('pagehide', () => socket?.close());
  setInterval(() => store.tick(performance.now()), 100);
  setInterval(askClock, CLOCK_MS);
  return {
    offer(next) {
      ports = next;
      offerPorts();
    },
    midi(port, bytes, timeStamp = performance.now()) {
      const why = whyNot('operator');
      if (why !== null) return events.refused(why);
      if (socket?.readyState !== WebSocket.OPEN) return;
      const at = clock.toOther(timeStamp);
      if (at !== null) return socket.send(timedPortBytes(port, at, bytes));
      const framed = new Uint8Array(bytes.length + 2);
      framed.set([PORT_BYTES, port]);
      framed.set(bytes, 2);
      socket.send(framed);
    },
    tryMapping: (mappingId, pressed) => act({ t: 'try', mappingId, pressed }, !pressed),
    tryLine: (lineId, wish, pressed, value) =>
      act({ t: 'tryLine', lineId, send: wish, pressed, value }, !pressed),
    askStandIn: (name, ask) => act({ t: 'toStandIn', name, ask }),
    here: changeHere,
    listHere() {
      changeHere({ lists: ++lists > 0 });
      return () => changeHere({ lists: --lists > 0 });
    },
    watchMotions() {
      if (++motionWatchers === 1) send({ t: 'watchMotions', on: true });
      return () => {
        if (--motionWatchers === 0) send({ t: 'watchMotions', on: false });
      };
    },
  };
}
