/** MIDI machine control: play, stop and go to a place. What is heard moves our own position; what is sent goes with the position. */
import { z } from 'zod';
import { RATE_OF_CODE } from '../../timecode/frame-rate.js';
import {
  locateCommand,
  machineCommand,
  readMachineCommand,
  type MachineCommand,
} from '../../timecode/mmc.js';
import { frameAt, frameOf } from '../../timecode/timecode.js';
import { positionAt } from '../position.js';
import {
  HEARD,
  isMidi,
  SENT,
  type Output,
  type OutputPlace,
  type ReaderPlace,
  type Said,
  type TimeWay,
} from './way.js';

export const source = z.object({ ...HEARD, kind: z.literal('mmc') });
export const output = z.object({ ...SENT, kind: z.literal('mmc') });

function said(command: MachineCommand, { rateOf }: ReaderPlace): Said {
  switch (command.act) {
    case 'play':
    case 'deferredPlay':
      return { says: 'asks', to: 'play' };
    case 'stop':
    case 'pause':
      return { says: 'asks', to: 'stop' };
    case 'locate': {
      const { parts, code } = command.to;
      return { says: 'asks', to: { rate: rateOf(code), frame: frameOf(parts, RATE_OF_CODE[code]!) } };
    }
  }
}

/** A locate says where it is, and is followed by play where it runs. */
const sender = ({ rate, put }: OutputPlace): Output => ({
  dueAt: () => Infinity,
  send: () => undefined,
  turned(motion, now) {
    const frame = frameAt(Math.max(0, positionAt(motion, now)), rate);
    if (motion.speed === 0) put(machineCommand('stop'));
    put(locateCommand(frame, rate));
    if (motion.speed !== 0) put(machineCommand('play'));
  },
});

export const mmc: TimeWay<z.infer<typeof source>, z.infer<typeof output>> = {
  words: 'Machine control',
  of: 'position',
  fits: isMidi,
  lineWords: 'a MIDI line',
  reader: (_, place) => ({
    read(signal) {
      const command = signal.kind === 'sysex' ? readMachineCommand(signal.bytes) : null;
      return command && said(command, place);
    },
    reset: () => undefined,
  }),
  output: (_, place) => sender(place),
  sends: () => 'play, stop, go to',
};
