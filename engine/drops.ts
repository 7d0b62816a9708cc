/** Counts input that was dropped, by us and by the system, and says so in the state of the line while it goes on. */
import type { LineState } from '@tawny-signal/core/live/line-state';
import type { Line } from '@tawny-signal/core/show/line';
import { kernelDrops } from './drivers/kernel-drops.js';
import type { Intake } from './intake.js';

/** The part of an open line that is watched. */
interface Watched {
  id: string;
  row: Line;
  intake: Pick<Intake, 'dropped'>;
}

const LOOK_MS = 1000;
/** How long after the last drop it is still said, in ms. */
const SAID_MS = 4000;

interface Seen {
  /** The open line. One that was reopened starts counting at 0. */
  line: Watched;
  here: number;
  system: number;
  /** The system's count for its port before the line was opened. */
  base: number;
  /** Monotonic ms of the last drop. */
  at: number;
}

export interface Drops {
  /** Adds current drops to the state of a line. */
  withDrops(lineId: string, state: LineState): LineState;
  stop(): void;
}

/** Returns the port on which packets may be dropped; null for a stream, which is held up instead. */
const packetPort = ({ row }: Watched): number | null =>
  row.kind === 'osc-udp' || row.kind === 'artnet' || row.kind === 'sacn' ? row.listenPort : null;

const inWords = (count: number): string => count.toLocaleString('en-GB');

/** @param changed is called when the state of a line has to be reported again */
export function watchDrops(lines: () => readonly (Watched | undefined)[], changed: () => void): Drops {
  const seen = new Map<string, Seen>();

  function lookAt(line: Watched, system: number, now: number): boolean {
    const known = seen.get(line.id);
    const here = line.intake.dropped();
    if (known?.line !== line) {
      seen.set(line.id, { line, here, system, base: system, at: here > 0 ? now : -Infinity });
      return here > 0;
    }
    const more = here > known.here || system > known.system;
    // Reported once more when it is over.
    const over = !more && now - known.at > SAID_MS && now - known.at <= SAID_MS + LOOK_MS * 2;
    known.here = here;
    known.system = system;
    if (more) known.at = now;
    return more || over;
  }

  function look(drops: ReadonlyMap<number, number>): void {
    const now = performance.now();
    let isOther = false;
    for (const line of lines())
      if (line && lookAt(line, drops.get(packetPort(line) ?? -1) ?? 0, now)) isOther = true;
    if (isOther) changed();
  }

  const timer = setInterval(() => void kernelDrops().then(look), LOOK_MS);
  timer.unref();
  return {
    withDrops(lineId, state) {
      const known = seen.get(lineId);
      if (!known || performance.now() - known.at > SAID_MS || state.state !== 'open') return state;
      const bySystem = known.system - known.base;
      const of = bySystem > 0 ? `, ${inWords(bySystem)} of them by the system` : '';
      const all = inWords(known.here + bySystem);
      return {
        ...state,
        trouble: `Too much input: ${all} messages were dropped${of}. Other lines are not affected.`,
      };
    },
    stop: () => clearInterval(timer),
  };
}
