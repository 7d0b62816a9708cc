/** Decides who may send to a line: which addresses, and which web pages. */
import { BlockList } from 'node:net';

/** @param hearFrom IPv4 addresses and networks (`192.168.1.0/24`); empty for anybody */
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
  `From ${address ?? 'nobody'}, which is not allowed to send here. To allow them, add them under “Accept from”.`;

/** Methods of HTTP (RFC 9110, 9.1, and PATCH of RFC 5789), by which a browser's `fetch` to a port begins. */
const HTTP = /^(?:GET|HEAD|POST|PUT|DELETE|CONNECT|OPTIONS|TRACE|PATCH) /;
const LONGEST_METHOD = 8;

/** Returns whether the first bytes of a connection are an HTTP request of a web page, and not OSC. */
export const isHttp = (first: Uint8Array): boolean =>
  HTTP.test(String.fromCharCode(...first.subarray(0, LONGEST_METHOD)));
