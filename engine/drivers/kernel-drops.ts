/** Counts UDP packets that the system dropped because the program did not read them in time, for each socket (Linux, proc(5)). */
import { readFile } from 'node:fs/promises';

/** Local address and port in hexadecimal; the last column is the count of what was dropped. */
const ROW = /^\s*\d+: [0-9A-F]+:([0-9A-F]{4}) .*\s(\d+)\s*$/;

/** Reads the counts by port from a table of the system. Sockets that share a port are added up. */
export function dropsIn(table: string): Map<number, number> {
  const drops = new Map<number, number>();
  for (const line of table.split('\n')) {
    const [, port, count] = ROW.exec(line) ?? [];
    if (port === undefined) continue;
    const known = drops.get(parseInt(port, 16)) ?? 0;
    drops.set(parseInt(port, 16), known + Number(count));
  }
  return drops;
}

/** Returns an empty map if the system does not provide the counts. Never throws. */
export async function kernelDrops(): Promise<Map<number, number>> {
  const tables = await Promise.all(
    ['/proc/net/udp', '/proc/net/udp6'].map((path) => readFile(path, 'utf8').catch(() => '')),
  );
  return dropsIn(tables.join('\n'));
}
