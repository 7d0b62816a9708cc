/** Who may send to a line: which addresses, and which pages of a browser. */
import { BlockList } from 'node:net';

/** @param hearFrom addresses and networks (`192.168.1.0/24`) of IPv4; none for anybody. */
export function createGate(hearFrom: readonly string[]): (address: string | undefined) => boolean {
  if (hearFrom.length === 0) return () => true;
  const list = new BlockList();
  for (const entry of hearFrom) {
    const [address = '', bits] = entry.split('/');
    if (bits === undefined) list.addAddress(address);
    else list.addSubnet(address, Number(bits));
  }
  return (address) => address !== undefined && list.check(address.replace(/^::ffff:/, ''));
}

export const strangerWords = (address: string | undefined): string =>
  `From ${address ?? 'nobody'}, who may not send here. Name them under “Heard from”, if they shall.`;

/** Methods of HTTP (RFC 9110, 9.1, and PATCH of RFC 5789), by which a browser's `fetch` to a port begins. */
const HTTP = /^(?:GET|HEAD|POST|PUT|DELETE|CONNECT|OPTIONS|TRACE|PATCH) /;
const LONGEST_METHOD = 8;

/** Whether the first bytes of a connection are those of a web page's request, and not of a program that speaks OSC. */
export const isHttp = (first: Uint8Array): boolean =>
  HTTP.test(String.fromCharCode(...first.subarray(0, LONGEST_METHOD)));
