import type { Line } from '@tawny-signal/core/show/line';
import { tryUdpPort } from '../scripts/ports.js';
import type { TestStage } from '../scripts/test-stage.js';

/** Posts to the API of a stage. @returns the answer. @throws with the message if it is refused */
export async function post<T>(
  { address }: Pick<TestStage, 'address'>,
  path: string,
  body: unknown,
): Promise<T> {
  const response = await fetch(`${address}api/${path}`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(body),
  });
  if (!response.ok) throw new Error(`${path}: ${await response.text()}`);
  return (await response.json()) as T;
}

/** Adds a line of OSC over UDP that hears at a free port. @param port of 127.0.0.1, where it sends to */
export async function addOscLine(
  stage: Pick<TestStage, 'address'>,
  name: string,
  port: number,
): Promise<{ line: Line; listenPort: number }> {
  const listenPort = (await tryUdpPort(0))!;
  const line = await post<Line>(stage, 'lines', {
    kind: 'osc-udp',
    name,
    host: '127.0.0.1',
    port,
    listenPort,
  });
  return { line, listenPort };
}
