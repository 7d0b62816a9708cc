/**
 * The programs that record and play the sound of this machine: those of PulseAudio (which PipeWire answers too), or those of ALSA. Device names go to
 * the programs only if the system lists them, since ALSA reads other names as instructions, such as the name of a file to write.
 */
import { execFile } from 'node:child_process';

/** The samples that are recorded and played: signed, 16 bits, low byte first. */
export const SAMPLE_RATE = 48_000;

export interface Command {
  program: string;
  args: string[];
}

/** Reads from what a playing program says how far it is. */
export interface Progress {
  /** @param said a part of what it said, cut anywhere. @returns the samples that have passed so far; null if it does not say it there */
  take(said: string): number | null;
  /** The time from there to the loudspeaker, in ms. */
  afterMs: number;
}

export interface SoundSystem {
  words: string;
  /** What can be listened to, and what can be played to. */
  devices: { in: readonly string[]; out: readonly string[] };
  record(device: string, channels: number): Command;
  play(device: string, channels: number): Command;
  progress(): Progress;
}

/** The name of the device that the system chooses. */
export const DEFAULT_DEVICE = 'default';

/** There is no sound here, with the reason and what to do. */
export class NoSound extends Error {}

/** @returns what the program printed. @throws an error with `code` ENOENT if there is no such program */
export type RunProgram = (program: string, args: string[]) => Promise<string>;

const PROGRAM_MS = 3000;
const runProgram: RunProgram = (program, args) =>
  new Promise((done, fail) =>
    execFile(
      program,
      args,
      { timeout: PROGRAM_MS, maxBuffer: 1 << 20, env: { ...process.env, LC_ALL: 'C' } },
      (error, stdout) => (error ? fail(error) : done(stdout)),
    ),
  );

/** Each line of `pactl list short` is a device: its number, its name and more, with tabs between. */
const pulseNames = (printed: string): string[] =>
  printed.split('\n').flatMap((line) => line.split('\t')[1] ?? []);
/** `arecord -L` begins each device with its name, and goes on with indented lines. */
const alsaNames = (printed: string): string[] =>
  printed
    .split('\n')
    .filter((line) => /^\S/.test(line) && !NO_DEVICES.includes(line) && line !== DEFAULT_DEVICE);
/** What ALSA lists that is no device: sound without a time, and ways to change sound. */
const NO_DEVICES = ['null', 'lavrate', 'samplerate', 'speexrate', 'speex', 'upmix', 'vdownmix'];

const FORMAT = ['--format=s16le', `--rate=${SAMPLE_RATE}`];
/** Sound waits about this long between the program and the device, in ms. */
const WAITS_MS = 20;
const ALSA_BUFFER_MS = 80;
const ALSA_BLOCK_MS = 10;
/** The most of what was said that is kept for a word that was cut, and for what a device is set up as. */
const MOST_CUT = 30;
const MOST_SETUP = 8000;

/** Returns how far `pacat -v` is: `Time: 1.250 sec`, what is heard now. */
function pulseProgress(): Progress {
  let rest = '';
  return {
    afterMs: 0,
    take(said) {
      const text = rest + said;
      const last = [...text.matchAll(/Time: (\d+\.\d{3}) sec/g)].at(-1);
      rest = text.slice(-MOST_CUT);
      const seconds = Number(last?.[1] ?? 0);
      return seconds > 0 ? Math.round(seconds * SAMPLE_RATE) : null;
    },
  };
}

/** Returns how far `aplay -vv` is: it names the size of its blocks, then draws a meter that ends with `%` for each one that it has read. */
function alsaProgress(): Progress {
  let rest = '';
  let blockSize = 0;
  let blocks = 0;
  return {
    afterMs: ALSA_BUFFER_MS,
    take(said) {
      if (blockSize === 0) {
        rest = (rest + said).slice(-MOST_SETUP);
        blockSize = Number(/period_size\s*:\s*(\d+)/.exec(rest)?.[1] ?? 0);
      }
      const read = said.split('%').length - 1;
      blocks += read;
      return read > 0 && blockSize > 0 ? blocks * blockSize : null;
    },
  };
}

async function findPulse(run: RunProgram): Promise<SoundSystem> {
  const [sources, sinks] = await Promise.all(
    ['sources', 'sinks'].map((what) => run('pactl', ['list', 'short', what])),
  );
  const command =
    (program: string, standard: string, ...more: string[]) =>
    (device: string, channels: number): Command => ({
      program,
      args: [
        ...more,
        `--device=${device === DEFAULT_DEVICE ? standard : device}`,
        ...FORMAT,
        `--channels=${channels}`,
        // Channels are not mixed, so that the one that was chosen is heard.
        '--no-remix',
        '--no-remap',
        `--latency-msec=${WAITS_MS}`,
        '--client-name=Tawny Signal',
      ],
    });
  return {
    words: 'PulseAudio',
    devices: { in: pulseNames(sources!), out: pulseNames(sinks!) },
    record: command('parec', '@DEFAULT_SOURCE@'),
    play: command('pacat', '@DEFAULT_SINK@', '-v'),
    progress: pulseProgress,
  };
}

async function findAlsa(run: RunProgram): Promise<SoundSystem> {
  const [ins, outs] = await Promise.all(['arecord', 'aplay'].map((program) => run(program, ['-L'])));
  const command =
    (program: string, talk: string) =>
    (device: string, channels: number): Command => ({
      program,
      args: [
        ...[talk, '-t', 'raw', '-f', 'S16_LE', '-r', String(SAMPLE_RATE), '-c', String(channels)],
        ...['-D', device],
        `--period-time=${ALSA_BLOCK_MS * 1000}`,
        `--buffer-time=${ALSA_BUFFER_MS * 1000}`,
      ],
    });
  return {
    words: 'ALSA',
    devices: { in: alsaNames(ins!), out: alsaNames(outs!) },
    record: command('arecord', '-q'),
    play: command('aplay', '-vv'),
    progress: alsaProgress,
  };
}

const isMissing = (error: unknown): boolean => (error as NodeJS.ErrnoException).code === 'ENOENT';

/** Finds the sound of this machine. @throws NoSound */
export async function findSound(
  run: RunProgram = runProgram,
  platform: NodeJS.Platform = process.platform,
): Promise<SoundSystem> {
  if (platform !== 'linux')
    throw new NoSound(
      'The sound of the server’s machine works on Linux only. Use a line with the sound of a browser instead.',
    );
  try {
    return await findPulse(run);
  } catch {
    // It is not installed, or it does not run: ALSA is below it.
  }
  try {
    return await findAlsa(run);
  } catch (error) {
    throw new NoSound(
      isMissing(error)
        ? 'No program that records and plays is installed. Run sudo apt-get install pulseaudio-utils (where PulseAudio or PipeWire runs) or alsa-utils; the line then opens automatically.'
        : 'The sound of this machine can’t be read: neither PulseAudio nor ALSA answers.',
    );
  }
}

/** Whether a device may be used: one that the system lists, or a card that is named plainly. */
export const isDevice = (name: string, listed: readonly string[]): boolean =>
  name === DEFAULT_DEVICE || listed.includes(name) || /^(plug)?hw:[A-Za-z0-9_=,]+$/.test(name);
