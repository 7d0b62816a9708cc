/** A sound system without a sound card: a private PulseAudio with one sink that throws away what it plays, and a source on which that can be heard. */
import { spawn, type ChildProcess } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { findSound } from './drivers/sound-programs.js';

export const SINK = 'reel';
export const SOURCE = 'reel.monitor';

export interface NullSink {
  start(): void;
  /** Whether it answers. */
  isThere(): Promise<boolean>;
  stop(): Promise<void>;
}

/** The programs of this process find it while it runs. */
export function createNullSink(): NullSink {
  const folder = mkdtempSync(join(tmpdir(), 'tawny-sound-'));
  const before = process.env['PULSE_SERVER'];
  const socket = join(folder, 'socket');
  let daemon: ChildProcess | null = null;

  async function end(): Promise<void> {
    const ended = new Promise((done) => (daemon ? daemon.once('exit', done) : done(null)));
    daemon?.kill();
    await ended;
    daemon = null;
  }
  return {
    start() {
      process.env['PULSE_SERVER'] = `unix:${socket}`;
      daemon = spawn(
        'pulseaudio',
        [
          ...['-n', '--daemonize=no', '--exit-idle-time=-1', '--use-pid-file=no'],
          ...['-L', `module-null-sink sink_name=${SINK} rate=48000 channels=2`],
          ...['-L', `module-native-protocol-unix socket=${socket} auth-anonymous=1`],
        ],
        { stdio: 'ignore', env: { ...process.env, XDG_RUNTIME_DIR: folder, HOME: folder } },
      );
    },
    isThere: () =>
      findSound().then(
        ({ devices }) => devices.out.includes(SINK),
        () => false,
      ),
    async stop() {
      await end();
      if (before === undefined) delete process.env['PULSE_SERVER'];
      else process.env['PULSE_SERVER'] = before;
      rmSync(folder, { recursive: true, force: true });
    },
  };
}
