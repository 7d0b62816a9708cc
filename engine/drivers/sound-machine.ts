/** The sound of the machine that the server runs on: linear timecode is read from a device, and played to one, by the system's own programs. */
import type { SoundSeen } from '@tawny-signal/core/live/line-state';
import { encodeTimecode } from '@tawny-signal/core/timecode/signal';
import { waiting, type LineDriver, type LineListener, type LineOf } from './driver.js';
import { createTimers } from './retry.js';
import { keepRunning, type SoundChild } from './sound-child.js';
import { createPlayer, PLAYED_CHANNELS, type Player } from './sound-player.js';
import { findSound, isDevice, NoSound, type SoundSystem } from './sound-programs.js';
import { createRecorder } from './sound-recorder.js';
import { createTroubles } from './troubles.js';

export type SoundMachineLine = LineOf<'sound-machine'>;

/** A program that still runs after this time has opened its device. */
const OPENS_MS = 400;
/** How often the level is told, and by how much it has to change, in dB. */
const LEVEL_MS = 500;
const LEVEL_STEP_DB = 2;
const SILENCE_DB = -60;
/** A device that gives more sound than there was time for is none. */
const MOST_AHEAD_MS = 3000;
const TOO_FAST =
  'The device gives sound faster than it can be heard, so it is no sound card. Choose another one.';
/** A program that gives or takes nothing for this long is started again; one that was just started has longer to open its device. */
const STUCK_MS = 2000;
const BEGINS_MS = 10_000;
/** How often that is looked at. */
const LOOK_MS = 250;
const STUCK = {
  in: 'The program for sound gives nothing. It is started again.',
  out: 'The program for sound takes nothing. It is started again.',
};
/** Two channels at least: some devices have no single one. */
const FEWEST_CHANNELS = 2;

const NO_DEVICE = 'Write the device that is listened to, or the one that timecode is played to.';

type Way = 'in' | 'out';

function noDevice(name: string, way: Way, { words, devices }: SoundSystem): string {
  const there = devices[way];
  const what = way === 'in' ? 'to listen to' : 'to play to';
  const list = there.length === 0 ? 'There are none.' : `There are: default, ${there.join(', ')}.`;
  return `${words} here has no device ${what} called “${name}”. ${list}`;
}

/** The level in steps; null for silence. */
function inSteps(peak: number, before: number | null): number | null {
  const db = peak > 0 ? 20 * Math.log10(peak) : -Infinity;
  if (db < SILENCE_DB) return null;
  // Full scale is told exactly.
  if (before !== null && db < 0 && Math.abs(db - before) < LEVEL_STEP_DB) return before;
  return Math.min(0, Math.round(db));
}

/** Tells what is seen of the sound, with the state of the line. */
function createSeen(listener: LineListener) {
  let seen: SoundSeen = { devices: { in: [], out: [] }, hearsDb: null };
  let state = waiting('Looking for the sound of this machine.');
  const tell = (): void => listener.state({ ...state, sound: seen });
  return {
    state(next: typeof state): void {
      state = next;
      tell();
    },
    found({ devices }: SoundSystem): void {
      seen = { ...seen, devices };
    },
    heard(peak: number): void {
      const hearsDb = inSteps(peak, seen.hearsDb);
      if (hearsDb === seen.hearsDb) return;
      seen = { ...seen, hearsDb };
      tell();
    },
  };
}

export function openSoundMachine(
  line: SoundMachineLine,
  listener: LineListener,
  find: () => Promise<SoundSystem> = findSound,
): LineDriver {
  const { hears, plays, channel, levelDb } = line;
  const channels = Math.max(FEWEST_CHANNELS, channel + 1);
  const timers = createTimers();
  const seen = createSeen(listener);
  const { say } = createTroubles(seen, waiting('Looking for the sound of this machine.'), {
    in: hears === '' ? 'none' : 'open',
    out: plays === '' ? 'none' : 'open',
  });

  /** Finds the sound system that has a device. @throws NoSound */
  async function systemWith(way: Way, name: string): Promise<SoundSystem> {
    const system = await find();
    seen.found(system);
    if (!isDevice(name, system.devices[way])) throw new NoSound(noDevice(name, way, system));
    return system;
  }

  /**
   * Returns what has to be called at least every two seconds. When it is not, `stuck` is called, once. Time in which the engine itself stood still is
   * not counted: nothing could be heard of the program then.
   */
  function watchdog(stuck: () => void): () => void {
    let left = BEGINS_MS;
    const look = (): void => {
      left -= LOOK_MS;
      if (left < 0) stuck();
      else timers.later(LOOK_MS, look);
    };
    look();
    return () => void (left = STUCK_MS);
  }

  const recording = hears === '' ? null : record();
  const out = plays === '' ? null : play();
  if (!recording && !out) seen.state(waiting(NO_DEVICE));

  function record(): SoundChild {
    return keepRunning(
      {
        command: async () => (await systemWith('in', hears)).record(hears, channels),
        started({ stdout }, fail) {
          const began = performance.now();
          const recorder = createRecorder(channel, channels, (frame, at) => {
            const bytes = encodeTimecode(frame);
            const age = Math.max(0, performance.now() - at);
            listener.take(() => (listener.heard(frame, bytes), true), bytes.length, age);
          });
          let toldAt = 0;
          const alive = watchdog(() => fail(STUCK.in));
          stdout.on('data', (bytes: Buffer) => {
            const now = performance.now();
            alive();
            if (toldAt === 0) say('in', null);
            recorder.take(bytes, now);
            if (recorder.heardMs() > now - began + MOST_AHEAD_MS) return fail(TOO_FAST);
            if (now - toldAt < LEVEL_MS) return;
            toldAt = now;
            seen.heard(recorder.peak());
          });
        },
        ended(why, wait) {
          seen.heard(0);
          listener.gone();
          say('in', why, wait);
        },
      },
      timers,
    );
  }

  function play(): { child: SoundChild; player(): Player | null } {
    let player: Player | null = null;
    let system: SoundSystem;
    const child = keepRunning(
      {
        async command() {
          system = await systemWith('out', plays);
          return system.play(plays, PLAYED_CHANNELS);
        },
        started({ stdin }, fail) {
          player = createPlayer(
            stdin,
            levelDb,
            system.progress(),
            watchdog(() => fail(STUCK.out)),
          );
          const mine = player;
          timers.later(OPENS_MS, () => mine === player && say('out', null));
        },
        said: (text) => player?.said(text, performance.now()),
        ended(why, wait) {
          player?.stop();
          player = null;
          say('out', why, wait);
        },
      },
      timers,
    );
    return { child, player: () => player };
  }

  return {
    send(signal) {
      const player = out?.player();
      if (!player || signal.kind !== 'timecode') return null;
      player.play(signal, performance.now());
      return encodeTimecode(signal);
    },
    close() {
      timers.stop();
      out?.player()?.stop();
      out?.child.stop();
      recording?.stop();
    },
  };
}
