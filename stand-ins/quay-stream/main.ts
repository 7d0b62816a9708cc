/** The quay stream: a picture of the night for those at home, switched by the keys of a keyboard. */
import { connectStandIn, endWithParent, fromEnvironment } from '../live/connection.js';
import { createLog } from '../live/log.js';
import { createStream, readKey, SCENES, type Key } from './stream.js';

const MOVE_MS = 50;
const stream = createStream();
const log = createLog<Key & { understood: boolean }>();
let bad = 0;

const connection = connectStandIn({
  name: 'quay-stream',
  serverPort: fromEnvironment('TAWNY_PORT'),
  ports: [{ kind: 'keys-inside', name: 'Quay stream', in: false, out: true }],
  asked: () => undefined,
  state: () => ({ scenes: SCENES, ...stream.state(performance.now()), ...log.seen(), bad }),
  heard(_, bytes) {
    const key = readKey(bytes);
    if (key) log.add({ ...key, understood: stream.take(key, performance.now()) });
    else bad++;
    connection.changed();
  },
});
setInterval(() => {
  if (stream.state(performance.now()).down.length > 0) connection.changed();
}, MOVE_MS);
endWithParent();
