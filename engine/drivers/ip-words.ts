/** Says what socket errors mean and what to do. */
import { inUseWords } from './port-holder.js';

export function outWords(host: string, port: number, code: string | undefined): string {
  switch (code) {
    case 'ECONNREFUSED':
      return `Nothing is listening at ${host}:${port}. Start the program there, or check its port.`;
    case 'ENOTFOUND':
    case 'EAI_AGAIN':
      return `No machine is called ${host}. Check the name, or write its address.`;
    case 'ENETUNREACH':
    case 'EHOSTUNREACH':
      return `This machine can’t reach ${host}. Check the network cable and the address.`;
    case 'ETIMEDOUT':
      return `${host} does not answer. Check that it is on, and its address.`;
    case 'EACCES':
      return `${host} is a broadcast address, which this line can’t send to. Write one machine’s address.`;
    default:
      return `Can’t send to ${host}:${port} (${code ?? 'unknown reason'}). Trying again.`;
  }
}

export function inWords(port: number, host: string, code: string | undefined): string {
  switch (code) {
    case 'EADDRINUSE':
      return inUseWords(port, null);
    case 'EACCES':
      return `Port ${port} needs an administrator. Choose one above 1023.`;
    case 'EADDRNOTAVAIL':
      return `${host} is not an address of this machine. Write one of its addresses, 127.0.0.1 for this machine only, or 0.0.0.0 for all networks.`;
    case 'ENOTFOUND':
    case 'EAI_AGAIN':
      return `No machine is called ${host}. Write an address of this machine to listen on.`;
    default:
      return `Can’t listen on port ${port} (${code ?? 'unknown reason'}). Trying again.`;
  }
}
