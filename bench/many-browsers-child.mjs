/**
 * Stands for the browsers of (m): connections that read all that they are sent, and count it. It is a process of its own, as browsers are, and plain
 * JavaScript, so that it can run as it is.
 */
import WebSocket from 'ws';

/** @type {WebSocket[]} */
let sockets = [];
let bytes = 0;
let messages = 0;

/** @param {{ do: 'open' | 'close' | 'counts'; url?: string; cookies?: string[]; count?: number }} ask */
async function act(ask) {
  if (ask.do === 'open') {
    const paths = ['/afar', '/prompt', '/mappings', '/traffic'];
    sockets = Array.from({ length: ask.count ?? 0 }, (_, at) => {
      const socket = new WebSocket(ask.url ?? '', {
        headers: { Cookie: ask.cookies?.[at % ask.cookies.length] ?? '' },
      });
      socket.on('message', (/** @type {Buffer} */ data) => {
        bytes += data.length;
        messages++;
      });
      socket.on('open', () =>
        socket.send(
          JSON.stringify({
            t: 'here',
            page: (0x10000000 + at).toString(16),
            name: '',
            path: paths[at % paths.length],
            field: null,
            hidden: false,
          }),
        ),
      );
      return socket;
    });
    await Promise.all(sockets.map((socket) => new Promise((done) => socket.once('open', done))));
  } else if (ask.do === 'close') {
    await Promise.all(
      sockets.map((socket) => {
        const closed = new Promise((done) => socket.once('close', done));
        socket.close();
        return closed;
      }),
    );
    sockets = [];
  }
  const alive = sockets.filter((socket) => socket.readyState === WebSocket.OPEN).length;
  process.send?.({ bytes, messages, alive });
}

process.on('message', (/** @type {Parameters<typeof act>[0]} */ ask) => void act(ask));
