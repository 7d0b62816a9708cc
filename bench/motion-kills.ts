/** (y) The engine is killed twenty times while motions run that somebody started: when their values come again, and whether they go on where they would be. */
import { createSocket } from 'node:dgram';
import { decodeOsc } from '@tawny-signal/core/osc/packet';
import { makeSend } from '@tawny-signal/core/sends';
import type { Line } from '@tawny-signal/core/show/line';
import type { Motion } from '@tawny-signal/core/show/motion';
import { openTestStage, until } from '../scripts/test-stage.js';
import { post } from './post.js';
import type { Results } from './results.js';

const KILLS = 20;
const BETWEEN_MS = 1500;
/** A ramp of a minute: its value says where it is. */
const EVERY_MS = 60_000;

const wait = (ms: number): Promise<void> => new Promise((done) => setTimeout(done, ms));

export async function benchMotionKills(results: Results): Promise<void> {
  console.log('(y) the engine killed 20 times while a motion runs that somebody started');
  const stage = await openTestStage();
  const far = createSocket('udp4');
  await new Promise<void>((done) => far.bind(0, '127.0.0.1', done));
  /** The last value, when it came, and the longest time without one. */
  let last: { value: number; at: number } | null = null;
  let gap = 0;
  far.on('message', (bytes) => {
    const [message] = decodeOsc(bytes);
    const argument = message?.signal.args[0];
    if (argument?.type !== 'f') return;
    const at = performance.now();
    if (last) gap = Math.max(gap, at - last.at);
    last = { value: argument.value, at };
  });
  try {
    const line = await post<Line>(stage, 'lines', {
      kind: 'osc-udp',
      name: 'Counted',
      host: '127.0.0.1',
      port: far.address().port,
      listenPort: null,
    });
    const send = makeSend({
      kind: 'osc',
      lineId: line.id,
      address: '/ramp',
      args: [{ type: 'f', value: 'shaped' }],
    });
    const motion = await post<Motion>(stage, 'motions', {
      name: 'Ramp',
      begins: 'asked',
      makes: { kind: 'wave', form: 'rampUp' },
      drive: { everyMs: EVERY_MS },
      sends: [send],
    });
    await post(stage, `desk/motions/${motion.id}`, { act: 'start' });
    await until(() => last !== null, 'it runs');
    const gaps: number[] = [];
    const off: number[] = [];
    let back = 0;
    for (let kill = 0; kill < KILLS; kill++) {
      await wait(BETWEEN_MS / 2);
      const before = last!;
      gap = 0;
      process.kill(await until(() => stage.engine.pid(), 'an engine is there'), 'SIGKILL');
      await wait(BETWEEN_MS);
      const after = last!;
      if (performance.now() - after.at < 200) back++;
      gaps.push(gap);
      const moved = ((after.value - before.value + 1) % 1) * EVERY_MS;
      off.push(Math.abs(moved - (after.at - before.at)));
    }
    const sorted = (list: number[]): number[] => list.toSorted((a, b) => a - b);
    const middle = sorted(gaps)[KILLS >> 1]!;
    console.log(
      `    ${back} of ${KILLS} came back; no value for ${middle.toFixed(0)} ms by median, ${Math.max(...gaps).toFixed(0)} ms at worst; ` +
        `then ${sorted(off)[KILLS >> 1]!.toFixed(1)} ms by median and ${Math.max(...off).toFixed(1)} ms at worst from where they would be`,
    );
    results.add('y motions after a kill, longest gap ms', Math.max(...gaps), 500);
    results.add('y motions after a kill, off their place ms', Math.max(...off), 50);
  } finally {
    far.close();
    await stage.stop();
  }
}
