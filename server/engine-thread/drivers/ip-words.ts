/** What sockets refuse, in words that say what to do. */

export function outWords(host: string, port: number, code: string | undefined): string {
  switch (code) {
    case 'ECONNREFUSED':
      return `Nothing is listening at ${host}:${port}. Start the program there, or check its port.`;
    case 'ENOTFOUND':
    case 'EAI_AGAIN':
      return `No machine is called ${host}. Check the name, or write its address.`;
    case 'ENETUNREACH':
    case 'EHOSTUNREACH':
      return `This machine has no way to ${host}. Check the network cable and the address.`;
    case 'ETIMEDOUT':
      return `${host} does not answer. Check that it is on, and its address.`;
    case 'EACCES':
      return `${host} is an address for everybody, which this line may not send to. Write one machine’s address.`;
    default:
      return `Can’t send to ${host}:${port} (${code ?? 'unknown reason'}). Trying again.`;
  }
}

export function inWords(port: number, code: string | undefined): string {
  if (code === 'EADDRINUSE')
    return `Port ${port} is in use by another program on this machine. Close that program, or choose another port.`;
  if (code === 'EACCES') return `Port ${port} needs an administrator. Choose one above 1023.`;
  return `Can’t listen on port ${port} (${code ?? 'unknown reason'}). Trying again.`;
}
