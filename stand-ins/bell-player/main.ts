/** The bell player: six bells in a tower, rung by MIDI show control on a line inside the process. */
import { connectStandIn, endWithParent, fromEnvironment } from '../live/connection.js';
import { createLog } from '../live/log.js';
import { createBells, DEVICE, FORMAT, readShowMessage, type ShowMessage } from './bells.js';

const bells = createBells();
const log = createLog<ShowMessage & { understood: boolean }>();
let bad = 0;

const connection = connectStandIn({
  name: 'bell-player',
  serverPort: fromEnvironment('TAWNY_PORT'),
  ports: [{ kind: 'midi-inside', name: 'Bell player', in: false, out: true }],
  asked: () => undefined,
  state: () => ({ device: DEVICE, format: FORMAT, ...bells.state(), ...log.seen(), bad }),
  heard(_, bytes) {
    const message = readShowMessage(bytes);
    if (message) log.add({ ...message, understood: bells.take(message) });
    else bad++;
    connection.changed();
  },
});
endWithParent();
