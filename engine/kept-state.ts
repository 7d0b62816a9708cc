/** What the engine goes on from after a failure, as it lies in two files: the show that it plays, and how it was. */
import { randomBytes } from 'node:crypto';
import {
  closeSync,
  fsyncSync,
  mkdirSync,
  openSync,
  readFileSync,
  renameSync,
  statSync,
  writeFileSync,
  writeSync,
} from 'node:fs';
import { join } from 'node:path';
import type { PlacedShow } from '@tawny-signal/core/edits';
import type { ShowMark } from '@tawny-signal/core/link/messages';
import type { MotionsKept } from '@tawny-signal/core/motion/kept';
import type { LiveShow } from '@tawny-signal/core/show/live';
import type { Transport } from '@tawny-signal/core/time/transport';

export interface KeptShow {
  mark: ShowMark;
  placed: PlacedShow;
}

export interface KeptLive {
  /** The show that it belongs to. */
  showId: string;
  armed: boolean;
  live: LiveShow;
  standingBy: string | null;
  /** What was called last, and when, in milliseconds since 1970. */
  called: { id: string; at: number } | null;
  transport: Transport;
  /** Ids of the moments that run. */
  running: string[];
  /** The levels of the slots of each line, slot 1 first, in base64. */
  levels: Record<string, string>;
  /** With times in milliseconds since 1970. */
  motions: MotionsKept;
}

export const SHOW_FILE = 'show.json';
export const LIVE_FILE = 'live.json';
const CID_FILE = 'sacn-cid';
/** Counts up whenever what is kept has other members, so that a new version does not read what an old one wrote. */
const FORMAT = 3;
const CID_BYTES = 16;

/** The component identifier of sACN (E1.31, 5.6): made once, and the same from then on. */
export function keptCid(folder: string): string {
  const path = join(folder, CID_FILE);
  try {
    const kept = readFileSync(path, 'utf8');
    if (/^[0-9a-f]{32}$/.test(kept)) return kept;
  } catch {
    // It is the first start.
  }
  const made = randomBytes(CID_BYTES).toString('hex');
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  writeFileSync(path, made);
  return made;
}

/** A show with what tells the file that it was read from: each one that is written is a new file. */
export interface KnownShow {
  file: string;
  show: KeptShow;
}

/** Tells a file of ours from those before it; null where there is none. */
export function fileKey(path: string): string | null {
  try {
    const { ino, mtimeMs, size } = statSync(path);
    return `${ino} ${mtimeMs} ${size}`;
  } catch {
    return null;
  }
}

function textOf(path: string): string | null {
  try {
    return readFileSync(path, 'utf8');
  } catch {
    return null;
  }
}

/** What a file of ours has; null where it can't be read or is of another version: then the server says what there is. */
function read<T>(text: string | null): T | null {
  if (text === null) return null;
  try {
    const kept = JSON.parse(text) as T & { format?: number };
    return kept.format === FORMAT ? kept : null;
  } catch {
    return null;
  }
}

export const readShow = (text: string): KeptShow | null => read<KeptShow>(text);

/** @param folder where the keeper writes. @param known the show if it was read before: it is not read again if it is in the same file */
export function readKept(
  folder: string,
  known: KnownShow | null = null,
): { show: KeptShow | null; live: KeptLive | null } {
  const path = join(folder, SHOW_FILE);
  const show = known && fileKey(path) === known.file ? known.show : read<KeptShow>(textOf(path));
  const live = read<KeptLive>(textOf(join(folder, LIVE_FILE)));
  return { show, live: show && live?.showId === show.mark.showId ? live : null };
}

/**
 * Writes a file of ours whole or not at all.
 * @param surely waits until the disk has it, so that it outlives a power cut; without, it outlives the process
 */
export function writeKept(folder: string, name: string, what: KeptShow | KeptLive, surely: boolean): void {
  const path = join(folder, name);
  const file = openSync(`${path}.new`, 'w', 0o600);
  try {
    writeSync(file, JSON.stringify({ ...what, format: FORMAT }));
    if (surely) fsyncSync(file);
  } finally {
    closeSync(file);
  }
  renameSync(`${path}.new`, path);
}
