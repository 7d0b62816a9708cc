/** Finds the program of this machine that uses a port (Linux, and only programs that we are allowed to inspect). */
import { readdir, readFile, readlink } from 'node:fs/promises';

export type Transport = 'udp' | 'tcp';

/** In a table of sockets: local address and port in hexadecimal, the state, and the socket's inode (proc(5)). */
const ROW = /^\s*\d+: [0-9A-F]+:([0-9A-F]{4}) [0-9A-F]+:[0-9A-F]{4} ([0-9A-F]{2}) (?:\S+\s+){5}(\d+)/;
const LISTENING = '0A';

/** Inodes of the sockets that have this port, from a table of the system. */
export function inodesOf(table: string, port: number, transport: Transport): string[] {
  return table.split('\n').flatMap((line) => {
    const [, hex, state, inode] = ROW.exec(line) ?? [];
    if (hex === undefined || parseInt(hex, 16) !== port) return [];
    return transport === 'tcp' && state !== LISTENING ? [] : [inode!];
  });
}

async function holds(pid: string, sockets: ReadonlySet<string>): Promise<boolean> {
  const files = await readdir(`/proc/${pid}/fd`).catch(() => []);
  for (const file of files) {
    const link = await readlink(`/proc/${pid}/fd/${file}`).catch(() => '');
    if (sockets.has(link)) return true;
  }
  return false;
}

/** Returns the name and process id of the program; `us` if it is this one; null if unknown. Never throws. */
export async function holderOf(port: number, transport: Transport): Promise<string | null> {
  const tables = [`/proc/net/${transport}`, `/proc/net/${transport}6`];
  const texts = await Promise.all(tables.map((path) => readFile(path, 'utf8').catch(() => '')));
  const sockets = new Set(
    texts.flatMap((text) => inodesOf(text, port, transport)).map((inode) => `socket:[${inode}]`),
  );
  if (sockets.size === 0) return null;
  for (const pid of await readdir('/proc').catch(() => [])) {
    if (!/^\d+$/.test(pid) || !(await holds(pid, sockets))) continue;
    if (Number(pid) === process.pid) return 'us';
    const name = await readFile(`/proc/${pid}/comm`, 'utf8').catch(() => '');
    return `${name.trim() || 'a program'} (process ${pid})`;
  }
  return null;
}

/** @param holder the result of `holderOf` */
export function inUseWords(port: number, holder: string | null): string {
  const who =
    holder === null
      ? 'another program on this machine, or by another line'
      : holder === 'us'
        ? 'another line of this show'
        : holder;
  return `Port ${port} is in use by ${who}. Close that one, or choose another port.`;
}
