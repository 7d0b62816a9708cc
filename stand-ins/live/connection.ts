/** The connection of a stand-in to the server. It reconnects whenever it breaks. */
import WebSocket from 'ws';

export interface StandInPort {
  kind: 'midi-inside' | 'keys-inside';
  name: string;
  in: boolean;
  out: boolean;
}

export interface StandInOptions {
  /** What it is called, in the interface's addresses: `water-screen`. */
  name: string;
  /** Port of the server, on loopback. */
  serverPort: number;
  /** The ports that it offers. */
  ports: StandInPort[];
  /** Something was sent to one of the ports, by its place in the list: a whole MIDI message, or a key. */
  heard?(port: number, bytes: Uint8Array): void;
  /** The interface asks it to do something. */
  asked(ask: unknown): void;
  /** Returns its state for the interface. */
  state(): unknown;
}

export interface StandInConnection {
  /** Reports that its state has changed. It is sent at most 30 times a second. */
  changed(): void;
  /** Sends MIDI on one of the ports, by its place in the list. */
  midi(port: number, bytes: Uint8Array | number[]): void;
}

const SHOW_MS = 33;
const AGAIN_MS = 500;
/** First byte of a MIDI message or key on the live connection; then the port's place, then its bytes. */
const PORT_BYTES = 2;

export function connectStandIn(options: StandInOptions): StandInConnection {
  let socket: WebSocket | null = null;
  let due: NodeJS.Timeout | null = null;

  const open = (): boolean => socket?.readyState === WebSocket.OPEN;
  const say = (message: object): void => {
    if (open()) socket!.send(JSON.stringify(message));
  };

  function show(): void {
    due = null;
    say({ t: 'standIn', name: options.name, state: options.state() });
  }

  function connect(): void {
    const attempt = new WebSocket(`ws://127.0.0.1:${options.serverPort}/live`, {
      headers: { Authorization: `Bearer ${process.env['TAWNY_TOKEN'] ?? ''}` },
    });
    socket = attempt;
    attempt.on('open', () => {
      show();
      say({ t: 'ports', ports: options.ports });
    });
    attempt.on('message', (data, isBinary) => {
      if (isBinary) {
        const bytes = Uint8Array.from(data as Buffer);
        if (bytes[0] === PORT_BYTES) options.heard?.(bytes[1]!, bytes.subarray(2));
        return;
      }
      const message = JSON.parse(String(data)) as { t: string; ask?: unknown };
      if (message.t === 'ask') options.asked(message.ask);
    });
    attempt.on('error', () => undefined); // the close that follows brings the next try
    attempt.on('close', () => setTimeout(connect, AGAIN_MS));
  }

  connect();
  return {
    changed() {
      due ??= setTimeout(show, SHOW_MS);
    },
    midi(port, bytes) {
      if (open()) socket!.send(Uint8Array.from([PORT_BYTES, port, ...bytes]));
    },
  };
}

/** Ends the stand-in when its parent process ends. */
export function endWithParent(): void {
  process.on('disconnect', () => process.exit(0));
  if (!process.connected) process.exit(0); // it went while we were starting
  process.on('SIGINT', () => process.exit(0));
  process.on('SIGTERM', () => process.exit(0));
}

/** Reads a number from the environment. @throws if it is missing */
export function fromEnvironment(name: string): number {
  const value = Number(process.env[name]);
  if (!Number.isInteger(value)) throw new Error(`${name} is missing: a stand-in is started by npm start`);
  return value;
}

/** The UDP ports of stand-ins, by their names. @throws if they are missing */
export function portsFromEnvironment(): Readonly<
  Record<'water' | 'rigSacn' | 'rigArtnet' | 'deck' | 'house', number>
> {
  const text = process.env['TAWNY_STAND_IN_PORTS'];
  if (!text) throw new Error('TAWNY_STAND_IN_PORTS is missing: a stand-in is started by npm start');
  return JSON.parse(text) as ReturnType<typeof portsFromEnvironment>;
}
