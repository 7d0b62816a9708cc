/** Whom a session of network MIDI calls: a machine by its address, or another session by the name under which it is found on the network. */
import { host } from './fields.js';

/** The usual first port of a session. */
export const SESSION_PORT = 5004;

/** Reads `host`, `host:port` or `[::1]:port`, where the port is the first one of a pair; null if it is none of them. */
export function machineOf(text: string): { host: string; port: number } | null {
  const [, six, four = '', digits] = /^(?:\[([^\]\s]+)\]|([^:\s"[\]]+))(?::(\d{1,5}))?$/.exec(text) ?? [];
  const name = six ?? four;
  const first = digits === undefined ? SESSION_PORT : Number(digits);
  const isHost = host.safeParse(name).success && (six === undefined || six.includes(':'));
  return isHost && first > 0 && first < 65_535 ? { host: name, port: first } : null;
}

/** Reads a name, which stands in quotes: `"Front of house"`; null if it is none. */
export const foundNameOf = (text: string): string | null => /^"([^"]{1,60})"$/.exec(text)?.[1] ?? null;

/** A session that is called by the name under which it is found. */
export const whomByName = (name: string): string => `"${name.replaceAll('"', '')}"`;

/** Splits what somebody typed: words with spaces or commas between, and names in quotes. */
export const readWhom = (text: string): string[] =>
  (text.replace(/[“”„]/g, '"').match(/"[^"]*"?|[^\s,;"]+/g) ?? []).map((word) => word.trim());
