/** (w) How late planned work is done, by a plain timer of Node and by the waker of the engine, in turns. */
import { createWaker } from '../engine/waker.js';

export interface WaitFigures {
  way: string;
  /** The delays in ms. */
  median: number;
  p90: number;
  p99: number;
  /** Of a core, while it waits for 80 times a second. */
  share: number;
}

const TIMES = 300;
const ROUNDS = 4;

/** Calls back at a planned time. */
type Way = (at: number, done: () => void) => void;

function plain(at: number, done: () => void): void {
  const rest = at - performance.now();
  if (rest <= 0) done();
  else setTimeout(() => plain(at, done), Math.ceil(rest));
}

function byWaker(): Way {
  let dueAt = Infinity;
  let then = (): void => undefined;
  const waker = createWaker(
    () => dueAt,
    () => {
      dueAt = Infinity;
      then();
    },
  );
  return (at, done) => {
    dueAt = at;
    then = done;
    waker.plan();
  };
}

async function run(way: Way, late: number[]): Promise<number> {
  const from = performance.now();
  const before = process.cpuUsage();
  for (let at = 0; at < TIMES; at++) {
    const due = performance.now() + 5 + ((at * 7.31) % 15);
    await new Promise<void>((done) => way(due, done));
    late.push(performance.now() - due);
  }
  const { user, system } = process.cpuUsage(before);
  return (user + system) / 1000 / (performance.now() - from);
}

export async function benchWaits(): Promise<WaitFigures[]> {
  const ways: [string, Way][] = [
    ['a timer', plain],
    ['the waker', byWaker()],
  ];
  const late = ways.map((): number[] => []);
  const shares = ways.map((): number[] => []);
  for (let round = 0; round < ROUNDS; round++)
    for (const [at, [, way]] of ways.entries()) shares[at]!.push(await run(way, late[at]!));
  return ways.map(([way], at) => {
    const sorted = late[at]!.sort((a, b) => a - b);
    const part = (share: number): number => sorted[Math.floor(sorted.length * share)]!;
    const share = shares[at]!.reduce((sum, one) => sum + one, 0) / ROUNDS;
    return { way, median: part(0.5), p90: part(0.9), p99: part(0.99), share };
  });
}
