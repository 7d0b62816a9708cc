/** The UDP ports of the stand-ins. They are stored, because the show refers to them. */
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { firstFree, tryUdpPair, tryUdpPort } from './ports.js';

/** The preferred port of each. */
export const WISHED_PORTS = {
  /** The water screen hears OSC here. */
  water: 9000,
  /** The lantern rig hears sACN here, and Art-Net there: beside the standards' own ports, which a real rig may use. */
  rigSacn: 5570,
  rigArtnet: 6456,
  /** The show hears the deck desk's Art-Net here. */
  deck: 6460,
  /** The front-of-house machine takes part in a network MIDI session here, and at the next port. */
  house: 5104,
};
export type StandInPorts = typeof WISHED_PORTS;
export type StandInPortName = keyof StandInPorts;

export interface MovedPort {
  was: number;
  now: number;
}

const NAMES = Object.keys(WISHED_PORTS) as StandInPortName[];
/** Those that need the next port too. */
const PAIRS: readonly StandInPortName[] = ['house'];

/** Returns free ports, each at or after the preferred one. */
export async function choosePorts(wished: StandInPorts): Promise<StandInPorts> {
  const chosen = { ...wished };
  const taken = new Set<number>();
  for (const name of NAMES) {
    const attempt = PAIRS.includes(name) ? tryUdpPair : tryUdpPort;
    chosen[name] = await firstFree(wished[name], async (port) => (taken.has(port) ? null : attempt(port)));
    taken.add(chosen[name]);
  }
  return chosen;
}

/** Returns random free ports, so that processes which choose at the same time do not choose the same. */
export function randomPorts(): Promise<StandInPorts> {
  const from = 20_000 + Math.floor(Math.random() * 10_000);
  return choosePorts({
    water: from,
    rigSacn: from + 1,
    rigArtnet: from + 2,
    deck: from + 3,
    house: from + 4,
  });
}

/** Reads the ports from a file, replaces those that another program uses now, and stores them again. */
export async function keepPorts(file: string): Promise<{ ports: StandInPorts; moved: MovedPort[] }> {
  const kept = existsSync(file) ? (JSON.parse(readFileSync(file, 'utf8')) as Partial<StandInPorts>) : {};
  const ports = await choosePorts({ ...WISHED_PORTS, ...kept });
  writeFileSync(file, JSON.stringify(ports));
  const moved = NAMES.flatMap((name) => {
    const was = kept[name];
    return was === undefined || was === ports[name] ? [] : [{ was, now: ports[name] }];
  });
  return { ports, moved };
}
