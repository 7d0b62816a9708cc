/** `npm run fuzz -- --minutes N --seed S`: see bench/fuzz-decoders.ts and bench/fuzz-live.ts. */
import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fuzzDecoders } from '../bench/fuzz-decoders.js';
import { fuzzLive, type Waits } from '../bench/fuzz-live.js';
import { buildAll } from './build.js';
import { optionsOf } from './options.js';
import { startCluster } from './postgres.js';
import { DATABASES } from './test-stage.js';

const { values } = optionsOf('fuzz', {
  options: {
    minutes: { type: 'string', default: '1' },
    seed: { type: 'string', default: String(Date.now() % 1_000_000) },
  },
});
const ms = Number(values.minutes) * 60_000;
const seed = Number(values.seed);
if (!(ms > 0 && ms <= 24 * 3_600_000) || !Number.isInteger(seed)) {
  console.error('npm run fuzz -- --minutes N --seed S: minutes up to a day, and a whole number.');
  process.exit(1);
}

const inWords = ({ median, p99, worst, lost }: Waits): string =>
  `${median.toFixed(2)} ms by median, ${p99.toFixed(1)} in 99 of 100, ${worst.toFixed(1)} at worst; ${lost} did not come back`;

const temporary = mkdtempSync(join(tmpdir(), 'tawny-fuzz-'));
chmodSync(temporary, 0o711);
await buildAll();
const cluster = await startCluster(temporary, { careless: true });
process.env[DATABASES] = cluster.ownerUrl('DATABASE');
try {
  console.log(`seed ${seed}, ${values.minutes} minutes, half at the decoders and half at a running engine`);
  const decoded = fuzzDecoders(seed, ms / 2);
  console.log(
    `decoders: ${decoded.packets} packets, ${decoded.faults.length} faults; the longest took ${decoded.worstMs.toFixed(1)} ms (${decoded.slowest})`,
  );
  for (const fault of decoded.faults) console.log(`  ${fault}`);
  const live = await fuzzLive(seed, ms / 2);
  const [from, to] = live.memoryMb;
  console.log(`live: ${live.packets} packets, ${live.stops} stops`);
  console.log(`  a signal on a calm line waited ${inWords(live.engine)}`);
  console.log(`  through a bare relay beside it ${inWords(live.relay)}`);
  console.log(`  memory ${from.toFixed(0)} MB after a tenth of the time, ${to.toFixed(0)} MB at the end`);
  if (decoded.faults.length + live.stops > 0) process.exitCode = 1;
} finally {
  await cluster.stop();
  rmSync(temporary, { recursive: true, force: true });
}
process.exit();
