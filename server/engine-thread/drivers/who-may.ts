/** Who may send to a line. */
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
