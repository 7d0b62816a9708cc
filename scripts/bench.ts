/** `npm run bench`: what is measured, and against what. Says figures; judges nothing. */
import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { benchEngineStep } from '../bench/engine-step.js';
import { benchRoundTrip, type Trip } from '../bench/round-trip.js';
import { benchTrafficPage } from '../bench/traffic-page.js';
import { buildAll } from './build.js';
import { startCluster } from './postgres.js';
import { DATABASES } from './test-stage.js';

const steps = benchEngineStep();
const [first] = steps;
console.log('(a) engine.step, mapped messages a second on one core');
for (const { mappings, perSecond, best, withEncoding, loadMs, editMs } of steps) {
  const times = (ours: number, theirs: number): string => (theirs / ours).toFixed(2);
  console.log(
    `    ${String(mappings).padStart(6)} mappings: ${(perSecond / 1e6).toFixed(2)} million/s, ` +
      `${times(perSecond, first!.perSecond)} times the cost with 10 (fastest rounds: ${(best / 1e6).toFixed(2)}, ${times(best, first!.best)}); ` +
      `with OSC encoding ${(withEncoding / 1e6).toFixed(2)} million/s; ` +
      `compiled in ${loadMs.toFixed(1)} ms, after one edit in ${editMs.toFixed(1)} ms`,
  );
}

const temporary = mkdtempSync(join(tmpdir(), 'tawny-bench-'));
chmodSync(temporary, 0o711);
await buildAll();
const cluster = await startCluster(temporary, { careless: true });
process.env[DATABASES] = cluster.url('DATABASE');
try {
  const trip = async (words: string, of: Trip): Promise<void> => {
    const [relay, engine] = await benchRoundTrip(of);
    console.log(words);
    for (const { path, sent, arrived, medianUs, p99Us } of [relay!, engine!]) {
      console.log(
        `    ${path.padEnd(10)}: ${arrived} of ${sent} arrived, median ${medianUs.toFixed(0)} µs, p99 ${p99Us.toFixed(0)} µs`,
      );
    }
    console.log(
      `    ratio     : median ${(engine!.medianUs / relay!.medianUs).toFixed(2)}, p99 ${(engine!.p99Us / relay!.p99Us).toFixed(2)}`,
    );
  };
  await trip('(b) UDP in -> mapping -> UDP out, 1,000 messages a second each way, Traffic open', {
    through: 'mapping',
    perSecond: 1000,
    seconds: 10,
    turns: 'packets',
    watched: true,
  });
  await trip('(d) UDP in -> route -> UDP out, 20,000 messages a second for 10 s, in turns with the relay', {
    through: 'route',
    perSecond: 20_000,
    seconds: 10,
    turns: 'halfSeconds',
    watched: false,
  });

  const { figures, sent, noted } = await benchTrafficPage(60);
  console.log(`(c) Traffic open at 5,000 messages a second in: ${sent} sent, ${noted} counted by the line`);
  for (const { when, frames, medianMs, p99Ms, worstMs, heapMb } of figures) {
    console.log(
      `    ${when.padEnd(10)}: ${frames} frames, median ${medianMs.toFixed(1)} ms, p99 ${p99Ms.toFixed(1)} ms, ` +
        `worst ${worstMs.toFixed(0)} ms; heap ${heapMb.toFixed(0)} MB`,
    );
  }
} finally {
  await cluster.stop();
  rmSync(temporary, { recursive: true, force: true });
}
