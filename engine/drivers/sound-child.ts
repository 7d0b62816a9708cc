/** A program that records or plays: started, watched, and started again with growing waits when it ends. */
import { spawn, type ChildProcessWithoutNullStreams } from 'node:child_process';
import type { Timers } from './retry.js';
import { waitBefore } from './retry.js';
import type { Command } from './sound-programs.js';

export interface SoundChild {
  stop(): void;
}

export interface SoundChildEvents {
  /** Returns the program to start. @throws Error with the reason in words why none can be */
  command(): Promise<Command>;
  /** @param fail ends it, with the reason */
  started(child: ChildProcessWithoutNullStreams, fail: (why: string) => void): void;
  /** It says something, which may be cut anywhere. */
  said?(text: string): void;
  /** It ended, or could not be started. @param tryInMs when it is tried again */
  ended(why: string, tryInMs: number): void;
}

/** The most that is kept of what a program says. */
const MOST_SAID = 2000;
/** A program that ran for this long was started well: the waits begin anew. */
const WELL_MS = 5000;

/** Why a program ended, from what it said last. */
function whyEnded(program: string, said: string): string {
  const last =
    said
      .trim()
      .split(/[\r\n]+/)
      .at(-1) ?? '';
  if (/busy/i.test(last)) return 'Another program uses the device. Close it there.';
  if (/no such (entity|device|file)|unknown pcm/i.test(last)) return 'The device is gone.';
  if (/channels count/i.test(last))
    return 'The device does not have this channel. Choose another one, or write plughw: for hw: in its name.';
  return last === '' ? `The program for sound (${program}) ended.` : `The program for sound said: ${last}`;
}

export function keepRunning(
  { command, started, said: tell, ended }: SoundChildEvents,
  timers: Timers,
): SoundChild {
  let child: ChildProcessWithoutNullStreams | null = null;
  let stopped = false;
  let tries = 0;

  function again(why: string): void {
    if (stopped) return;
    const wait = waitBefore(tries++);
    ended(why, wait);
    timers.later(wait, () => void start());
  }

  /** @returns what ends it, with a reason */
  function watch(one: ChildProcessWithoutNullStreams, program: string): (why: string) => void {
    const begun = performance.now();
    let said = '';
    let over = false;
    one.stderr.setEncoding('utf8').on('data', (text: string) => {
      said = (said + text).slice(-MOST_SAID);
      tell?.(text);
    });
    one.stdin.on('error', () => undefined); // the program has ended, which is told below
    function end(why: string): void {
      if (over) return;
      over = true;
      child = null;
      if (performance.now() - begun > WELL_MS) tries = 0;
      again(why);
    }
    one.on('error', (error) => end(`${program} can’t be started: ${error.message}.`));
    // By then all that it said has come.
    one.on('close', () => end(whyEnded(program, said)));
    return (why) => {
      // A program that is stopped would keep any other signal until it goes on.
      one.kill('SIGKILL');
      end(why);
    };
  }

  async function start(): Promise<void> {
    try {
      const { program, args } = await command();
      if (stopped) return;
      child = spawn(program, args, { env: { ...process.env, LC_ALL: 'C' } });
      started(child, watch(child, program));
    } catch (error) {
      again((error as Error).message);
    }
  }

  void start();
  return {
    stop() {
      stopped = true;
      child?.kill();
      child = null;
    },
  };
}
