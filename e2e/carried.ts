/** MIDI ports that a test carries to the server, as a stand-in or another tab would. */
import WebSocket from 'ws';

export interface Carried {
  play(port: string, ...bytes: number[]): void;
  /** What was sent to the ports: `Bass: 90 28 5a`. */
  sent: string[];
  /** From now on what is sent is only kept. */
  stopEcho(): void;
  close(): void;
}

const PORT_BYTES = 2;
const hex = (bytes: number[]): string => bytes.map((byte) => byte.toString(16)).join(' ');

/** @param heard is told what is sent to a port */
export async function carryPorts(
  serverPort: number,
  names: string[],
  heard: (port: string, bytes: number[]) => void = () => undefined,
): Promise<Carried> {
  const socket = new WebSocket(`ws://127.0.0.1:${serverPort}/live`);
  await new Promise((done) => socket.on('open', done));
  let echo = true;
  const carried: Carried = {
    sent: [],
    play: (port, ...bytes) => socket.send(Uint8Array.from([PORT_BYTES, names.indexOf(port), ...bytes])),
    stopEcho: () => (echo = false),
    close: () => socket.close(),
  };
  socket.on('message', (data, isBinary) => {
    const [kind, port, ...bytes] = isBinary ? [...(data as Buffer)] : [];
    if (kind !== PORT_BYTES) return;
    const name = names[port!]!;
    carried.sent.push(`${name}: ${hex(bytes)}`);
    if (echo) heard(name, bytes);
  });
  const ports = names.map((name) => ({ kind: 'midi-inside', name, in: true, out: true }));
  socket.send(JSON.stringify({ t: 'ports', ports }));
  return carried;
}
