/** The fog laser: beams through fog, played by MIDI notes on a line inside the process, read by a package that is not ours. */
import { connectStandIn, endWithParent, fromEnvironment } from '../live/connection.js';
import { createLog } from '../live/log.js';
import { readNote, type Note } from '../live/midi.js';
import { CHANNEL, createLaser } from './laser.js';

const laser = createLaser();
const log = createLog<Note & { understood: boolean }>();
let bad = 0;

const connection = connectStandIn({
  name: 'fog-laser',
  serverPort: fromEnvironment('TAWNY_PORT'),
  ports: [{ kind: 'midi-inside', name: 'Fog laser', in: false, out: true }],
  asked: () => undefined,
  state: () => ({ channel: CHANNEL, beams: laser.beams(), ...log.seen(), bad }),
  heard(_, bytes) {
    try {
      const note = readNote(bytes);
      if (note) log.add({ ...note, understood: laser.take(note) });
      else bad++;
    } catch {
      bad++;
    }
    connection.changed();
  },
});
endWithParent();
